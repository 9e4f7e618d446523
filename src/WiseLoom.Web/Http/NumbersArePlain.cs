using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace WiseLoom.Web.Http;

/// <summary>Describes numbers as numbers: without this, the description allows them as text too, and a typed client has to check each.</summary>
internal sealed class NumbersArePlain : IOpenApiSchemaTransformer
{
    public Task TransformAsync(OpenApiSchema schema, OpenApiSchemaTransformerContext context, CancellationToken cancellationToken)
    {
        if (schema.Type is { } type && (type & (JsonSchemaType.Number | JsonSchemaType.Integer)) != 0 && (type & JsonSchemaType.String) != 0)
        {
            schema.Type = type & ~JsonSchemaType.String;
            schema.Pattern = null;
        }

        return Task.CompletedTask;
    }
}
