using System.Collections.Immutable;
using System.Globalization;
using System.IO.Compression;
using System.Text;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Validation;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>Tables out: our own, in a customer's order, and a customer's own file filled in.</summary>
public sealed class ResultTableTests
{
    private const string List = """
        Von;Nach;Farbe;Länge (cm);Bemerkung
        ECU:1;INJ1:1;bl;145;"links; oben"
        ECU:2;GND:1;sw;160;
        ECU:3;TEMP:1;gn;90;
        Summe;;;395;
        """;

    private static readonly Lazy<(Loom Loom, BenchRun Run)> Measured = new(() =>
    {
        var loom = LoomIntake.Read(Encoding.UTF8.GetBytes(List), "Karren.csv").Loom!;
        return (loom, Bench.Measured(loom, Bench.Plan(loom, Isolation.Neighbours), new OpenFault(loom.Wires[1].Id)));
    });

    private static PairResults Results => new(Measured.Value.Loom, Measured.Value.Run);

    [Fact]
    public void A_pair_has_its_reading_and_verdict_and_what_is_not_asked_has_none()
    {
        var good = Results.Of(new("ECU", "1"), new("INJ1", "1"));
        (good.State, good.Verdict).ShouldBe((StepState.Pass, "pass"));
        good.Reads.ShouldEndWith("mΩ");
        Results.Of(new("ECU", "2"), new("GND", "1")).Verdict.ShouldBe("fail");
        Results.Of(new ProbePoint("ECU", "3")).Verdict.ShouldBe("pass");
        Results.Of(new("NO", "1"), new("ECU", "1")).ShouldBe(PairResult.Nothing);
        new PairResults(Measured.Value.Loom, null).Of(new("ECU", "1"), new("INJ1", "1")).State.ShouldBeNull();
    }

    [Fact]
    public void Our_tables_have_the_wires_each_pinout_and_the_three_crosses()
    {
        var tables = ResultTables.Of(Measured.Value.Loom, Results);
        tables.Select(t => t.Name).ShouldBe(["wires", "pinout ECU", "pinout INJ1", "pinout GND", "pinout TEMP", "cross expected", "cross measured", "cross verdict"], ignoreOrder: true);
        tables[0].Head[^1].ShouldBe("verdict");
        tables[0].Rows.Select(r => r.Cells[^1]).ShouldBe(["pass", "fail", "pass"]);
        var verdicts = tables.Single(t => t.Name == "cross verdict");
        verdicts.Rows.SelectMany(r => r.Cells).ShouldContain("fail");
        foreach (var (row, i) in verdicts.Rows.Select((r, i) => (r, i)))
        {
            verdicts.Rows.Select(r => r.Cells[i + 1]).ShouldBe(row.Cells.Skip(1), "a cross table is the same both ways");
        }

        var read = Workbook.Read(Workbook.Write(tables, coloured: true), "results.xlsx", [])!.Value;
        read.Select(t => t.Name).ShouldBe(tables.Select(t => t.Name));
        Errors(Workbook.Write(tables, coloured: true)).ShouldBeEmpty();
    }

    [Fact]
    public void The_list_of_wires_takes_the_order_and_the_units_of_a_mapping()
    {
        var columns = ImmutableSortedDictionary<string, MappedColumn>.Empty.Add("Pin", new(Meaning.OtherPin)).Add("Plug", new(Meaning.OtherConnector)).Add("L", new(Meaning.Length, "in")).Add("At", new(Meaning.End));
        var wires = ResultTables.Of(Measured.Value.Loom, Results, new IntakeMapping(columns, "Lists", ["L", "At", "Odd", "Plug", "Pin"]))[0];
        wires.Head.ShouldBe(["L", "At", "Odd", "Plug", "Pin", "reads", "verdict"]);
        wires.Rows[0].Cells.Take(5).ShouldBe(["57.087", "ECU:1", "", "INJ1", "1"]);
    }

    [Fact]
    public void A_customers_text_comes_back_with_two_more_columns_and_all_its_own()
    {
        var filled = FilledPapers.Fill(Encoding.UTF8.GetBytes(List), "Karren.csv", Results);
        filled.Rows.ShouldBe(3);
        var lines = Encoding.UTF8.GetString(filled.Bytes!).TrimStart('\ufeff').Split("\r\n");
        lines[0].ShouldBe("Von;Nach;Farbe;Länge (cm);Bemerkung;reads;verdict");
        lines[1].ShouldStartWith("ECU:1;INJ1:1;bl;145;\"links; oben\";");
        lines[1].ShouldEndWith(";pass");
        lines[2].ShouldEndWith(";fail");
        lines[4].ShouldBe("Summe;;;395;;;");
        var gaps = Encoding.UTF8.GetString(FilledPapers.Fill("From\tTo\n\nECU:1\tINJ1:1\n-\t\n"u8.ToArray(), "x.tsv", Results).Bytes!).TrimStart('\ufeff').Split("\r\n");
        (gaps[0], gaps[1], gaps[3]).ShouldBe(("From\tTo\treads\tverdict", "", "-\t\t\t"), "empty lines and their own signs stay");
    }

    [Fact]
    public void A_customers_workbook_comes_back_with_two_more_columns_and_every_other_part_untouched()
    {
        TextTable Sheet(string name, params string[][] rows) => new(name, name, 1, [.. rows[0]], [.. rows.Skip(1).Select((r, i) => new TextRow(i + 2, [.. r]))]);
        var own = Workbook.Write([
            Sheet("Prices", ["Part", "Price"], ["Clip", "0.20"], ["Tape", "3.10"]),
            Sheet("List", ["Harness of the cart"], [""], ["From", "To", "Colour"], ["ECU:1", "INJ1:1", "BU"], ["ECU:2", "GND:1", "BK"], ["ECU:9", "NO:1", "BK"], ["Total", "3", ""]),
        ], coloured: true);
        var filled = FilledPapers.Fill(own, "cart.xlsx", Results);
        (filled.IsWorkbook, filled.Rows).ShouldBe((true, 2));
        var list = Workbook.Read(filled.Bytes!, "cart.xlsx", [])!.Value.Single(t => t.Name == "List");
        var rows = list.Rows.Select(r => string.Join('|', r.Cells)).ToList();
        rows.ShouldContain("From|To|Colour|reads|verdict");
        rows.ShouldContain(r => r.StartsWith("ECU:1|INJ1:1|BU|", StringComparison.Ordinal) && r.EndsWith("|pass", StringComparison.Ordinal));
        rows.ShouldContain(r => r.StartsWith("ECU:2|GND:1|BK|", StringComparison.Ordinal) && r.EndsWith("|fail", StringComparison.Ordinal));
        rows.ShouldContain(r => r.TrimEnd('|') == "ECU:9|NO:1|BK");
        Errors(filled.Bytes!).ShouldBeEmpty();
        foreach (var (name, bytes) in Parts(own).Where(p => !p.Name.Contains("worksheets", StringComparison.Ordinal) || Encoding.UTF8.GetString(p.Bytes).Contains("Price", StringComparison.Ordinal)))
        {
            Parts(filled.Bytes!).Single(p => p.Name == name).Bytes.ShouldBe(bytes, name);
        }
    }

    [Theory]
    [InlineData("nothing here")]
    [InlineData("From,To\nX:1,Y:1\nX:2,Y:2\n")]
    public void What_is_about_nothing_of_the_loom_is_told_so(string text)
    {
        var filled = FilledPapers.Fill(Encoding.UTF8.GetBytes(text), "x.csv", Results);
        filled.Bytes.ShouldBeNull();
        filled.Problems.ShouldNotBeEmpty();
    }

    private static IEnumerable<string> Errors(byte[] workbook)
    {
        using var document = SpreadsheetDocument.Open(new MemoryStream(workbook), false);
        return [.. new OpenXmlValidator().Validate(document).Select(e => string.Create(CultureInfo.InvariantCulture, $"{e.Path?.XPath}: {e.Description}"))];
    }

    private static List<(string Name, byte[] Bytes)> Parts(byte[] workbook)
    {
        using var zip = new ZipArchive(new MemoryStream(workbook));
        return [.. zip.Entries.Select(e =>
        {
            using var stream = e.Open();
            using var copy = new MemoryStream();
            stream.CopyTo(copy);
            return (e.FullName, copy.ToArray());
        })];
    }
}
