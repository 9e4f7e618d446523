using WiseLoom.Core.Shop;

namespace WiseLoom.Web.People;

/// <summary>An endpoint that is asked by a method of change but changes nothing of the shop's: it works something out, or is about one's own session.</summary>
internal sealed class ChangesNothing;

/// <summary>Who may only look changes nothing.</summary>
internal sealed class RightsCheck(RequestDelegate next, RefusedRights refused)
{
    public async Task InvokeAsync(HttpContext context)
    {
        var method = context.Request.Method;
        if (context.User.IsInRole(Role.Look) && !HttpMethods.IsGet(method) && !HttpMethods.IsHead(method) && context.GetEndpoint() is { } endpoint
            && endpoint.Metadata.GetMetadata<ChangesNothing>() is null)
        {
            await refused.NoteAsync(context);
            await Results.Problem(title: "You look on here: nothing was changed.", detail: "A lead can give you the role of a technician.", statusCode: StatusCodes.Status403Forbidden).ExecuteAsync(context);
            return;
        }

        await next(context);
    }
}
