using System.IO.Compression;
using System.Text;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Workbooks as other programs write them: shared texts, formulas, merged cells, errors.</summary>
public sealed class WorkbookTests
{
    [Fact]
    public void Shared_texts_numbers_and_booleans_are_read_as_a_person_sees_them()
    {
        var (tables, problems) = Read("""
            <row r="1"><c r="A1" t="s"><v>0</v></c><c r="B1" t="s"><v>1</v></c><c r="D1" t="inlineStr"><is><r><t>len</t></r><r><t>gth</t></r></is></c></row>
            <row r="3"><c r="A3"><v>0.34999999999999998</v></c><c r="B3" t="b"><v>1</v></c><c r="D3"><v>1450</v></c></row>
            """);
        problems.ShouldBeEmpty();
        tables[0].Head.ShouldBe(["wire", "from", "", "length"]);
        tables[0].Rows.ShouldHaveSingleItem().Number.ShouldBe(3);
        tables[0].Rows[0].Cells.ShouldBe(["0.35", "true", "", "1450"]);
    }

    [Fact]
    public void A_formula_gives_the_value_that_was_shown()
    {
        var (tables, problems) = Read("""<row r="1"><c r="A1" t="s"><v>0</v></c></row><row r="2"><c r="A2"><f>600+850</f><v>1450</v></c></row>""");
        problems.ShouldBeEmpty();
        tables[0].Rows[0][0].ShouldBe("1450");
    }

    [Theory]
    [InlineData("""<row r="1"><c r="A1" t="s"><v>0</v></c></row><row r="2"><c r="B2"><f>600+850</f></c></row>""", "sheet wires row 2, column B", "formula")]
    [InlineData("""<row r="1"><c r="A1" t="s"><v>0</v></c></row><row r="7"><c r="AB7" t="e"><v>#DIV/0!</v></c></row>""", "sheet wires row 7, column AB", "#DIV/0!")]
    public void What_has_no_value_is_refused_with_row_and_column(string rows, string at, string says)
    {
        var problem = Read(rows).Problems.ShouldHaveSingleItem();
        problem.At.ShouldBe(at);
        problem.Message.ShouldContain(says);
    }

    [Fact]
    public void Merged_heads_are_refused_since_nobody_can_tell_whose_text_it_is() =>
        Read("""<row r="1"><c r="A1" t="s"><v>0</v></c></row>""", """<mergeCells count="1"><mergeCell ref="A1:B1"/></mergeCells>""").Problems.ShouldHaveSingleItem().At.ShouldBe("sheet wires, A1:B1");

    [Fact]
    public void Texts_that_no_spreadsheet_writes_are_refused_before_they_fill_the_memory()
    {
        string Cell(int row, int length) => $"""<row r="{row}"><c r="A{row}" t="inlineStr"><is><t>{new string('x', length)}</t></is></c></row>""";
        Read(Cell(1, 32_767)).Problems.ShouldBeEmpty();
        Read(Cell(1, 32_768)).Problems.ShouldHaveSingleItem().Message.ShouldContain("more than 32,767 characters");
        Read($"""<row r="1"><c r="A1"><v>{new string('1', 40_000)}</v></c></row>""").Problems.ShouldHaveSingleItem().Message.ShouldContain("more than 32,767 characters");
        var many = Read(string.Concat(Enumerable.Range(1, 260).Select(r => Cell(r, 32_000)))).Problems.ShouldHaveSingleItem();
        many.Message.ShouldContain("More than 8,000,000 characters");
        many.At.ShouldBe("sheet wires row 250, column A");
    }

    [Fact]
    public void Too_many_rows_are_refused_at_the_row()
    {
        var rows = new StringBuilder();
        for (var i = 1; i <= 20_010; i++)
        {
            rows.Append(System.Globalization.CultureInfo.InvariantCulture, $"<row r=\"{i}\"><c r=\"A{i}\"><v>1</v></c></row>");
        }

        Read(rows.ToString()).Problems.ShouldHaveSingleItem().At.ShouldBe("sheet wires row 20002");
    }

    [Theory]
    [InlineData("<row r=\"1\"><c r=\"A1\" t=\"s\"><v>99</v></c></row>")]
    [InlineData("<row r=\"1\"><c r=\"ZZZZZ1\"><v>1</v></c></row>")]
    [InlineData("<row r=\"1\"><c><v>1</v></c>")]
    [InlineData("<row r=\"x\"/>")]
    [InlineData("<!DOCTYPE a [<!ENTITY b \"c\">]>")]
    public void A_damaged_sheet_never_throws(string rows) => Read(rows).Tables.Length.ShouldBeLessThan(2);

    public static TheoryData<string, string, string, string> Costly => new()
    {
        { "empty rows", string.Concat(Enumerable.Repeat("<row/>", 150_000)), "", "More than 100,000 rows" },
        { "one row of one cell over and over", $"<row r=\"1\">{string.Concat(Enumerable.Repeat("<c r=\"A1\"><v>1</v></c>", 1_100_000))}</row>", "", "This cell stands twice" },
        { "empty cells in many rows", string.Concat(Enumerable.Repeat($"<row>{string.Concat(Enumerable.Repeat("<c/>", 150))}</row>", 8_000)), "", "More than 350,000 cells" },
        { "merged ranges", "<row><c t=\"inlineStr\"><is><t>wire</t></is></c></row>", $"<mergeCells>{string.Concat(Enumerable.Repeat("<mergeCell ref=\"A1:B1\"/>", 200_000))}</mergeCells>", "These cells are merged" },
        { "errors", string.Concat(Enumerable.Repeat("<row><c t=\"e\"><v>#REF!</v></c></row>", 19_000)), "", "Shows the error" },
        { "far to the right", string.Concat(Enumerable.Repeat("<row><c r=\"ZZ1\"><v>1</v></c></row>", 19_000)), "", "At most 200 columns" },
    };

    [Theory]
    [MemberData(nameof(Costly))]
    public void What_claims_to_hold_more_than_any_loom_is_left_where_its_limit_is(string what, string rows, string after, string says)
    {
        var (tables, problems) = Read(rows, after);
        tables.ShouldBeEmpty(what);
        problems.Count.ShouldBeInRange(1, SheetBudget.MostProblems);
        problems.ShouldAllBe(p => p.Message.StartsWith(says, StringComparison.Ordinal));
    }

    [Fact]
    public void Sheets_and_shared_texts_without_end_are_refused()
    {
        Read("<row/>", sheets: 41).Problems.ShouldHaveSingleItem().Message.ShouldStartWith("More than 40 sheets");
        Read("<row/>", sheets: 40).Problems.ShouldBeEmpty();
        Read("<row/>", texts: string.Concat(Enumerable.Repeat("<si/>", 500_001))).Problems.ShouldHaveSingleItem().Message.ShouldStartWith("More than 500,000 different texts");
    }

    [Theory]
    [InlineData(41, 1, "More than 40 tables")]
    [InlineData(1, 9 * 1024 * 1024, "Unpacks to more than the 8 MB")]
    public void A_set_of_too_many_or_too_large_tables_is_refused(int count, int length, string says)
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, true))
        {
            for (var i = 0; i < count; i++)
            {
                using var entry = zip.CreateEntry($"wires{i}.csv").Open();
                entry.Write(new byte[length]);
            }
        }

        LoomImport.Read(stream.ToArray(), "set.zip", null).Problems.ShouldHaveSingleItem().Message.ShouldStartWith(says);
    }

    [Fact]
    public void A_text_of_more_cells_than_any_loom_has_is_left_where_its_limit_is()
    {
        var problems = new List<Problem>();
        CsvText.Read(string.Concat(Enumerable.Repeat(new string(',', 150) + "\n", 8_000)), "wires", "wires.csv", problems).ShouldBeNull();
        problems.ShouldHaveSingleItem().Message.ShouldStartWith("More than 350,000 cells");
    }

    [Fact]
    public void What_is_written_reads_back_the_same()
    {
        var table = new TextTable("wires", "sheet wires", 1, ["wire", "length"], [new(2, ["W1", " 5 "]), new(3, ["W2", ""])]);
        var problems = new List<Problem>();
        var back = Workbook.Read(Workbook.Write([table, table with { Name = "pins" }]), "book.xlsx", problems)!.Value;
        problems.ShouldBeEmpty();
        back.Select(t => t.Name).ShouldBe(["wires", "pins"]);
        back[0].Rows.Select(r => (r.Number, r[0], r[1])).ShouldBe([(2, "W1", " 5 "), (3, "W2", "")]);
    }

    private static (System.Collections.Immutable.ImmutableArray<TextTable> Tables, List<Problem> Problems) Read(string rows, string after = "", int sheets = 1, string texts = "<si><t>wire</t></si><si><t>from</t></si>")
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, true))
        {
            void Add(string name, string text)
            {
                using var entry = zip.CreateEntry(name).Open();
                entry.Write(Encoding.UTF8.GetBytes("<?xml version=\"1.0\" encoding=\"UTF-8\"?>" + text));
            }

            const string Main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
            const string Office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
            const string Package = "http://schemas.openxmlformats.org/package/2006";
            const string Type = "application/vnd.openxmlformats-officedocument.spreadsheetml";
            Add("[Content_Types].xml", $"<Types xmlns=\"{Package}/content-types\"><Default Extension=\"rels\" ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/><Override PartName=\"/xl/workbook.xml\" ContentType=\"{Type}.sheet.main+xml\"/><Override PartName=\"/xl/s1.xml\" ContentType=\"{Type}.worksheet+xml\"/><Override PartName=\"/xl/texts.xml\" ContentType=\"{Type}.sharedStrings+xml\"/></Types>");
            Add("_rels/.rels", $"<Relationships xmlns=\"{Package}/relationships\"><Relationship Id=\"r1\" Type=\"{Office}/officeDocument\" Target=\"xl/workbook.xml\"/></Relationships>");
            Add("xl/workbook.xml", $"<workbook xmlns=\"{Main}\" xmlns:r=\"{Office}\"><sheets>{string.Concat(Enumerable.Range(1, sheets).Select(i => $"<sheet name=\"{(i == 1 ? "wires" : $"wires{i}")}\" sheetId=\"{i}\" r:id=\"r1\"/>"))}</sheets></workbook>");
            Add("xl/_rels/workbook.xml.rels", $"<Relationships xmlns=\"{Package}/relationships\"><Relationship Id=\"r1\" Type=\"{Office}/worksheet\" Target=\"s1.xml\"/><Relationship Id=\"r2\" Type=\"{Office}/sharedStrings\" Target=\"texts.xml\"/></Relationships>");
            Add("xl/texts.xml", $"<sst xmlns=\"{Main}\">{texts}</sst>");
            Add("xl/s1.xml", $"<worksheet xmlns=\"{Main}\"><sheetData>{rows}</sheetData>{after}</worksheet>");
        }

        var problems = new List<Problem>();
        return (Workbook.Read(stream.ToArray(), "book.xlsx", problems) ?? [], problems);
    }
}
