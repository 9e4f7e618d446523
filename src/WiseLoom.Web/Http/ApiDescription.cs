using System.Globalization;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace WiseLoom.Web.Http;

/// <summary>Completes the description of the API: where it is served, who may call it, what each operation is called, and how it refuses.</summary>
internal sealed class ApiDescription : IOpenApiDocumentTransformer, IOpenApiOperationTransformer
{
    private const string Session = "session", Token = "token", Endpoints = "Endpoints";

    private static readonly Dictionary<string, string> Features = new(StringComparer.Ordinal)
    {
        ["Session"] = "Signing in and out, and who works here.",
        ["Job"] = "Jobs: what stage each is in and what holds it.",
        ["Loom"] = "Looms as they are read, and files that bring them in.",
        ["Draft"] = "Looms as they are being written.",
        ["Revision"] = "Revisions of a loom and what differs between them.",
        ["State"] = "What a loom shows in each key position, and what its cable carries.",
        ["Sensor"] = "Sensors, their curves and gauges.",
        ["Library"] = "Connector families, device types, colours, words.",
        ["Limit"] = "The figures that the shop judges by.",
        ["Sheet"] = "The pinout book.",
        ["Loose"] = "Wires that end in a plug and were cut at the other end.",
        ["Compare"] = "Two pinouts side by side.",
        ["Merge"] = "Two looms made into one.",
        ["Start"] = "Starting a run at the bench.",
        ["Reading"] = "Readings and what they come to.",
        ["Fault"] = "Faults, their causes and fixes.",
        ["Handover"] = "What holds a loom, and the packs that were signed.",
    };

    public Task TransformAsync(OpenApiDocument document, OpenApiDocumentTransformerContext context, CancellationToken cancellationToken)
    {
        document.Info = new()
        {
            Title = "Wise Loom",
            Version = "1",
            Description = "Looms, runs at the bench, faults and handover packs of a harness shop. Errors are RFC 9457 problem details; what is wrong with a body stands in `problems`, each with its place.",
            License = new() { Name = "All rights reserved by the shop that runs it", Identifier = "LicenseRef-shop" },
        };
        document.Servers = [new() { Url = "/", Description = "The server that this description came from" }];
        document.Components ??= new();
        document.Components.SecuritySchemes = new Dictionary<string, IOpenApiSecurityScheme>
        {
            [Session] = new OpenApiSecurityScheme { Type = SecuritySchemeType.ApiKey, In = ParameterLocation.Cookie, Name = "wise-loom", Description = "Set by signing in." },
            [Token] = new OpenApiSecurityScheme { Type = SecuritySchemeType.ApiKey, In = ParameterLocation.Header, Name = "X-Wise-Loom-Token", Description = "The token of the session, which every change must carry." },
        };
        document.Tags = Features.Select(f => new OpenApiTag { Name = f.Key, Description = f.Value }).ToHashSet();
        return Task.CompletedTask;
    }

    public Task TransformAsync(OpenApiOperation operation, OpenApiOperationTransformerContext context, CancellationToken cancellationToken)
    {
        var (method, path) = (context.Description.HttpMethod ?? "GET", context.Description.RelativePath ?? "");
        operation.OperationId = Name(method, path);
        operation.Tags = (operation.Tags ?? new HashSet<OpenApiTagReference>()).Select(t => new OpenApiTagReference((t.Name ?? "").Replace(Endpoints, "", StringComparison.Ordinal), context.Document)).ToHashSet();
        operation.Responses ??= [];
        operation.Responses.TryAdd("4XX", new OpenApiResponse
        {
            Description = "Refused, in words; nothing was stored.",
            Content = new Dictionary<string, OpenApiMediaType> { ["application/problem+json"] = new() { Schema = new OpenApiSchema { Type = JsonSchemaType.Object } } },
        });
        var open = context.Description.ActionDescriptor.EndpointMetadata.OfType<IAllowAnonymous>().Any();
        var needs = new OpenApiSecurityRequirement();
        if (!open)
        {
            needs[new OpenApiSecuritySchemeReference(Session, context.Document)] = [];
        }

        if (method != HttpMethods.Get)
        {
            needs[new OpenApiSecuritySchemeReference(Token, context.Document)] = [];
        }

        operation.Security = [needs];
        return Task.CompletedTask;
    }

    /// <summary><c>POST /api/jobs/{id}/runs</c> is <c>postJobsIdRuns</c>.</summary>
    private static string Name(string method, string path)
    {
        var words = path.Split('/', '-', '.').Skip(1).Select(p => p.Trim('{', '}').Split(':')[0]).Where(p => p.Length > 0);
        return method.ToLowerInvariant() + string.Concat(words.Select(w => char.ToUpper(w[0], CultureInfo.InvariantCulture) + w[1..]));
    }
}
