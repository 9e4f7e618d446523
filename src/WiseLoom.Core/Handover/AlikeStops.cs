using System.Collections.Immutable;
using System.Text.RegularExpressions;

namespace WiseLoom.Core.Handover;

/// <summary>Connectors that share one drawing and one table: of one housing, with the same cavities wired for the same kind of thing, and of one name but for its number.</summary>
/// <param name="Stops">In walking order; one alone for a connector that has no like.</param>
internal sealed partial record AlikeStops(ImmutableArray<WalkStop> Stops)
{
    /// <summary>Fewer than this are told one by one.</summary>
    private const int Least = 3;

    /// <summary>A walk in groups; a group stands where its first connector does.</summary>
    internal static ImmutableArray<AlikeStops> Of(ImmutableArray<WalkStop> walk) =>
    [
        .. walk.GroupBy(Likeness, StringComparer.Ordinal).SelectMany(g => g.Count() >= Least ? [new AlikeStops([.. g])] : g.Select(s => new AlikeStops([s]))).OrderBy(a => a.Stops[0].Number),
    ];

    private static string Likeness(WalkStop stop) =>
        $"{stop.Connector.Family.Id}|{Numbers().Replace(stop.Connector.Title, "#")}|{stop.Connector.Unlock}|{stop.Connector.Note}|{string.Join(',', stop.Pins.Select(p => $"{p.Cavity}{p.Kind}{p.Wires.IsEmpty}"))}";

    [GeneratedRegex(@"\d+")]
    private static partial Regex Numbers();
}
