using System.Collections.Immutable;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Pinouts;

namespace WiseLoom.Core.Intake;

/// <summary>A loom that came out of papers as a sheet of the pinout book: what each cavity is for, by the functions and colours of its wires.</summary>
public static class PaperSheet
{
    /// <summary>The sheet; null for a loom with more cavities than a sheet has lines.</summary>
    public static Sheet? Of(Loom loom, string title)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(title);
        var wires = loom.Wires.SelectMany(w => new[] { w.From, w.To }.Where(e => !e.IsSplice).Select(e => (e.Point, Wire: w))).ToLookup(x => x.Point, x => x.Wire);
        var cavities = wires.Select(g => g.Key).ToLookup(p => p.Connector, StringComparer.Ordinal);
        var lines = loom.Connectors.SelectMany(c => cavities[c.Ref].OrderBy(p => p.Cavity, NaturalOrder.Comparer).Select(p => Line(p, wires[p].First()))).ToImmutableArray();
        return lines.Length <= Sheet.MostLines
            ? new(Short(title, 120), [.. loom.Connectors.Select(c => new SheetConnector(c.Ref, Short(c.Title, 120), ""))], lines)
            : null;
    }

    private static SheetLine Line(ProbePoint at, Wire wire) =>
        new(at.Connector, at.Cavity, Short(wire.Circuit ?? "", 200), "", wire.Colour.Text, wire.SectionRange is null ? wire.Section.InWords() : "", "");

    private static string Short(string text, int most) => text.Length <= most ? text : text[..most];
}
