using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Looms;
using static WiseLoom.Core.Tests.Strangers;

namespace WiseLoom.Core.Tests;

/// <summary>What a person says of a file, and what the shop keeps of it.</summary>
public sealed class IntakeSaidTests
{
    private const string Odd = """
        Alpha,Beta,Gamma,Farbe
        ECU:1,INJ1:1,100,mauvish
        ECU:2,INJ2:1,twelve,RD
        Totals,,,
        note ECU:3,GND:1,100,BK
        """;

    [Fact]
    public void A_table_with_headings_that_the_shop_knows_is_read_as_the_last_time()
    {
        var known = new IntakeMapping(ImmutableSortedDictionary<string, MappedColumn>.Empty.Add("Gamma", new(Meaning.Length, "cm")), "Cart lists", ["ALPHA", "beta", "Gamma", "Farbe"]);
        var memory = IntakeMemory.Empty with { Mappings = [known] };
        Said(Odd, IntakeSaid.Nothing).Loom!.Wires[0].LengthRange.ShouldNotBeNull();
        var reading = Said(Odd, IntakeSaid.Nothing, memory);
        reading.Tables[0].Remembered.ShouldBe("Cart lists");
        reading.Loom!.Wires[0].LengthMm.ShouldBe(1000);
        // What is said of this file goes before what is remembered.
        Said(Odd, new(ImmutableSortedDictionary<string, MappedColumn>.Empty.Add("Gamma", new(Meaning.Length, "m"))), memory).Loom!.Wires[0].LengthMm.ShouldBe(100_000);
        Said(Odd.Replace("Beta", "Bet", StringComparison.Ordinal), IntakeSaid.Nothing, memory).Tables[0].Remembered.ShouldBeNull();
    }

    [Fact]
    public void A_column_of_figures_beside_ends_does_not_turn_them_into_names()
    {
        var reading = Read("Alpha,Beta,Weite\nECU:1,INJ1:1,100\nECU:2,INJ2:1,120\n");
        Nets(reading).ShouldBe(["ECU:1 INJ1:1", "ECU:2 INJ2:1"]);
        Nets(Read("ECU A,17,INJ 1,2\nECU A,18,INJ 2,2\n")).ShouldBe(["ECU-A:17 INJ-1:2", "ECU-A:18 INJ-2:2"]);
    }

    [Fact]
    public void A_word_for_a_colour_is_asked_about_until_the_shop_knows_it()
    {
        Said(Odd, IntakeSaid.Nothing).UnknownColours.ShouldBe(["mauvish"]);
        var memory = IntakeMemory.Empty with { Colours = ImmutableSortedDictionary<string, string>.Empty.Add("mauvish", "VT") };
        var reading = Said(Odd, IntakeSaid.Nothing, memory);
        reading.UnknownColours.ShouldBeEmpty();
        reading.Loom!.Wires[0].Colour.Text.ShouldBe("VT");
    }

    [Fact]
    public void Cells_are_corrected_and_rows_struck_and_brought_back_in_place()
    {
        var columns = ImmutableSortedDictionary<string, MappedColumn>.Empty.Add("Gamma", new(Meaning.Length, "mm"));
        var before = Said(Odd, new(columns));
        var wrong = before.Problems.First(p => p.Message.Contains("twelve", StringComparison.Ordinal));
        (wrong.Sheet, wrong.Row, wrong.Cell).ShouldBe(("pump cart", 3, 2));
        var corrected = Said(Odd, new(columns, Cells: [new("pump cart", 3, 2, "1200"), new("pump cart", 5, 0, "ECU:3")]));
        corrected.Loom!.Wires.Length.ShouldBe(3);
        corrected.Loom.Wires[1].LengthMm.ShouldBe(1200);
        corrected.Problems.ShouldAllBe(p => !p.Message.Contains("twelve", StringComparison.Ordinal));
        Said(Odd, new(columns, Struck: [new("pump cart", 2)])).Loom!.Wires.ShouldAllBe(w => w.Colour.Text == "RD" || w.Colour.Text == "BK");
        before.Tables[0].StruckRows.Select(r => r.Number).ShouldContain(4);
        Said(Odd, new(columns, Kept: [new("pump cart", 4)])).Tables[0].Rows.ShouldBe(before.Tables[0].Rows + 1);
        // Cells of other sheets, beyond the table or of rows that are not there change nothing.
        Said(Odd, new(columns, Cells: [new("other", 2, 0, "X:1"), new("pump cart", 99, 0, "X:1"), new("pump cart", 2, -1, "X:1"), new("pump cart", 2, 5000, "X:1")]))
            .Loom!.Wires.Select(w => w.From.Text).ShouldBe(before.Loom!.Wires.Select(w => w.From.Text));
    }

    [Fact]
    public void A_loom_of_papers_is_a_sheet_of_the_book_too()
    {
        var loom = Read("From,To,Colour,Function\nECU:1,INJ1:1,BU,Injector 1\nECU:2,GND:1,BK,Ground\n").Loom!;
        var sheet = PaperSheet.Of(loom, "Cart")!;
        sheet.Lines.Select(l => $"{l.Connector}:{l.Cavity} {l.Function} {l.Colour}").ShouldBe(["ECU:1 Injector 1 BU", "ECU:2 Ground BK", "INJ1:1 Injector 1 BU", "GND:1 Ground BK"], ignoreOrder: true);
        sheet.Check(ImmutableDictionary<string, ConnectorFamily>.Empty).Problems.ShouldBeEmpty();
    }

    [Fact]
    public void What_is_kept_of_headings_must_be_of_them()
    {
        var columns = ImmutableSortedDictionary<string, MappedColumn>.Empty;
        new IntakeMapping(columns.Add("Von", new(Meaning.End)), "Lists", ["Von", "Nach"]).Problems().ShouldBeEmpty();
        new IntakeMapping(columns.Add("#2", new(Meaning.End)), "Lists", ["Von", "Nach"]).Problems().ShouldBeEmpty();
        new IntakeMapping(columns.Add("#3", new(Meaning.End)), "Lists", ["Von", "Nach"]).Problems().ShouldHaveSingleItem().At.ShouldBe("/columns/#3");
        new IntakeMapping(columns.Add("Wo", new(Meaning.End)), "", default).Problems().Select(p => p.At).ShouldBe(["/name", "/headings"]);
        new IntakeMapping(columns, "x", ["Von", "Nach"]).Problems().ShouldHaveSingleItem().At.ShouldBe("/columns");
        new IntakeMapping(columns.Add("Von", new((Meaning)99)), "x", ["Von", "Nach"]).Problems().ShouldHaveSingleItem().At.ShouldBe("/columns/Von");
    }
}
