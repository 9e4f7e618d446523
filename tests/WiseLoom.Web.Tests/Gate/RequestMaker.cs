using System.Collections;
using System.Reflection;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.AspNetCore.Routing;

namespace WiseLoom.Web.Tests.Gate;

/// <summary>A request that somebody may send.</summary>
/// <param name="Route">Of the endpoint, as <c>METHOD /path/{id}</c>.</param>
internal sealed record WalkRequest(string Route, HttpMethod Method, string Path, string? Body);

/// <summary>What a maker of requests knows of the job at hand; what it does not know it makes up.</summary>
/// <param name="Ids">Value of <c>{id}</c> by the path's second part: jobs, runs, drafts, packs.</param>
/// <param name="Named">Values that fields of a name take, any of them.</param>
internal sealed record Known(IReadOnlyDictionary<string, long> Ids, IReadOnlyDictionary<string, JsonNode?[]> Named);

/// <summary>Every endpoint that changes a job, found from the route table, with bodies made from the types that it accepts: a new endpoint is in it by itself.</summary>
internal sealed partial class RequestMaker(EndpointDataSource routes, Random random)
{
    private static readonly string[] Words = ["no plug at hand", "known and harmless", "reads wrong", "Mira"];

    /// <summary>Endpoints with a method of change whose path names a job, or something of one.</summary>
    internal IReadOnlyList<RouteEndpoint> Endpoints { get; } =
        [.. routes.Endpoints.OfType<RouteEndpoint>().Where(e => Changes().IsMatch(e.RoutePattern.RawText ?? "") && Method(e) != HttpMethod.Get)];

    internal static string RouteOf(RouteEndpoint endpoint) => $"{Method(endpoint)} {endpoint.RoutePattern.RawText}";

    internal WalkRequest Make(RouteEndpoint endpoint, Known known)
    {
        var raw = endpoint.RoutePattern.RawText!;
        var inRoute = endpoint.RoutePattern.Parameters.Select(p => p.Name).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var path = Parameter().Replace(raw, m => m.Groups[1].Value == "id" ? $"{known.Ids.GetValueOrDefault(raw.Split('/')[2], 999_999)}" : Text(Value(TypeOf(endpoint, m.Groups[1].Value), m.Groups[1].Value, known, 0)));
        var query = endpoint.Metadata.GetMetadata<MethodInfo>()?.GetParameters().Where(p => IsSimple(p.ParameterType) && !inRoute.Contains(p.Name!)).Select(p => $"{p.Name}={Uri.EscapeDataString(Text(Value(p.ParameterType, p.Name!, known, 0)))}").ToList() ?? [];
        var body = endpoint.Metadata.GetMetadata<IAcceptsMetadata>()?.RequestType;
        return new(RouteOf(endpoint), Method(endpoint), query.Count > 0 ? $"{path}?{string.Join('&', query)}" : path, body is null ? null : Value(body, "", known, 0)?.ToJsonString() ?? "null");
    }

    private static Type TypeOf(RouteEndpoint endpoint, string parameter) =>
        endpoint.Metadata.GetMetadata<MethodInfo>()?.GetParameters().FirstOrDefault(p => p.Name == parameter)?.ParameterType ?? typeof(string);

    private static HttpMethod Method(RouteEndpoint e) => new(e.Metadata.GetMetadata<IHttpMethodMetadata>()?.HttpMethods[0] ?? "GET");

    private static string Text(JsonNode? value) => value is JsonValue text && text.TryGetValue<string>(out var plain) ? plain : value?.ToJsonString() ?? "";

    private static bool IsSimple(Type type) => (Nullable.GetUnderlyingType(type) ?? type) is { } t && (t.IsPrimitive || t == typeof(string) || t == typeof(Guid) || t == typeof(DateTimeOffset) || t.IsEnum);

    private JsonNode? Value(Type type, string name, Known known, int depth)
    {
        var camel = JsonNamingPolicy.CamelCase.ConvertName(name);
        if (known.Named.TryGetValue(camel, out var choices) && choices.Length > 0)
        {
            return choices[random.Next(choices.Length)]?.DeepClone();
        }

        var plain = Nullable.GetUnderlyingType(type) ?? type;
        if (plain != type && random.Next(2) == 0)
        {
            return null;
        }

        return plain == typeof(string) ? Words[random.Next(Words.Length)]
            : plain == typeof(bool) ? random.Next(2) == 0
            : plain == typeof(Guid) ? Guid.CreateVersion7().ToString()
            : plain == typeof(DateTimeOffset) ? DateTimeOffset.UtcNow
            : plain == typeof(double) ? (double)random.Next(100)
            : plain == typeof(int) || plain == typeof(long) ? random.Next(10)
            : plain.IsEnum ? JsonNamingPolicy.KebabCaseLower.ConvertName(Enum.GetNames(plain)[random.Next(Enum.GetNames(plain).Length)])
            : depth > 4 ? null
            : Items(plain) is { } item ? new JsonArray([.. Enumerable.Range(0, random.Next(3)).Select(_ => Value(item, name.TrimEnd('s'), known, depth + 1))])
            : plain.GetCustomAttributes<JsonDerivedTypeAttribute>().ToList() is [_, ..] kinds ? Kind(kinds[random.Next(kinds.Count)], known, depth)
            : Record(plain, known, depth);
    }

    private JsonObject Kind(JsonDerivedTypeAttribute kind, Known known, int depth)
    {
        var made = Record(kind.DerivedType, known, depth);
        made.Insert(0, "kind", (string)kind.TypeDiscriminator!);
        return made;
    }

    private JsonObject Record(Type type, Known known, int depth) =>
        new((type.GetConstructors().OrderByDescending(c => c.GetParameters().Length).FirstOrDefault()?.GetParameters() ?? []).Select(p =>
            KeyValuePair.Create(JsonNamingPolicy.CamelCase.ConvertName(p.Name!), Value(p.ParameterType, p.Name!, known, depth + 1))));

    private static Type? Items(Type type) => type.IsArray ? type.GetElementType()
        : type.IsGenericType && typeof(IEnumerable).IsAssignableFrom(type) && type.GetGenericArguments() is [var one] ? one : null;

    [System.Text.RegularExpressions.GeneratedRegex(@"^/api/(jobs|runs|drafts|packs)/\{id")]
    private static partial System.Text.RegularExpressions.Regex Changes();

    [System.Text.RegularExpressions.GeneratedRegex(@"\{(\w+)(?::\w+)?\}")]
    private static partial System.Text.RegularExpressions.Regex Parameter();
}
