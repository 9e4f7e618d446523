using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Where along a wire its ohms lie: contacts and splice legs at its ends, copper between them, a poor joint at one of them.</summary>
public sealed class LegTests
{
    private static readonly Loom Fan = Looms.FrostFan;

    private static double Whole(Wire wire) => WireGraph.EndToEnd(Fan, wire, Fan.AmbientC, CopperTolerance.Usual).Nominal;

    private static BuiltWire Built(Wire wire, params Fault[] faults) => new BuiltLoom(Fan, faults).Wire(wire.Id)!;

    /// <summary>Ohms from the wire's first end to a place along it, by the loom as built with metal there.</summary>
    private static double UpTo(Wire wire, double mm, params Fault[] faults)
    {
        var built = Built(wire, faults);
        var tap = built.Tap(mm);
        return built.Pieces().TakeWhile(p => p.From != tap).Sum(p => (p.Share * Whole(wire)) + p.AddedOhm);
    }

    private static readonly Gen<Wire> Wires = Gen.Int[0, Fan.Wires.Length - 1].Select(i => Fan.Wires[i]);

    /// <summary>By hand: a wire of the fan between two contacts of 4 mΩ; copper is what is left, and a third of the way has a third of it.</summary>
    [Fact]
    public void Contacts_lie_at_the_ends()
    {
        var wire = Fan.Wires.First(w => !w.From.IsSplice && !w.To.IsSplice);
        var (first, last) = (WireGraph.AtEnd(Fan, wire.From).Nominal, WireGraph.AtEnd(Fan, wire.To).Nominal);
        var copper = Copper.Wire(wire.Section, wire.LengthMm, Fan.AmbientC, CopperTolerance.Usual).Nominal;
        UpTo(wire, 0).ShouldBe(first, 1e-9);
        UpTo(wire, wire.LengthMm / 3).ShouldBe(first + (copper / 3), 1e-9);
        UpTo(wire, wire.LengthMm).ShouldBe(first + copper, 1e-9);
        Whole(wire).ShouldBe(first + copper + last, 1e-12);
    }

    [Fact]
    public void A_whole_wire_is_one_leg_and_its_places_are_those_of_the_loom_as_built() => Gen.Select(Wires, Gen.Double[0, 1]).Sample((wire, t) =>
    {
        var leg = Leg.Of(Fan, Built(wire)).ShouldHaveSingleItem();
        var place = leg.PlaceAt(t, Whole(wire));
        return Math.Abs(place.Mm - (t * wire.LengthMm)) < 1e-6 && place.PoorEnd is null && Math.Abs((place.Share * leg.Ohms(Whole(wire))) - UpTo(wire, place.Mm)) < 1e-9;
    });

    /// <summary>What touches a wire cuts it in two legs; a place on either is the same place of the whole.</summary>
    [Fact]
    public void A_wire_that_is_touched_is_two_legs() => Gen.Select(Wires, Gen.Double[0.1, 0.9], Gen.Double[0.05, 0.95]).Sample((wire, cut, t) =>
    {
        var built = Built(wire);
        built.Tap(cut * wire.LengthMm);
        var legs = Leg.Of(Fan, built).ToList();
        var (one, other) = (legs[0].PlaceAt(t, Whole(wire)), legs[1].PlaceAt(t, Whole(wire)));
        var before = legs[0].Ohms(Whole(wire));
        return legs.Count == 2
            && Math.Abs(one.Mm - (t * cut * wire.LengthMm)) < 1e-6
            && Math.Abs(other.Mm - ((cut + (t * (1 - cut))) * wire.LengthMm)) < 1e-6
            && Math.Abs((one.Share * before) - UpTo(wire, one.Mm)) < 1e-9
            && Math.Abs(before + (other.Share * legs[1].Ohms(Whole(wire))) - UpTo(wire, other.Mm)) < 1e-9;
    });

    /// <summary>A poor joint at an end that nobody knows: a place lies before it or beyond it, and says at which end the joint is then.</summary>
    [Fact]
    public void Beside_a_poor_joint_a_place_tells_its_end() => Gen.Select(Wires, Gen.Double[0.01, 0.99], Gen.Double[0.1, 20]).Sample((wire, t, ohm) =>
    {
        var leg = Leg.Of(Fan, Built(wire, new ResistiveFault(wire.Id, ohm))).ShouldHaveSingleItem();
        var place = leg.PlaceAt(t, Whole(wire));
        var end = t < 0.5 ? "to" : "from";
        return place.PoorEnd == end && place.Mm >= -1e-9 && place.Mm <= wire.LengthMm + 1e-9
            && Math.Abs((place.Share * leg.Ohms(Whole(wire))) - UpTo(wire, place.Mm, new ResistiveFault(wire.Id, ohm, end))) < 1e-9;
    });

    [Fact]
    public void A_poor_joint_at_a_known_end_stays_there() => Gen.Select(Wires, Gen.Double[0, 1], Gen.Double[0.1, 20]).Sample((wire, t, ohm) =>
    {
        var poor = new ResistiveFault(wire.Id, ohm, "from");
        var place = Leg.Of(Fan, Built(wire, poor)).Single().PlaceAt(t, Whole(wire));
        return place.PoorEnd == "from" && Math.Abs((place.Share * (Whole(wire) + ohm)) - UpTo(wire, place.Mm, poor)) < 1e-9;
    });

    [Theory]
    [InlineData("from", 0.8, 0)]
    [InlineData("to", 0, 0.8)]
    [InlineData(null, 0, 0.8)]
    public void A_poor_joint_is_on_the_piece_at_its_end(string? end, double first, double last)
    {
        var wire = Fan.Wires[3];
        var built = Built(wire, new ResistiveFault(wire.Id, 0.8, end));
        built.AddedOhm.ShouldBe(0.8);
        built.Pieces().ShouldHaveSingleItem().AddedOhm.ShouldBe(0.8);
        built.Tap(wire.LengthMm / 2);
        built.Tap(wire.LengthMm / 4);
        built.Pieces().Select(p => p.AddedOhm).ShouldBe([first, 0, last]);
        built.Pieces().Sum(p => p.Share).ShouldBe(1, 1e-12);
    }

    /// <summary>Without a contact's ohms an end is the end of the copper, and what touches there cuts nothing off.</summary>
    [Theory]
    [InlineData(0)]
    [InlineData(1000)]
    public void What_touches_an_end_cuts_nothing_off(double mm)
    {
        var loom = Looms.Of("A:1-B:1");
        var built = new BuiltLoom(loom, []).Wire("W1")!;
        built.Tap(mm);
        Leg.Of(loom, built).ShouldHaveSingleItem().Share.ShouldBe(1, 1e-12);
    }

    [Fact]
    public void Of_an_open_wire_nothing_is_a_leg_but_what_something_touches_at_its_sound_end()
    {
        var wire = Fan.Wires[3];
        Leg.Of(Fan, Built(wire, new OpenFault(wire.Id))).ShouldBeEmpty();
        var built = Built(wire, new OpenFault(wire.Id, "to"));
        built.Tap(100);
        Leg.Of(Fan, built).ShouldHaveSingleItem().ShouldSatisfyAllConditions(l => l.From.ShouldBe(wire.From.Text), l => l.Begins.ShouldBe(0));
    }
}
