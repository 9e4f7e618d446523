using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>What a meter finds of a wire that metal touches along the way, by hand: contacts at its ends, a poor joint at its own, copper by its length.</summary>
public sealed class TouchedWireTests
{
    /// <summary>Two wires of a metre between contacts of 4 mΩ, and one from a splice whose legs have half of one.</summary>
    private static readonly Loom Contacts = LoomReader.Read("""
        {
          "format": "wise-loom/loom", "version": 1, "loom": { "name": "Contacts", "revision": "A", "ambientC": 20 },
          "families": [{ "id": "four", "rows": [["1", "2"], ["3", "4"]], "contactMilliohm": 4 }],
          "connectors": [{ "ref": "A", "family": "four" }, { "ref": "B", "family": "four" }],
          "splices": [{ "ref": "S1", "legMilliohm": 0.5 }],
          "wires": [
            { "id": "W1", "from": "A:1", "to": "B:1", "mm2": 0.5, "lengthMm": 1000 },
            { "id": "W2", "from": "A:2", "to": "B:2", "mm2": 0.5, "lengthMm": 1000 },
            { "id": "W3", "from": "S1", "to": "A:3", "mm2": 0.5, "lengthMm": 1000 },
            { "id": "W4", "from": "S1", "to": "B:3", "mm2": 0.5, "lengthMm": 500 }
          ]
        }
        """u8.ToArray()).Loom!;

    /// <summary>A metre of 0.5 mm² at 20 °C, ohms.</summary>
    private static readonly double Metre = Copper.Wire(Contacts.Wires[0].Section, 1000, 20, CopperTolerance.Usual).Nominal;

    private static double Reads(string a, string b, params Fault[] faults)
    {
        var (from, to) = (ProbePoint.Parse(a), ProbePoint.Parse(b));
        return new BuiltLoom(Contacts, faults).Graph(20, CopperTolerance.Usual).NetOf(from)!.Between(from, to, Corner.Nominal);
    }

    private static ShortFault Touch(double a, double b, double ohm = 0.1) => new("W1", "W2", ohm) { AlongMm = [a, b] };

    [Theory]
    [InlineData("A:1", "A:2", 0.2, 0.3)]
    [InlineData("A:1", "B:2", 0.2, 0.7)]
    [InlineData("B:1", "A:2", 0.8, 0.3)]
    [InlineData("B:1", "B:2", 0.8, 0.7)]
    public void Through_a_bridge_lie_one_contact_and_the_copper_on_either_side(string a, string b, double metres, double others) =>
        Reads(a, b, Touch(200, 300)).ShouldBe(0.004 + (metres * Metre) + 0.1 + (others * Metre) + 0.004, 1e-9);

    [Theory]
    [InlineData("from", "A:1", 0.7)]
    [InlineData("from", "B:1", 0)]
    [InlineData("to", "A:1", 0)]
    [InlineData("to", "B:1", 0.7)]
    [InlineData(null, "B:1", 0.7)]
    public void A_poor_joint_lies_on_its_own_side_of_the_bridge(string? end, string at, double more) =>
        (Reads(at, "A:2", new ResistiveFault("W1", 0.7, end), Touch(500, 500)) - Reads(at, "A:2", Touch(500, 500))).ShouldBe(more, 1e-9);

    [Theory]
    [InlineData("from")]
    [InlineData("to")]
    [InlineData(null)]
    public void From_end_to_end_it_is_all_in_the_way_whichever_end_it_is_at(string? end) =>
        Reads("A:1", "B:1", new ResistiveFault("W1", 0.7, end), Touch(500, 500)).ShouldBe(Reads("A:1", "B:1") + 0.7, 1e-9);

    [Fact]
    public void What_touches_a_wire_does_not_change_it_from_end_to_end() =>
        Gen.Select(Gen.Double[0, 1000], Gen.Double[0, 1000]).Sample((a, b) => Math.Abs(Reads("A:1", "B:1", Touch(a, b)) - ((2 * 0.004) + Metre)) < 1e-9);

    /// <summary>Two bridges on one wire: between them lies the copper between the two places.</summary>
    [Fact]
    public void Of_two_that_touch_one_wire_the_copper_between_them_counts()
    {
        Fault[] both = [Touch(200, 300), new ShortFault("W1", "W3", 0.05) { AlongMm = [600, 100] }];
        Reads("A:2", "A:3", both).ShouldBe(0.004 + (0.3 * Metre) + 0.1 + (0.4 * Metre) + 0.05 + (0.9 * Metre) + 0.004, 1e-9);
        Reads("A:1", "A:3", both).ShouldBe(0.004 + (0.6 * Metre) + 0.05 + (0.9 * Metre) + 0.004, 1e-9);
    }

    [Fact]
    public void A_splice_leg_lies_at_the_splice()
    {
        var loose = new ShortFault("W3", "W1", 0) { AlongMm = [0, 0] };
        Reads("B:3", "A:1", loose).ShouldBe(0.004 + (0.5 * Metre) + 0.0005 + 0.0005 + 0.004, 1e-9);
        Reads("A:3", "A:1", loose).ShouldBe(0.004 + Metre + 0.004, 1e-9);
    }

    [Theory]
    [InlineData("from", false, true)]
    [InlineData("to", true, false)]
    [InlineData(null, false, false)]
    public void A_wire_that_is_open_at_one_end_still_leads_from_the_bridge_to_the_other(string? end, bool isFirst, bool isLast)
    {
        var graph = new BuiltLoom(Contacts, [new OpenFault("W1", end), Touch(500, 500)]).Graph(20, CopperTolerance.Usual);
        bool Leads(ProbePoint from) => graph.NetOf(from)?.Number == graph.NetOf(new("A", "2"))!.Number;
        (Leads(new("A", "1")), Leads(new("B", "1"))).ShouldBe((isFirst, isLast));
    }

    /// <summary>Shares of ohms and of length lead to each other, whatever the wire.</summary>
    [Fact]
    public void Ohms_and_length_lead_to_each_other() => Gen.Select(Gen.Int[0, 3], Gen.Double[0, 1]).Sample((i, share) =>
    {
        var along = OhmsAlong.Of(Contacts, Contacts.Wires[i]);
        return Math.Abs(along.PlaceAt(along.UpTo(share)) - share) < 1e-9 && along.First > 0 && along.First + along.Copper < 1 && along.UpTo(share) >= along.First && along.UpTo(share) <= along.First + along.Copper + 1e-12;
    });

    [Theory]
    [InlineData(0, 0)]
    [InlineData(0.01, 0)]
    [InlineData(0.99, 1)]
    [InlineData(1, 1)]
    public void Within_a_contact_a_place_is_the_end(double ohms, double place) => OhmsAlong.Of(Contacts, Contacts.Wires[0]).PlaceAt(ohms).ShouldBe(place, 1e-12);

    /// <summary>What the diagnosis lays is what is built: every pair of a touched and poor loom reads the same by both.</summary>
    [Fact]
    public void What_is_supposed_reads_as_what_is_built() => Gen.Select(Gen.Double[50, 950], Gen.Double[50, 950], Gen.Double[0.05, 3], Gen.OneOfConst("from", "to")).Sample((a, b, ohm, end) =>
    {
        Fault[] faults = [new ResistiveFault("W1", ohm, end), Touch(a, b)];
        var drawn = new DrawnLoom(Contacts, 20, CopperTolerance.Usual).Leaning(0);
        var supposed = new Altered(drawn, faults, drawn.NetsOf(faults));
        ProbePoint[] points = [new("A", "1"), new("B", "1"), new("A", "2"), new("B", "2")];
        return points.All(p => points.All(q => p == q || Math.Abs(supposed.Ohms(p, q)!.Value - Reads(p.ToString(), q.ToString(), faults)) < 1e-9));
    });
}
