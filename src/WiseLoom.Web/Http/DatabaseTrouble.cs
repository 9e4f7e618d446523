using Microsoft.AspNetCore.Diagnostics;
using Npgsql;

namespace WiseLoom.Web.Http;

/// <summary>What a person is told when the database is away, or will not keep a value: in words, and without a stack in the log for each request.</summary>
internal sealed partial class DatabaseTrouble(ILogger<DatabaseTrouble> log) : IExceptionHandler
{
    private const int SecondsBeforeNextTry = 2;

    /// <inheritdoc/>
    public async ValueTask<bool> TryHandleAsync(HttpContext httpContext, Exception exception, CancellationToken cancellationToken)
    {
        if (exception is OperationCanceledException && httpContext.RequestAborted.IsCancellationRequested)
        {
            httpContext.Response.StatusCode = StatusCodes.Status499ClientClosedRequest;
            return true;
        }

        if (Trouble(exception) is not { } trouble)
        {
            return false;
        }

        if (trouble is PostgresException { SqlState: PostgresErrorCodes.CharacterNotInRepertoire or PostgresErrorCodes.UntranslatableCharacter or PostgresErrorCodes.NumericValueOutOfRange })
        {
            await TypedResults.Problem(title: "This holds something that cannot be kept: a sign that no text can have, or a number beyond all use. Nothing was stored.", statusCode: StatusCodes.Status422UnprocessableEntity)
                .ExecuteAsync(httpContext);
            return true;
        }

        if (trouble is PostgresException { IsTransient: false } other && !other.SqlState.StartsWith("57", StringComparison.Ordinal) && !other.SqlState.StartsWith("08", StringComparison.Ordinal))
        {
            return false;
        }

        Away(log, trouble.Message.Split('\n')[0]);
        httpContext.Response.Headers.RetryAfter = SecondsBeforeNextTry.ToString(System.Globalization.CultureInfo.InvariantCulture);
        await TypedResults.Problem(
            title: "The database does not answer at the moment. Nothing of this was stored, unless it was stored before; what the page keeps is sent again by itself.",
            statusCode: StatusCodes.Status503ServiceUnavailable,
            type: "urn:wise-loom:database-away").ExecuteAsync(httpContext);
        return true;
    }

    private static NpgsqlException? Trouble(Exception? exception)
    {
        for (; exception is not null; exception = exception.InnerException)
        {
            if (exception is NpgsqlException found)
            {
                return found;
            }
        }

        return null;
    }

    [LoggerMessage(LogLevel.Warning, "The database does not answer: {Why}")]
    private static partial void Away(ILogger log, string why);
}
