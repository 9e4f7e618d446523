using System.Collections.Immutable;
using System.Text.Json.Nodes;
using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Looms;
using static WiseLoom.Core.Tests.Strangers;

namespace WiseLoom.Core.Tests;

/// <summary>Looms that begin without a loom file: cables, faces, offers, and what is taken for what papers leave out.</summary>
public sealed class NewLoomTests
{
    [Theory]
    [InlineData(CableWay.Straight, "1-1 2-2 3-3 4-4 5-5")]
    [InlineData(CableWay.Crossed, "1-2 2-1 3-4 4-3 5-5")]
    [InlineData(CableWay.Rolled, "1-5 2-4 3-3 4-2 5-1")]
    public void A_cable_joins_its_plugs_as_it_says(CableWay way, string joins)
    {
        var cable = new StraightCable("Lead", "A", "B", 5, way, 2500, null);
        cable.Problems().ShouldBeEmpty();
        var loom = LoomReader.Read(LoomDocument.Bytes(cable.Document(UnknownFigures.Usual))).Loom!;
        string.Join(' ', loom.Wires.Select(w => $"{w.From.Point.Cavity}-{w.To.Point.Cavity}")).ShouldBe(joins);
        loom.Wires.ShouldAllBe(w => w.LengthMm == 2500 && w.LengthRange == null && w.SectionRange != null);
    }

    [Fact]
    public void Each_pin_of_a_cable_has_one_at_the_other_end() =>
        (from pins in Gen.Int[1, StraightCable.MostPins] from way in Gen.Enum<CableWay>() select new StraightCable("x", "A", "B", pins, way, null, null))
            .Sample(c => Enumerable.Range(1, c.Pins).Select(c.Across).Order().SequenceEqual(Enumerable.Range(1, c.Pins)), iter: Effort.Of(100, 2000));

    [Fact]
    public void A_cable_that_cannot_be_is_told_field_by_field() =>
        new StraightCable("", "A B", "", 0, (CableWay)9, -1, double.NaN).Problems().Select(p => p.At).ShouldBe(["/name", "/one", "/other", "/pins", "/way", "/lengthMm", "/mm2"]);

    private static ShopFamily Family(string id, params string[] cavities)
    {
        var body = MadeFamily.Write(id, [.. cavities], true);
        return new(FamilyLibrary.Read(body).Family!, body);
    }

    [Fact]
    public void A_face_is_made_from_pins_or_chosen_among_those_that_have_them_all()
    {
        const string List = "From,To\nECU:1,INJ:A\nECU:3,INJ:B\nECU:2,GND:1\n";
        var memory = IntakeMemory.Empty with { Families = [Family("four", "1", "2", "3", "4"), Family("three", "1", "2", "3"), Family("two", "1", "2")] };
        var ecu = Said(List, IntakeSaid.Nothing, memory).Connectors.Single(c => c.Ref == "ECU");
        (ecu.IsConfirmed, string.Join(' ', ecu.Fits)).ShouldBe((false, "three four"));
        IntakeReading Faced(string face) => Said(List, new(Faces: ImmutableSortedDictionary<string, string>.Empty.Add("ECU", face)), memory);
        Faced("four").Loom!.Connectors.Single(c => c.Ref == "ECU").Family.Id.ShouldBe("four");
        Faced("").Loom!.Connectors.Single(c => c.Ref == "ECU").Family.IsConfirmed.ShouldBeTrue();
        // One that has not all pins, or that nobody knows, is not taken.
        Faced("two").Loom!.Connectors.Single(c => c.Ref == "ECU").Family.IsConfirmed.ShouldBeFalse();
        Faced("ten").Connectors.Single(c => c.Ref == "ECU").Family.ShouldBe("pins-3");
    }

    [Fact]
    public void A_connector_that_wires_name_and_nobody_made_is_offered_and_so_is_a_pin()
    {
        var draft = LoomDocument.Empty("Cart");
        void Wire(string id, string from, string to) => draft["wires"]!.AsArray().Add(new JsonObject { ["id"] = id, ["from"] = from, ["to"] = to, ["mm2"] = 0.5, ["lengthMm"] = 900 });
        ImmutableArray<EndOffer> Offers() => EndOffers.Of(draft, LoomReader.Read(LoomDocument.Bytes(draft)).Problems);
        void Take(EndOffer offer)
        {
            void Put(string list, string name, JsonObject row)
            {
                var rows = draft[list]!.AsArray();
                foreach (var old in rows.Where(r => r![name]!.GetValue<string>() == row[name]!.GetValue<string>()).ToList())
                {
                    rows.Remove(old);
                }

                rows.Add(row.DeepClone());
            }

            Put("families", "id", offer.Family);
            if (offer.Connector is { } connector)
            {
                Put("connectors", "ref", connector);
            }
        }

        Wire("W1", "ECU:17", "INJ1:A");
        Wire("W2", "ECU:18", "INJ2:A");
        Offers().Select(o => o.Words).ShouldBe(["Make ECU with pins 17, 18", "Make INJ1 with pin A", "Make INJ2 with pin A"]);
        while (Offers() is [var offer, ..])
        {
            Take(offer);
        }

        LoomReader.Read(LoomDocument.Bytes(draft)).Problems.ShouldBeEmpty();

        // A pin of a face that nobody has confirmed; a family that two share is parted.
        Wire("W3", "INJ1:B", "ECU:19");
        Offers().Select(o => o.Words).ShouldBe(["Add pin B to INJ1", "Add pin 19 to ECU"]);
        while (Offers() is [var offer, ..])
        {
            Take(offer);
        }

        var loom = LoomReader.Read(LoomDocument.Bytes(draft)).Loom!;
        loom.Wires.Length.ShouldBe(3);
        loom.FindConnector("INJ2")!.Family.Cavities.ShouldBe(["A"]);
        // What nobody can mend so is not offered: a splice that is not there, a pin of a face that is confirmed.
        draft["families"]!.AsArray().First(f => f!["id"]!.GetValue<string>() == loom.FindConnector("ECU")!.Family.Id)!["confirmed"] = true;
        Wire("W4", "ECU:40", "S9");
        Offers().ShouldBeEmpty();
    }

    [Fact]
    public void What_papers_do_not_say_is_what_the_shop_takes_for_it()
    {
        var memory = IntakeMemory.Empty with { Unknown = new(200, 900, 2500, 0.5, 0.75, 2.5) };
        var reading = Said("From,To\nECU:1,INJ:1\n", IntakeSaid.Nothing, memory);
        var wire = reading.Loom!.Wires.ShouldHaveSingleItem();
        (wire.LengthRange!.Value.Min, wire.LengthMm, wire.LengthRange.Value.Max).ShouldBe((200, 900, 2500));
        (wire.SectionRange!.Value.Min, wire.SectionRange.Value.Max).ShouldBe((0.5, 2.5));
        reading.Guessed.ShouldContain(g => g.Contains("0.2 to 2.5 m", StringComparison.Ordinal));
        new UnknownFigures(200, 100, 0, 0.5, double.NaN, 2).Problems().Select(p => p.At).ShouldBe(["/usualMm", "/mostMm", "/usualMm2", "/mostMm2"]);
        UnknownFigures.Usual.Problems().ShouldBeEmpty();
    }
}
