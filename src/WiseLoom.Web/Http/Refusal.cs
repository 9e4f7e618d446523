using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Runs;

namespace WiseLoom.Web.Http;

/// <summary>Errors as RFC 9457 problem details, each with the place of what is wrong.</summary>
internal static class Refusal
{
    /// <summary>What came in cannot be taken as it is; nothing was stored.</summary>
    internal static ProblemHttpResult Because(string title, IEnumerable<Problem> problems, int status = StatusCodes.Status422UnprocessableEntity) =>
        TypedResults.Problem(title: title, statusCode: status, extensions: new Dictionary<string, object?> { ["problems"] = ProblemList.Shown([.. problems]) });

    internal static ProblemHttpResult Field(string at, string message) => Because("This cannot be taken as it is.", [new(at, message)]);

    /// <summary>A loom is larger than what this is done for.</summary>
    internal static ProblemHttpResult TooLarge(string why) => TypedResults.Problem(title: why, statusCode: StatusCodes.Status422UnprocessableEntity, type: "urn:wise-loom:too-large");

    internal static ProblemHttpResult Forbidden(string title) => TypedResults.Problem(title: title, statusCode: StatusCodes.Status403Forbidden);

    internal static ProblemHttpResult NotFound(string what) => TypedResults.Problem(title: $"There is no such {what}.", statusCode: StatusCodes.Status404NotFound);

    /// <param name="type">A name by which a page can tell this conflict from others; null for none.</param>
    internal static ProblemHttpResult Conflict(string title, string? type = null) => TypedResults.Problem(title: title, statusCode: StatusCodes.Status409Conflict, type: type);

    /// <summary>Why something asked of a run was not done; null when it was, now or before.</summary>
    internal static ProblemHttpResult? Of(Decision decision) => decision switch
    {
        Decision.Wrong wrong => Field(wrong.At, wrong.Words),
        Decision.Conflict conflict => Conflict(conflict.Words),
        _ => null,
    };

    /// <summary>The same in words only.</summary>
    internal static string? Words(Decision decision) => decision switch
    {
        Decision.Wrong wrong => wrong.Words,
        Decision.Conflict conflict => conflict.Words,
        _ => null,
    };
}
