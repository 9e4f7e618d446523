using System.Collections.Immutable;
using System.Text.Json;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Intake;

namespace WiseLoom.Web.Looms;

/// <summary>A column as the page shows it, with what it can be taken for instead.</summary>
/// <param name="Key">How a mapping calls it.</param>
/// <param name="Of">The connector whose cavities it holds; null where another column says it.</param>
internal sealed record ColumnView(string Key, string Heading, Meaning Meaning, string? Unit, string? Of, double Probability);

/// <summary>Tables with the same headings: they have one mapping.</summary>
/// <param name="Sheets">Where they stand, with the connectors of charts.</param>
/// <param name="Sample">First rows of the first of them.</param>
internal sealed record TablesView(ImmutableArray<string> Sheets, TableShape Shape, int Rows, int Struck, ImmutableArray<ColumnView> Columns, ImmutableArray<TextRow> Sample);

/// <summary>A connector that comes out.</summary>
internal sealed record FoundConnectorView(string Ref, int Pins);

/// <summary>How a stranger's tables were understood, and what comes out.</summary>
/// <param name="Asks">Whether a connector has to be named for the pins of a chart.</param>
/// <param name="Estimated">How many wires have a length or a section that nobody gave.</param>
internal sealed record IntakeView(
    ImmutableArray<TablesView> Tables, ImmutableArray<FoundConnectorView> Connectors, int Wires, int Nets, int Estimated, ImmutableArray<string> Splices, ImmutableArray<string> Guessed, ImmutableArray<IntakeProblem> Problems, bool Asks)
{
    /// <summary>The longest mapping that is read.</summary>
    private const int LongestMapping = 16_000;

    /// <summary>So many connectors are shown.</summary>
    private const int MostConnectors = 500;

    internal static IntakeView Of(IntakeReading reading)
    {
        var loom = reading.Loom;
        return new(
            [.. reading.Tables.GroupBy(t => (t.Shape, string.Join('\n', t.Columns.Select(c => $"{c.Heading} {c.Meaning} {c.Unit}")))).Select(Together)],
            loom is null ? [] : [.. loom.ProbePoints().CountBy(p => p.Connector).Take(MostConnectors).Select(c => new FoundConnectorView(c.Key, c.Value))],
            loom?.Wires.Length ?? 0,
            loom is null ? 0 : WireGraph.Topology(loom).Nets.Count(n => n.Points.Length > 1),
            loom?.Wires.Count(w => w.IsEstimated) ?? 0,
            loom is null ? [] : [.. loom.Splices.Select(s => s.Ref)],
            reading.Guessed,
            reading.Problems,
            reading.Tables.Any(t => t.Shape == TableShape.Chart && t.Connector is null));
    }

    /// <summary>A mapping out of a request; wrong where it is none.</summary>
    internal static bool TryRead(string? text, out IntakeMapping? mapping)
    {
        mapping = null;
        if (string.IsNullOrEmpty(text))
        {
            return true;
        }

        try
        {
            mapping = text.Length > LongestMapping ? null : JsonSerializer.Deserialize<IntakeMapping>(text, Core.Json.CoreJson.Options);
            return mapping is { Columns: not null } && mapping.Columns.Values.All(c => c is not null && Enum.IsDefined(c.Meaning));
        }
        catch (JsonException)
        {
            return false;
        }
    }

    private static TablesView Together(IEnumerable<TableReading> alike)
    {
        var all = alike.ToList();
        var first = all[0];
        return new(
            [.. all.Select(t => t.Connector is null || t.Connector == t.Sheet ? t.Sheet : $"{t.Sheet}: {t.Connector}").Distinct()],
            first.Shape,
            all.Sum(t => t.Rows),
            all.Sum(t => t.Struck.Length),
            [.. first.Columns.Select(c => new ColumnView(IntakeMapping.Key(c), c.Heading, c.Meaning, c.Unit, c.Of, c.Probability))],
            first.Sample);
    }
}
