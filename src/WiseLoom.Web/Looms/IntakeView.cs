using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Pinouts;

namespace WiseLoom.Web.Looms;

/// <summary>A column as the page shows it, with what it can be taken for instead.</summary>
/// <param name="Key">How a mapping calls it.</param>
/// <param name="Of">The connector whose cavities it holds; null where another column says it.</param>
/// <param name="Samples">Cells that it was told by.</param>
internal sealed record ColumnView(string Key, string Heading, Meaning Meaning, string? Unit, string? Of, double Probability, ImmutableArray<string> Samples);

/// <summary>Tables with the same headings: they have one mapping.</summary>
/// <param name="Parts">Each of them.</param>
/// <param name="Remembered">The shop's name for tables with these headings; null where it does not know them.</param>
internal sealed record TablesView(TableShape Shape, int Rows, ImmutableArray<ColumnView> Columns, ImmutableArray<TablePartView> Parts, string? Remembered);

/// <summary>One table, whose rows are shown by themselves.</summary>
/// <param name="Sheet">Where it stands.</param>
/// <param name="Title">The sheet, with the connector of a chart where the sheet is called otherwise.</param>
/// <param name="Problems">How many of its rows have any.</param>
/// <param name="Sample">Its first rows, and those that have problems.</param>
/// <param name="Struck">How many rows of it were left out.</param>
/// <param name="Left">The first of them.</param>
internal sealed record TablePartView(string Sheet, string Title, int Rows, int Problems, ImmutableArray<TextRow> Sample, int Struck, ImmutableArray<TextRow> Left);

/// <summary>A connector that comes out.</summary>
/// <param name="Pins">How many pins of it occur.</param>
/// <param name="Family">Id of the family it has.</param>
/// <param name="IsConfirmed">Whether a person chose its face.</param>
/// <param name="Made">Its family as a loom file writes it, where it was made from its pins; null where it is the shop's.</param>
/// <param name="Fits">The shop's families that have all its pins.</param>
internal sealed record FoundConnectorView(string Ref, int Pins, string Family, bool IsConfirmed, JsonElement? Made, ImmutableArray<string> Fits);

/// <summary>How a stranger's tables were understood, and what comes out.</summary>
/// <param name="Asks">Whether a connector has to be named for the pins of a chart.</param>
/// <param name="Estimated">How many wires have a length or a section that nobody gave.</param>
/// <param name="UnknownColours">Words for colours that nobody has explained yet.</param>
/// <param name="Sheet">The same as a sheet of the pinout book; null when it would be too long, or when nothing came out.</param>
internal sealed record IntakeView(
    ImmutableArray<TablesView> Tables, ImmutableArray<FoundConnectorView> Connectors, int Wires, int Nets, int Estimated, ImmutableArray<string> Splices, ImmutableArray<string> Guessed,
    ImmutableArray<IntakeProblem> Problems, bool Asks, ImmutableArray<string> UnknownColours, Sheet? Sheet)
{
    /// <summary>So many connectors are shown, so many rows of all tables together, and so many of each table whatever the others have.</summary>
    private const int MostConnectors = 500, MostRows = 4000, FewRows = 10;

    internal static IntakeView Of(IntakeReading reading, string title)
    {
        var loom = reading.Loom;
        var rows = new RowBudget(MostRows);
        var wrong = reading.Problems.Where(p => p.Row > 0).Select(p => (p.Sheet, p.Row)).Distinct().ToLookup(p => p.Sheet, p => p.Row, StringComparer.Ordinal);
        return new(
            [.. reading.Tables.GroupBy(t => (t.Shape, string.Join('\n', t.Columns.Select(c => $"{c.Heading} {c.Meaning} {c.Unit}")))).Select(alike => Together(alike, rows, wrong))],
            [.. reading.Connectors.Take(MostConnectors).Select(c => Found(c, reading.Document))],
            loom?.Wires.Length ?? 0,
            loom is null ? 0 : WireGraph.Topology(loom).Nets.Count(n => n.Points.Length > 1),
            loom?.Wires.Count(w => w.IsEstimated) ?? 0,
            loom is null ? [] : [.. loom.Splices.Select(s => s.Ref)],
            reading.Guessed,
            reading.Problems,
            reading.Tables.Any(t => t.Shape == TableShape.Chart && t.Connector is null),
            reading.UnknownColours,
            loom is null ? null : PaperSheet.Of(loom, title.Length > 0 ? title : loom.Name));
    }

    /// <summary>What a person said of a file; null for nothing.</summary>
    /// <param name="wrong">What would be right, when it cannot be read.</param>
    internal static IntakeSaid? Read(string? text, out string? wrong)
    {
        wrong = null;
        if (string.IsNullOrEmpty(text))
        {
            return null;
        }

        IntakeSaid? said = null;
        try
        {
            said = JsonSerializer.Deserialize<IntakeSaid>(text, Core.Json.CoreJson.Options);
            wrong = said?.Wrong();
        }
        catch (JsonException)
        {
            said = null;
        }

        wrong ??= said is null ? "Columns by their headings are needed, each with its meaning: {\"columns\":{\"Von\":{\"meaning\":\"end\"}}}; cells as {\"sheet\",\"row\",\"column\",\"text\"}." : null;
        return wrong is null ? said! with { Connector = string.IsNullOrWhiteSpace(said.Connector) ? null : said.Connector.Trim() } : null;
    }

    private static FoundConnectorView Found(FoundConnector connector, JsonObject? document) => new(
        connector.Ref, connector.Pins.Length, connector.Family, connector.IsConfirmed,
        connector.Fits.Contains(connector.Family) || document?["families"]?.AsArray().FirstOrDefault(f => f!["id"]!.GetValue<string>() == connector.Family) is not { } body ? null : JsonSerializer.SerializeToElement(body),
        connector.Fits);

    private static TablesView Together(IEnumerable<TableReading> alike, RowBudget rows, ILookup<string, int> wrong)
    {
        var all = alike.ToList();
        var first = all[0];
        return new(
            first.Shape,
            all.Sum(t => t.Rows),
            [.. first.Columns.Select(c => new ColumnView(IntakeMapping.Key(c), c.Heading, c.Meaning, c.Unit, c.Of, c.Probability, c.Samples))],
            [.. all.Select(t => Part(t, rows, wrong))],
            first.Remembered);
    }

    private static TablePartView Part(TableReading table, RowBudget rows, ILookup<string, int> wrong)
    {
        var troubled = wrong[table.Sheet].ToHashSet();
        return new(
            table.Sheet,
            table.Connector is null || table.Connector == table.Sheet ? table.Sheet : $"{table.Sheet}: {table.Connector}",
            table.Rows,
            table.Sample.Count(r => troubled.Contains(r.Number)),
            rows.Take(table.Sample, troubled),
            table.Struck.Length,
            table.StruckRows);
    }

    /// <summary>How many rows may still be shown.</summary>
    private sealed class RowBudget(int left)
    {
        /// <summary>As many as there is room for, and a few in any case: first those that have problems, in the order of the table.</summary>
        internal ImmutableArray<TextRow> Take(ImmutableArray<TextRow> asked, HashSet<int> troubled)
        {
            ImmutableArray<TextRow> taken = asked.Length <= left
                ? asked
                : [.. asked.OrderByDescending(r => troubled.Contains(r.Number)).Take(Math.Max(left, FewRows)).OrderBy(r => r.Number)];
            left = Math.Max(0, left - taken.Length);
            return taken;
        }
    }
}
