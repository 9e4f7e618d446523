using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Pinouts;

/// <summary>A plug that a pinout names.</summary>
/// <param name="Family">Its housing; null when nobody has said yet.</param>
public sealed record PinoutConnector(string Ref, string Title, ConnectorFamily? Family);

/// <summary>One cavity of a pinout.</summary>
/// <param name="Function">What it is for, in the words of the sheet; empty when the sheet does not say.</param>
/// <param name="Role">What kind of circuit it is; worked out from direction and words by <see cref="PinRoles"/>.</param>
/// <param name="Colour">Wire colour as written; empty when not given.</param>
/// <param name="Section">Copper section as written, <c>0.5 mm²</c>; empty when not given.</param>
public sealed record PinoutLine(ProbePoint Place, string Function, PinRole Role, string Colour, string Section, string Note);

/// <summary>What stands in which cavity: of a sheet in the pinout book, or of a loom.</summary>
public sealed record Pinout(string Title, ImmutableArray<PinoutConnector> Connectors, ImmutableArray<PinoutLine> Lines)
{
    /// <summary>The line of a cavity; null when the pinout says nothing about it.</summary>
    public PinoutLine? At(ProbePoint place) => Lines.FirstOrDefault(l => l.Place == place);

    /// <summary>The pinout of a loom: each wired cavity with the circuits of its wires.</summary>
    /// <param name="only">Refs of the connectors to take; null for all.</param>
    public static Pinout Of(Loom loom, IReadOnlyCollection<string>? only = null)
    {
        ArgumentNullException.ThrowIfNull(loom);
        var connectors = loom.Connectors.Where(c => only?.Contains(c.Ref) != false).ToList();
        var lines =
            from connector in connectors
            from cavity in connector.Family.Cavities
            let place = new ProbePoint(connector.Ref, cavity)
            let wires = loom.WiresAt(place).ToList()
            where wires.Count > 0
            let function = string.Join("; ", wires.Select(w => w.Circuit).OfType<string>().Distinct())
            select new PinoutLine(place, function, PinRoles.Of(function, Word(wires)), string.Join(" ", wires.Select(w => w.Colour.Text).Where(t => t.Length > 0).Distinct()), string.Join(", ", wires.Select(w => w.Section.ToString()).Distinct()), "");
        return new($"{loom.Name} {loom.Revision}", [.. connectors.Select(c => new PinoutConnector(c.Ref, c.Title, c.Family))], [.. lines]);
    }

    private static string Word(List<Wire> wires) => wires.Select(w => w.Role).FirstOrDefault(r => r is not null) switch
    {
        WireRole.Feed => "supply",
        WireRole.Ground => "ground",
        WireRole.Drive => "output",
        WireRole.Network => "network",
        WireRole.Shield => "shield",
        WireRole.Signal => "input",
        _ => "",
    };
}
