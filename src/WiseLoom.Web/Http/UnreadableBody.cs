using Microsoft.AspNetCore.Diagnostics;

namespace WiseLoom.Web.Http;

/// <summary>An entry of several kinds that does not say which one it is: the reader of JSON gives up on it with an error of its own, which is the sender's.</summary>
internal sealed class UnreadableBody : IExceptionHandler
{
    private const string JsonReader = "System.Text.Json";

    /// <inheritdoc/>
    public async ValueTask<bool> TryHandleAsync(HttpContext httpContext, Exception exception, CancellationToken cancellationToken)
    {
        if (exception is not NotSupportedException { Source: JsonReader } || HttpMethods.IsGet(httpContext.Request.Method))
        {
            return false;
        }

        await TypedResults.Problem(title: "What was sent cannot be read: an entry that can be of several kinds does not say in “kind” which one it is.", statusCode: StatusCodes.Status400BadRequest).ExecuteAsync(httpContext);
        return true;
    }
}
