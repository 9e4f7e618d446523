using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Web.Http;

/// <summary>Errors as RFC 9457 problem details, each with the place of what is wrong.</summary>
internal static class Refusal
{
    /// <summary>What came in cannot be taken as it is; nothing was stored.</summary>
    internal static ProblemHttpResult Because(string title, IEnumerable<Problem> problems, int status = StatusCodes.Status422UnprocessableEntity) =>
        TypedResults.Problem(title: title, statusCode: status, extensions: new Dictionary<string, object?> { ["problems"] = problems });

    internal static ProblemHttpResult Field(string at, string message) => Because("This cannot be taken as it is.", [new(at, message)]);

    internal static ProblemHttpResult NotFound(string what) => TypedResults.Problem(title: $"There is no such {what}.", statusCode: StatusCodes.Status404NotFound);

    internal static ProblemHttpResult Conflict(string title) => TypedResults.Problem(title: title, statusCode: StatusCodes.Status409Conflict);
}
