using System.Collections.Immutable;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Shop;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.Meters;

/// <summary>At which ports a meter may be, and in which forms meters usually send.</summary>
internal sealed record MeterWaysView(ImmutableArray<string> Ports, ImmutableArray<int> Bauds, ImmutableArray<UsualForm> Forms);

/// <summary>Lines of a meter to be read by a pattern.</summary>
internal sealed record LinesRequest(LinePattern Pattern, ImmutableArray<string> Lines);

/// <summary>What a line says.</summary>
/// <param name="Reads">In words; null when it says nothing.</param>
/// <param name="Wrong">Why it says nothing, in words.</param>
internal sealed record LineView(string Line, string? Reads, string? Wrong);

/// <summary>What a lead needs to enter a meter that is at a serial port.</summary>
internal static class MeterWayEndpoints
{
    private const int MostLines = 50, LongestLine = 200;

    internal static void MapMeterWays(this RouteGroupBuilder api)
    {
        api.MapGet("/instruments/ways", (SerialPorts ports) => new MeterWaysView(ports.Names(), SerialWay.Bauds, LinePattern.Usual)).RequireAuthorization(Role.Lead)
            .WithSummary("The server's serial ports, and the usual forms of lines; a lead's");
        api.MapPost("/instruments/lines", Read).RequireAuthorization(Role.Lead).WithSummary("Try a line pattern on lines that were captured; nothing is stored; a lead's");
    }

    private static Results<Ok<ImmutableArray<LineView>>, ProblemHttpResult> Read(LinesRequest request)
    {
        ImmutableArray<Problem> problems =
        [
            .. request.Pattern.Problems().Select(p => p with { At = "/pattern" + p.At }),
            .. request.Lines.IsDefault || request.Lines.Length > MostLines || request.Lines.Any(l => l is null || l.Length > LongestLine)
                ? [new Problem("/lines", $"At most {MostLines} lines, each of at most {LongestLine} characters.")] : ImmutableArray<Problem>.Empty,
        ];
        return problems.IsEmpty
            ? TypedResults.Ok(request.Lines.Where(l => !string.IsNullOrWhiteSpace(l)).Select(l => Of(l, request.Pattern.Read(l))).ToImmutableArray())
            : Refusal.Because("These lines cannot be read so.", problems);
    }

    private static LineView Of(string line, LineReading read) => new(LinePattern.Shown(line), read.Reading?.InWords(), read.Wrong);
}
