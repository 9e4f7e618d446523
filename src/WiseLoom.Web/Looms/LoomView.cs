using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;

namespace WiseLoom.Web.Looms;

/// <summary>A wire's colours: the code, the words, and each stripe for the screen.</summary>
internal sealed record ColourView(string Text, string Spoken, ImmutableArray<string> Stripes)
{
    internal static ColourView Of(WireColour colour) => new(colour.Text, colour.Spoken, [.. colour.Stripes]);
}

internal sealed record StemMarkView(string Id, string Kind, double At);

internal sealed record StemView(double TrunkMm, double TagWidth, int Lanes, ImmutableArray<StemTag> Tags, ImmutableArray<StemMarkView> Marks)
{
    internal static StemView Of(Loom loom)
    {
        var stem = StemLayout.Of(loom);
        return new(stem.TrunkMm, stem.TagWidth, stem.Lanes, stem.Tags, [.. stem.Marks.Select(m => new StemMarkView(m.Id, m.Kind, m.At))]);
    }
}

internal sealed record PinView(string Cavity, ImmutableArray<string> Wires, ImmutableArray<ColourView> Colours, string Section, string GoesTo, string Function, string Kind, string Reads);

internal sealed record ConnectorView(
    int Number,
    string Ref,
    string Title,
    string FamilyId,
    string Family,
    HousingKind Housing,
    bool Sealed,
    string? Keying,
    string? Place,
    string? Unlock,
    string? IfLeftOff,
    string? Note,
    ImmutableArray<string> PlugsInto,
    double AlongMm,
    double OffMm,
    FaceLayout MatingFace,
    FaceLayout WireSide,
    ImmutableArray<PinView> Pins)
{
    internal static ConnectorView Of(WalkStop stop)
    {
        var c = stop.Connector;
        return new(
            stop.Number,
            c.Ref,
            c.Title,
            c.Family.Id,
            c.Family.Title,
            c.Family.Kind,
            c.Family.Sealed,
            c.Family.Keying,
            c.Place,
            c.Unlock,
            c.IfLeftOff,
            c.Note,
            stop.PlugsInto,
            stop.FromStartMm,
            stop.OffTrunkMm,
            stop.MatingFace,
            stop.WireSide,
            [.. stop.Pins.Select(p => new PinView(p.Cavity, p.Wires, [.. p.Colours.Select(ColourView.Of)], p.Section, p.GoesTo, p.Function, p.Kind, p.Reads))]);
    }
}

internal sealed record WireView(string Id, string From, string To, ColourView Colour, string Section, double LengthMm, string Length, string? Circuit, string? Role, string? Group, string Ohms);

/// <summary>One revision as the pages draw it.</summary>
internal sealed record LoomView(
    long RevisionId,
    string Name,
    string Revision,
    double AmbientC,
    double SupplyVolts,
    int Nets,
    int Splices,
    StemView Stem,
    ImmutableArray<ConnectorView> Connectors,
    ImmutableArray<WireView> Wires)
{
    internal static LoomView Of(long revisionId, Loom loom, CopperTolerance copper)
    {
        return new(
            revisionId,
            loom.Name,
            loom.Revision,
            loom.AmbientC,
            loom.SupplyVolts,
            WireGraph.Topology(loom).Nets.Count(n => n.Points.Length > 0),
            loom.Splices.Length,
            StemView.Of(loom),
            [.. WalkStop.Of(loom, loom.AmbientC, copper).Select(ConnectorView.Of)],
            [.. loom.Wires.Select(w => Wire(loom, w, copper))]);
    }

    private static WireView Wire(Loom loom, Wire w, CopperTolerance copper) => new(
        w.Id,
        w.From.Text,
        w.To.Text,
        ColourView.Of(w.Colour),
        w.SectionRange is null ? w.Section.ToString() : $"{w.SectionInWords()}, estimated",
        w.LengthMm,
        w.LengthRange is null ? w.LengthInWords() : $"{w.LengthInWords()}, estimated",
        w.Circuit,
        w.Role?.ToString().ToLowerInvariant(),
        w.Group,
        Say.Ohms(WireGraph.EndToEnd(loom, w, loom.AmbientC, copper).Nominal));
}
