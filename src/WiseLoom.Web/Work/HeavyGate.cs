using System.Globalization;
using Microsoft.AspNetCore.WebUtilities;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Work;

/// <summary>Says of an endpoint that it may take long on a large loom, and what it does, in words for whoever waits.</summary>
internal sealed record Heavy(string What);

internal static class HeavyWork
{
    /// <summary>Puts an endpoint into the queue of heavy work.</summary>
    internal static RouteHandlerBuilder IsHeavy(this RouteHandlerBuilder endpoint, string what) => endpoint.WithMetadata(new Heavy(what));

    /// <summary>Says what heavy work is at.</summary>
    internal static void IsAt(this HttpContext context, string stage)
    {
        if (context.Features.Get<HeavyTicket>() is { } ticket)
        {
            ticket.Stage = stage;
        }
    }
}

/// <summary>Lets heavy requests in one after the other. A turn is held while the work runs and for nothing else: what is sent comes in before it, and what
/// is answered goes out after it, so that a slow line holds up nobody.</summary>
internal sealed class HeavyGate(RequestDelegate next, HeavyQueue queue)
{
    private const int SecondsBeforeNextTry = 5;

    /// <summary>Up to here a body or an answer is kept in memory, then in a file that goes with the request.</summary>
    private const int KeptInMemory = 64 * 1024;

    public async Task InvokeAsync(HttpContext context)
    {
        if (context.GetEndpoint()?.Metadata.GetMetadata<Heavy>() is not { } heavy || context.User.Identity?.IsAuthenticated != true)
        {
            await next(context);
            return;
        }

        // A body that says that it is too large is refused by its endpoint without being read.
        if (context.Request.ContentLength is null or (> 0 and <= BodyLimit.MostBytes) && !HttpMethods.IsGet(context.Request.Method))
        {
            await TakeInAsync(context);
        }

        var ticket = new HeavyTicket(context.User.Id(), heavy.What);
        var turn = await queue.EnterAsync(ticket, context.RequestAborted);
        if (turn != Turn.Come)
        {
            context.Response.Headers.RetryAfter = SecondsBeforeNextTry.ToString(CultureInfo.InvariantCulture);
            await Results.Problem(
                title: turn == Turn.Full ? "The server has its hands full: so much waits already that this would not come to its turn." : "This did not come to its turn in time: others’ work took too long.",
                detail: "Nothing was done. Readings at the bench are not behind this. Try again in a moment.",
                statusCode: StatusCodes.Status503ServiceUnavailable,
                type: "urn:wise-loom:busy").ExecuteAsync(context);
            return;
        }

        var line = context.Response.Body;
        await using var answer = new FileBufferingWriteStream(KeptInMemory);
        try
        {
            context.Features.Set(ticket);
            context.Response.Body = answer;
            await next(context);
            await context.Response.BodyWriter.FlushAsync(context.RequestAborted);
        }
        finally
        {
            context.Response.Body = line;
            queue.Leave(ticket);
        }

        if (!context.Response.HasStarted)
        {
            context.Response.ContentLength ??= answer.Length == 0 ? null : answer.Length;
        }

        await answer.DrainBufferAsync(line, context.RequestAborted);
    }

    private static async Task TakeInAsync(HttpContext context)
    {
        context.Request.EnableBuffering(KeptInMemory);
        var buffer = new byte[81920];
        for (long seen = 0; seen <= BodyLimit.MostBytes;)
        {
            var read = await context.Request.Body.ReadAsync(buffer, context.RequestAborted);
            seen += read;
            if (read == 0)
            {
                break;
            }
        }

        context.Request.Body.Position = 0;
    }
}
