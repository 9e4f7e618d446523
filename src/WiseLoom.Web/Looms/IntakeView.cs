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
/// <param name="Sheets">Where they stand, with the connectors of charts.</param>
/// <param name="Name">Sheet of the first of them, whose rows are shown.</param>
/// <param name="Sample">Its first rows, and those that have problems.</param>
/// <param name="Remembered">The shop's name for tables with these headings; null where it does not know them.</param>
/// <param name="Left">Rows of it that were left out.</param>
internal sealed record TablesView(
    string Name, ImmutableArray<string> Sheets, TableShape Shape, int Rows, int Struck, ImmutableArray<ColumnView> Columns, ImmutableArray<TextRow> Sample, string? Remembered, ImmutableArray<TextRow> Left);

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
    /// <summary>So many connectors are shown.</summary>
    private const int MostConnectors = 500;

    internal static IntakeView Of(IntakeReading reading, string title)
    {
        var loom = reading.Loom;
        return new(
            [.. reading.Tables.GroupBy(t => (t.Shape, string.Join('\n', t.Columns.Select(c => $"{c.Heading} {c.Meaning} {c.Unit}")))).Select(Together)],
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

    private static TablesView Together(IEnumerable<TableReading> alike)
    {
        var all = alike.ToList();
        var first = all[0];
        return new(
            first.Sheet,
            [.. all.Select(t => t.Connector is null || t.Connector == t.Sheet ? t.Sheet : $"{t.Sheet}: {t.Connector}").Distinct()],
            first.Shape,
            all.Sum(t => t.Rows),
            all.Sum(t => t.Struck.Length),
            [.. first.Columns.Select(c => new ColumnView(IntakeMapping.Key(c), c.Heading, c.Meaning, c.Unit, c.Of, c.Probability, c.Samples))],
            first.Sample,
            first.Remembered,
            first.StruckRows);
    }
}
