using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;
using WiseLoom.Core.Looms;

namespace WiseLoom.Web.Http;

/// <summary>A cavity travels as text, <c>ECU:17</c>; the description says so.</summary>
internal sealed class PlacesAreText : IOpenApiSchemaTransformer
{
    public Task TransformAsync(OpenApiSchema schema, OpenApiSchemaTransformerContext context, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(schema);
        ArgumentNullException.ThrowIfNull(context);
        if (context.JsonTypeInfo.Type == typeof(ProbePoint))
        {
            (schema.Type, schema.Properties, schema.Required) = (JsonSchemaType.String, null, null);
        }

        return Task.CompletedTask;
    }
}
