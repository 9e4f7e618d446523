using System.IO.Compression;
using System.Text;
using System.Text.Json.Nodes;
using CsCheck;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Tables and workbooks: what is written is read back the same, and what cannot be read is refused with its place.</summary>
public sealed class FormatTests
{
    private static readonly Gen<string> Texts = Gen.OneOf(
        Gen.String[Gen.Char["abcXYZ 0123456789,;\"'=+-@\n\t/_:äΩ−"], 0, 12],
        Gen.Const("=1+2"), Gen.Const("'quoted"), Gen.Const("  blanks  "), Gen.Const("\u0007"), Gen.Const("a\r\nb"), Gen.Const("1"), Gen.Const("true"), Gen.Const(""));

    private static readonly Gen<JsonNode?> Values = Gen.OneOf<JsonNode?>(
        Texts.Select(t => (JsonNode?)JsonValue.Create(t)),
        Gen.Double[-1e6, 1e6].Select(d => (JsonNode?)JsonValue.Create(d)),
        Gen.Int[-5, 5000].Select(i => (JsonNode?)JsonValue.Create(i)),
        Gen.Bool.Select(b => (JsonNode?)JsonValue.Create(b)),
        Gen.Const((JsonNode?)null),
        Texts.Array[0, 3].Select(a => (JsonNode?)new JsonArray([.. a.Select(t => (JsonNode?)JsonValue.Create(t))])),
        Texts.Array[0, 3].Select(a => (JsonNode?)new JsonObject(a.Distinct().Select(t => KeyValuePair.Create(t, (JsonNode?)JsonValue.Create(t))))),
        Gen.Const(0).Select(_ => JsonNode.Parse("""{ "min": 1, "nominal": 4.5, "max": 1e1 }""")),
        Gen.Const(0).Select(_ => JsonNode.Parse("""[["1","2",null],["A 1","_"]]""")));

    private static readonly string[] Fields =
        ["id", "ref", "from", "to", "colour", "mm2", "lengthMm", "circuit", "kind", "rows", "blanked", "pins", "ohm", "sealed", "contactMilliohm", "more", "file", "somethingNew", "atMm"];

    private static readonly Gen<JsonObject> Entries = Gen.Select(Gen.OneOfConst(Fields), Values).Array[0, 6]
        .Select(a => new JsonObject(a.DistinctBy(x => x.Item1).Select(x => KeyValuePair.Create(x.Item1, x.Item2?.DeepClone()))));

    /// <summary>Loom files of any contents, right or wrong.</summary>
    private static readonly Gen<JsonObject> Documents =
        from lists in Entries.Array[0, 4].Array[7]
        from head in Entries
        from unknown in Values
        from missing in Gen.Int[0, 9]
        select Document(lists, head, unknown, missing);

    private static JsonObject Document(JsonObject[][] lists, JsonObject head, JsonNode? unknown, int missing)
    {
        var document = new JsonObject { ["format"] = "wise-loom/loom", ["version"] = 1, ["loom"] = head.DeepClone(), ["shopNote"] = unknown?.DeepClone() };
        for (var i = 0; i < 7; i++)
        {
            if (i != missing)
            {
                document[LoomDocument.Lists[i].Field] = new JsonArray([.. lists[i].Select(e => (JsonNode?)e.DeepClone())]);
            }
        }

        return document;
    }

    [Fact]
    public void A_loom_file_survives_the_csv_set_whatever_stands_in_it() =>
        Documents.Sample(d => Same(d, LoomTableWriter.CsvSet(LoomTableWriter.Tables(d)), "set.zip"), iter: 300);

    [Fact]
    public void A_loom_file_survives_a_workbook_whatever_stands_in_it() =>
        Documents.Sample(d => Same(d, Workbook.Write(LoomTableWriter.Tables(d)), "set.xlsx"), iter: 100);

    [Theory]
    [InlineData("""{ "ref": "D", "pins": { "a": "b\n" } }""")]
    [InlineData("""{ "ref": "D", "pins": { "\na": "b" } }""")]
    [InlineData("""{ "ref": "D\n", "kind": " fuse " }""")]
    [InlineData("""{ "ref": "D", "pins": { "a b": "c" } }""")]
    public void Blanks_and_line_ends_at_the_edge_of_a_value_survive(string device)
    {
        var document = new JsonObject { ["format"] = "wise-loom/loom", ["version"] = 1, ["loom"] = new JsonObject(), ["devices"] = new JsonArray(JsonNode.Parse(device)) };
        Same(document, LoomTableWriter.CsvSet(LoomTableWriter.Tables(document)), "set.zip");
        Same(document, Workbook.Write(LoomTableWriter.Tables(document)), "set.xlsx");
    }

    [Theory]
    [InlineData("frost-fan.json")]
    [InlineData("work-launch.json")]
    public void The_demo_looms_survive_both(string name)
    {
        var document = JsonNode.Parse(Looms.DemoFile(name))!.AsObject();
        Same(document, LoomTableWriter.CsvSet(LoomTableWriter.Tables(document)), "set.zip");
        Same(document, Workbook.Write(LoomTableWriter.Tables(document)), "set.xlsx");
        LoomImport.Read(LoomTableWriter.CsvSet(LoomTableWriter.Tables(document)), "set.zip", null).IsSound.ShouldBeTrue();
    }

    private static void Same(JsonObject document, byte[] file, string name)
    {
        var reading = LoomImport.Read(file, name, new JsonObject());
        var back = reading.Document.ShouldNotBeNull(string.Join("; ", reading.Problems));
        JsonNode.DeepEquals(back, document).ShouldBeTrue($"{document.ToJsonString()}\n became \n{back.ToJsonString()}");
    }

    [Fact]
    public void No_cell_of_a_table_begins_as_a_formula() => Documents.Sample(d =>
    {
        foreach (var cell in LoomTableWriter.Tables(d).SelectMany(t => t.Rows).SelectMany(r => r.Cells).Where(c => c.Length > 0 && !double.TryParse(c, out _)))
        {
            cell[0].ShouldNotBeOneOf('=', '+', '-', '@', '\t', '\r');
        }
    }, iter: 200);

    private const string Plain = "wire,from,to,colour,mm2,length_mm,circuit\nW1,A:1,B:1,BU/WH,0.5,1000,Injector\nW2,A:2,B:2,RD,0.75,1200,Feed\n";

    public static TheoryData<string, byte[]> Spellings => new()
    {
        { "commas", Encoding.UTF8.GetBytes(Plain) },
        { "semicolons and decimal commas", Encoding.UTF8.GetBytes(Plain.Replace(',', ';').Replace('.', ',')) },
        { "tabs", Encoding.UTF8.GetBytes(Plain.Replace(',', '\t')) },
        { "byte order mark", [.. Encoding.UTF8.Preamble, .. Encoding.UTF8.GetBytes(Plain)] },
        { "Windows line ends", Encoding.UTF8.GetBytes(Plain.Replace("\n", "\r\n", StringComparison.Ordinal)) },
        { "UTF-16", [.. Encoding.Unicode.Preamble, .. Encoding.Unicode.GetBytes(Plain)] },
        { "blank rows before and between", Encoding.UTF8.GetBytes("\n\n" + Plain.Replace("\nW2", "\n,,,,,,\nW2", StringComparison.Ordinal)) },
        { "other heads", Encoding.UTF8.GetBytes(Plain.Replace("wire,from,to,colour,mm2,length_mm,circuit", "No,Start,End,Color,Size,Length,Function", StringComparison.Ordinal)) },
        { "quoted", Encoding.UTF8.GetBytes(Plain.Replace("Injector", "\"Injector\"", StringComparison.Ordinal)) },
    };

    [Theory]
    [MemberData(nameof(Spellings))]
    public void However_a_spreadsheet_writes_it_the_wires_are_read(string how, byte[] file)
    {
        var over = Looms.Json("A:9-B:9");
        over["families"]![0]!["rows"] = JsonNode.Parse("""[["1","2","9"]]""");
        var reading = LoomImport.Read(file, "list.csv", over);
        reading.Problems.ShouldBeEmpty(how);
        var wires = reading.Document!["wires"]!.AsArray();
        wires.Count.ShouldBe(2);
        wires[0]!["colour"]!.GetValue<string>().ShouldBe("BU/WH");
        wires[1]!["mm2"]!.GetValue<double>().ShouldBe(0.75);
        wires[1]!["circuit"]!.GetValue<string>().ShouldBe("Feed");
    }

    [Fact]
    public void Latin_1_is_read_when_it_is_no_utf_8()
    {
        var reading = LoomImport.Read(Encoding.Latin1.GetBytes("wire,from,to,circuit\nW1,A:1,B:1,Kühler\n"), "wires.csv", Looms.Json("A:1-B:1"));
        reading.Document!["wires"]![0]!["circuit"]!.GetValue<string>().ShouldBe("Kühler");
    }

    public static TheoryData<string, string, string> BadTables => new()
    {
        { "a quotation mark inside a cell", "wire,from,to,colour\nW1,A:1,B\"1,RD\n", "wires.csv row 2, column 3" },
        { "a cell that is never closed", "wire,from,to\nW1,A:1,B:1\nW2,\"A:2,B:2\n", "wires.csv row 3, column 2" },
        { "two columns for one field", "wire,from,to,size,mm2\nW1,A:1,B:1,1,1\n", "wires.csv row 1, column mm2" },
        { "a value below no head", "wire,from,to\nW1,A:1,B:1,stray\n", "wires.csv row 2, column 4" },
        { "broken JSON in more", "wire,from,to,more\nW1,A:1,B:1,{\n", "wires.csv row 2, column more" },
        { "nothing at all", "\n\n", "wires.csv" },
        { "a length that is no number", "wire,from,to,mm2,length_mm\nW1,A:1,B:1,0.5,long\n", "wires.csv row 2, column length_mm" },
        { "an unknown connector", "wire,from,to,mm2,length_mm\n\nW1,A:1,B:1,0.5,10\nW2,Q:1,B:2,0.5,10\n", "wires.csv row 4, column from" },
        { "an unknown colour", "wire,from,to,mm2,length_mm,colour\nW1,A:1,B:1,0.5,10,PUCE\n", "wires.csv row 2, column colour" },
    };

    [Theory]
    [MemberData(nameof(BadTables))]
    public void A_bad_table_is_refused_with_row_and_column(string what, string text, string at)
    {
        var reading = LoomImport.Read(Encoding.UTF8.GetBytes(text), "wires.csv", Looms.Json("A:1-B:1", "A:2-B:2"));
        reading.IsSound.ShouldBeFalse(what);
        reading.Problems.Select(p => p.At).ShouldContain(at, what);
    }

    [Fact]
    public void A_hundred_thousand_rows_are_refused_at_the_row_that_is_too_many()
    {
        var text = new StringBuilder("wire,from,to\n");
        for (var i = 0; i < 100_000; i++)
        {
            text.Append("W,A:1,B:1\n");
        }

        LoomImport.Read(Encoding.UTF8.GetBytes(text.ToString()), "wires.csv", null).Problems.ShouldHaveSingleItem().At.ShouldBe("wires.csv row 20002");
    }

    [Fact]
    public void A_zip_bomb_is_refused_before_anything_in_it_is_believed()
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, true))
        {
            zip.CreateEntry("[Content_Types].xml").Open().Dispose();
            using var entry = zip.CreateEntry("xl/worksheets/sheet1.xml", CompressionLevel.SmallestSize).Open();
            var block = new byte[1024 * 1024];
            for (var i = 0; i < 200; i++)
            {
                entry.Write(block);
            }
        }

        stream.Length.ShouldBeLessThan(1024 * 1024);
        LoomImport.Read(stream.ToArray(), "bomb.xlsx", null).Problems.ShouldHaveSingleItem().Message.ShouldContain("64 MB");
    }

    [Theory]
    [InlineData("PK\u0003\u0004 nothing after it")]
    [InlineData("PK\u0005\u0006")]
    public void A_damaged_archive_is_refused_in_words(string bytes) =>
        LoomImport.Read(Encoding.Latin1.GetBytes(bytes), "x.xlsx", null).Problems.ShouldNotBeEmpty();

    [Fact]
    public void Archives_of_other_things_hold_no_table()
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, true))
        {
            zip.CreateEntry("picture.png").Open().Dispose();
        }

        LoomImport.Read(stream.ToArray(), "x.zip", null).Problems.ShouldHaveSingleItem().Message.ShouldContain("No table");
    }

    [Fact]
    public void Tables_that_are_absent_leave_their_lists_as_they_were()
    {
        var over = Looms.Json("A:1-B:1");
        var reading = LoomImport.Read(Encoding.UTF8.GetBytes("connector,title,family\nA,New title,ten\nB,,ten\n"), "connectors.csv", over);
        reading.Problems.ShouldBeEmpty();
        reading.Document!["wires"]!.AsArray().Count.ShouldBe(1);
        reading.Document["connectors"]![0]!["title"]!.GetValue<string>().ShouldBe("New title");
    }
}
