using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Handover;

/// <summary>One row of a connector's pin table.</summary>
/// <param name="Wires">Ids of the wires in the cavity; empty for a spare or blanked one.</param>
/// <param name="Colours">Colours of those wires.</param>
/// <param name="Section">Copper sections, <c>0.5 mm²</c>.</param>
/// <param name="GoesTo">Where the wires lead; through a splice, every place beyond it.</param>
/// <param name="Function">What the circuit is for.</param>
/// <param name="Kind">Feed, ground, signal, … or <c>blanked</c>, <c>empty</c>.</param>
/// <param name="Reads">What a meter should show and to where; empty for a cavity without a wire.</param>
public sealed record PinRow(
    string Cavity,
    ImmutableArray<string> Wires,
    ImmutableArray<WireColour> Colours,
    string Section,
    string GoesTo,
    string Function,
    string Kind,
    string Reads);

/// <summary>One connector of the walk.</summary>
/// <param name="Number">Its place in the walk, from 1.</param>
/// <param name="PlugsInto">Titles of the devices it meets; empty when the file names none.</param>
/// <param name="FromStartMm">Where its branch leaves the trunk.</param>
/// <param name="OffTrunkMm">How far it is from the trunk.</param>
/// <param name="Pins">A row for each cavity, in the order of their names.</param>
public sealed record WalkStop(
    int Number,
    Connector Connector,
    ImmutableArray<string> PlugsInto,
    double FromStartMm,
    double OffTrunkMm,
    FaceLayout MatingFace,
    FaceLayout WireSide,
    ImmutableArray<PinRow> Pins)
{
    /// <summary>All connectors in walking order.</summary>
    /// <param name="ambientC">Temperature that the expected values hold for, degrees Celsius.</param>
    /// <param name="copper">How far the copper may be from its drawing.</param>
    /// <param name="withReadings">Whether each pin says what it should read; it takes solving every net.</param>
    /// <param name="only">Refs of the connectors to give; null for all. Each keeps its number in the walk.</param>
    public static ImmutableArray<WalkStop> Of(Loom loom, double ambientC, CopperTolerance copper, bool withReadings = true, IReadOnlyCollection<string>? only = null)
    {
        var tree = new TrunkTree(loom);
        var table = ExpectationTable.For(loom, ambientC, copper);
        var survey = new Survey(loom, table);
        return [.. tree.WalkingOrder().Select((c, i) => (c, i)).Where(x => only?.Contains(x.c.Ref) != false).Select(x =>
        {
            var (connector, i) = x;
            var place = tree.Place(connector);
            return new WalkStop(
                i + 1,
                connector,
                [.. loom.DevicesOn(connector.Ref).Select(d => d.Title)],
                place.TrunkMm,
                place.OffTrunkMm,
                FaceLayout.Of(connector.Family, FaceSide.MatingFace),
                FaceLayout.Of(connector.Family, FaceSide.WireSide),
                [.. connector.Family.Cavities.Order(NaturalOrder.Comparer).Select(c => Pin(loom, table, survey, connector, c, withReadings))]);
        })];
    }

    private static PinRow Pin(Loom loom, ExpectationTable table, Survey survey, Connector connector, string cavity, bool withReadings)
    {
        var point = new ProbePoint(connector.Ref, cavity);
        ImmutableArray<Wire> wires = [.. loom.WiresAt(point)];
        if (wires.IsEmpty || table.Graph.NetOf(point) is not { } net)
        {
            return new(cavity, [], [], "", "", "", connector.Blanked.Contains(cavity) ? Words.Text("blanked") : Words.Text("empty"), "");
        }

        return new(
            cavity,
            [.. wires.Select(w => w.Id)],
            [.. wires.Select(w => w.Colour)],
            string.Join(", ", wires.Select(w => w.SectionInWords()).Distinct()),
            string.Join("; ", wires.Select(w => Destination(w, point, net))),
            string.Join("; ", wires.Select(w => w.Circuit).OfType<string>().Distinct()),
            wires.Select(w => w.Role).FirstOrDefault(r => r is not null) is { } role ? Words.Text(role.ToString().ToLowerInvariant()) : "",
            withReadings ? Reads(point, net, survey) : "");
    }

    private static string Destination(Wire wire, ProbePoint here, Net net)
    {
        var far = wire.From.Text == here.ToString() ? wire.To : wire.From;
        if (!far.IsSplice)
        {
            return far.Text;
        }

        var others = net.Points.Where(p => p != here).Select(p => p.ToString()).ToList();
        return Words.Of($"splice {far.Text}: {string.Join(", ", others.Take(6))}") + (others.Count > 6 ? Words.Of($" and {others.Count - 6} more") : "");
    }

    private static string Reads(ProbePoint point, Net net, Survey survey)
    {
        var hub = survey.Hub(net);
        var other = hub != point ? hub : net.Points.Where(p => p != point).OrderBy(survey.Rank).Cast<ProbePoint?>().FirstOrDefault();
        return other is { } to ? Words.Of($"{Say.Ohms(net.Between(point, to).Nominal)} to {to}") : Words.Text("ends here");
    }
}
