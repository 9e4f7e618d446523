using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Formats;

/// <summary>A reading of a table, at the step of a plan that it belongs to.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="Shown">What the meter showed, in the step's unit; null for over range.</param>
/// <param name="At">Where it stands, as problems say it.</param>
/// <param name="TakenAt">When it was taken, as its column <c>at</c> says; null without one.</param>
/// <param name="By">Who took it, as its column <c>by</c> says; empty without one.</param>
/// <param name="Row">Its row in one line, by which the same row is known again.</param>
public sealed record TabledReading(int Step, double? Shown, string At, DateTimeOffset? TakenAt, string By, string Row);

/// <summary>Reads <c>readings.csv</c>: <c>black</c>, <c>red</c> (empty for all other circuits) and one of <c>ohm</c>, <c>volt</c>, <c>newton</c> and <c>look</c>; <c>kind</c>, <c>step</c>, <c>at</c> and <c>by</c> when they are there;
/// other columns as they like.</summary>
public sealed class ReadingTable
{
    private static readonly ImmutableArray<(string Column, ReadingUnit Unit)> Units = [("volt", ReadingUnit.Volt), ("newton", ReadingUnit.Newton), ("look", ReadingUnit.Sight), ("ohm", ReadingUnit.Ohm)];

    /// <summary>By what a row of a pair is known again.</summary>
    private static readonly ImmutableArray<string> Identity = ["black", "red", "ohm", "volt", "at", "by"];

    private static readonly ImmutableArray<string> Columns = ["step", "kind", "black", "red", "ohm", "volt", "newton", "look", "at", "by"];

    private readonly TextTable table;
    private readonly Dictionary<string, int> columns;
    private readonly WireGraph nets;
    private readonly ILookup<(ProbePoint, ProbePoint?), PlanStep> byPair;
    private readonly ILookup<(int, int), PlanStep> byNets;

    private ReadingTable(TextTable table, Loom loom, TestPlan plan)
    {
        this.table = table;
        columns = Columns.ToDictionary(c => c, c => table.Head.IndexOf(c), StringComparer.Ordinal);
        nets = WireGraph.Topology(loom);
        byPair = plan.Steps.ToLookup(s => Pair(s.Black, s.Red));
        byNets = plan.Steps.Where(s => !s.IsJoined).ToLookup(s => Nets(s.Black, s.Red) ?? (-1, -1));
    }

    /// <summary>Brings each row to its step by its two places, whichever probe was where. Between two circuits that must be apart, any place of each will do.</summary>
    /// <param name="loom">What the plan is for.</param>
    /// <param name="problems">What was wrong, with its row and column.</param>
    /// <returns>In the rows' order; a row without a value is a step that was left out, and gives none.</returns>
    public static ImmutableArray<TabledReading> Read(TextTable table, Loom loom, TestPlan plan, List<Problem> problems)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(problems);
        return new ReadingTable(table, loom, plan).Read(problems);
    }

    private ImmutableArray<TabledReading> Read(List<Problem> problems)
    {
        if (columns["black"] < 0 || columns["red"] < 0 || Units.All(u => columns[u.Column] < 0))
        {
            problems.Add(new(table.Place(table.HeadRow), "The head names the columns black, red, and one of ohm, volt, newton and look."));
            return [];
        }

        var readings = ImmutableArray.CreateBuilder<TabledReading>();
        foreach (var row in table.Rows)
        {
            // Over range stands under ohm, whatever the step is read in.
            var (column, unit) = Units.FirstOrDefault(u => row[columns[u.Column]].Length > 0, Units[^1]);
            if (row[columns[column]] is not { Length: > 0 } text)
            {
                continue;
            }

            if (!TryShown(text, unit, out var shown))
            {
                problems.Add(new(table.Place(row.Number, column), unit == ReadingUnit.Sight
                    ? $"'{text}' is no finding; write {BenchTables.Good}, or {BenchTables.Bad}."
                    : $"'{text}' is no number; write one such as 0.072, or {BenchTables.OverRange}."));
            }
            else if (Places(row) is not { } places)
            {
                problems.Add(new(table.Place(row.Number, "black"), "A place is written CONNECTOR:CAVITY, such as ECU-A:8."));
            }
            else if (!TryMoment(row, out var at))
            {
                problems.Add(new(table.Place(row.Number, "at"), $"'{row[columns["at"]]}' is no time; write one such as 2031-05-04T16:20:00Z, or leave it empty."));
            }
            else if (Step(row, places, unit, shown) is not { } step)
            {
                problems.Add(new(table.Place(row.Number), $"The plan has no step in {InWords(unit)} from {places.Black} to {places.Red?.ToString() ?? "all other circuits"}."));
            }
            else
            {
                readings.Add(new(step.Number, shown, table.Place(row.Number, column), at, row[columns["by"]], string.Join('\u001f', Identity.Select(c => row[columns[c]]).Concat(step.IsProbed ? [] : [column, text, row[columns["step"]]]))));
            }
        }

        return readings.ToImmutable();
    }

    private static string InWords(ReadingUnit unit) => unit switch { ReadingUnit.Volt => "volts", ReadingUnit.Newton => "newtons", ReadingUnit.Sight => "what an eye found", _ => "ohms" };

    private static bool TryShown(string text, ReadingUnit unit, out double? shown)
    {
        shown = unit == ReadingUnit.Sight ? text switch { BenchTables.Good => 1, BenchTables.Bad => 0, _ => null }
            : double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && double.IsFinite(value) ? value
            : null;
        return shown is not null || (unit != ReadingUnit.Sight && text == BenchTables.OverRange);
    }

    /// <summary>The step of a pair that is read in the unit. Where several are, as the samples of a lot or the directions of a diode, the one the row numbers.</summary>
    private PlanStep? Step(TextRow row, (ProbePoint Black, ProbePoint? Red) places, ReadingUnit unit, double? shown) =>
        byPair[Pair(places.Black, places.Red)].Where(s => s.Unit == unit || (shown is null && s.Unit is ReadingUnit.Ohm or ReadingUnit.Volt))
            .OrderByDescending(s => row[columns["step"]] == s.Number.ToString(CultureInfo.InvariantCulture)).ThenByDescending(s => row[columns["kind"]] == s.Kind).FirstOrDefault()
        ?? (Nets(places.Black, places.Red) is { } apart && unit == ReadingUnit.Ohm ? byNets[apart].FirstOrDefault() : null);

    private static (ProbePoint, ProbePoint?) Pair(ProbePoint black, ProbePoint? red) => red is { } other && other < black ? (other, black) : (black, red);

    /// <summary>Numbers of the two nets, the smaller first; −2 for all others. Null where a place is in no net, or both are in one.</summary>
    private (int, int)? Nets(ProbePoint black, ProbePoint? red)
    {
        if (nets.NetOf(black) is not { } one)
        {
            return null;
        }

        return red is not { } place ? (-2, one.Number) : nets.NetOf(place) is { } other && other.Number != one.Number ? (Math.Min(one.Number, other.Number), Math.Max(one.Number, other.Number)) : null;
    }

    private bool TryMoment(TextRow row, out DateTimeOffset? at)
    {
        var text = row[columns["at"]];
        var read = DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal, out var moment);
        at = read ? moment : null;
        return read || text.Length == 0;
    }

    private (ProbePoint Black, ProbePoint? Red)? Places(TextRow row)
    {
        var other = row[columns["red"]];
        return ProbePoint.TryParse(row[columns["black"]], out var one) && (ProbePoint.TryParse(other, out var two) || other.Length == 0) ? (one, other.Length == 0 ? null : two) : null;
    }
}
