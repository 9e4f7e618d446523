using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;

namespace WiseLoom.Web.Http;

/// <summary>Versions of things that can be edited, as ETag and If-Match carry them.</summary>
internal static class EntityVersion
{
    internal static void Tell(HttpContext context, int version) => context.Response.Headers.ETag = string.Create(CultureInfo.InvariantCulture, $"\"{version}\"");

    /// <summary>The version that the sender changed; null when the request does not say.</summary>
    internal static int? Asked(HttpContext context) =>
        int.TryParse(context.Request.Headers.IfMatch.ToString().Trim('"'), NumberStyles.None, CultureInfo.InvariantCulture, out var version) ? version : null;

    internal static ProblemHttpResult Missing(string what) =>
        TypedResults.Problem(title: $"If-Match is missing: say which version of the {what} you changed.", statusCode: StatusCodes.Status428PreconditionRequired);

    /// <summary>Somebody else was faster; what it is now comes along.</summary>
    internal static ProblemHttpResult Overtaken(string what, object? now = null) => TypedResults.Problem(
        title: $"Somebody else changed this {what} in the meantime. Nothing of yours was stored.",
        statusCode: StatusCodes.Status412PreconditionFailed,
        extensions: new Dictionary<string, object?> { ["now"] = now });
}
