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
public sealed record TabledReading(int Step, double? Shown, string At);

/// <summary>Reads <c>readings.csv</c>: <c>black</c>, <c>red</c> (empty for all other circuits) and <c>ohm</c> or <c>volt</c>, other columns as they like.</summary>
public static class ReadingTable
{
    private const string OverRange = "over range";

    private static readonly ImmutableArray<string> Columns = ["black", "red", "ohm", "volt"];

    /// <summary>Brings each row to its step by its two places, whichever probe was where.</summary>
    /// <param name="problems">What was wrong, with its row and column.</param>
    /// <returns>In the rows' order; a row without a value is a step that was left out, and gives none.</returns>
    public static ImmutableArray<TabledReading> Read(TextTable table, TestPlan plan, List<Problem> problems)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(plan);
        ArgumentNullException.ThrowIfNull(problems);
        var columns = Columns.ToDictionary(c => c, c => table.Head.IndexOf(c), StringComparer.Ordinal);
        if (columns["black"] < 0 || columns["red"] < 0 || (columns["ohm"] < 0 && columns["volt"] < 0))
        {
            problems.Add(new(table.Place(table.HeadRow), "The head names the columns black, red, and ohm or volt."));
            return [];
        }

        var readings = ImmutableArray.CreateBuilder<TabledReading>();
        foreach (var row in table.Rows)
        {
            // Over range stands under ohm, whatever the step is read in.
            var unit = row[columns["volt"]].Length > 0 ? ReadingUnit.Volt : ReadingUnit.Ohm;
            var column = unit == ReadingUnit.Volt ? "volt" : "ohm";
            var text = row[columns[column]];
            if (text.Length == 0)
            {
                continue;
            }

            var shown = double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && double.IsFinite(value) ? value : (double?)null;
            if (shown is null && text != OverRange)
            {
                problems.Add(new(table.Place(row.Number, column), $"'{text}' is no number; write one such as 0.072, or {OverRange}."));
            }
            else if (Places(row, columns["black"], columns["red"]) is not { } places)
            {
                problems.Add(new(table.Place(row.Number, "black"), "A place is written CONNECTOR:CAVITY, such as ECU-A:8."));
            }
            else if (plan.Steps.FirstOrDefault(s => Is(s, places) && (s.Unit == unit || shown is null)) is not { } step)
            {
                problems.Add(new(table.Place(row.Number), $"The plan has no step in {(unit == ReadingUnit.Volt ? "volts" : "ohms")} from {places.Black} to {places.Red?.ToString() ?? "all other circuits"}."));
            }
            else
            {
                readings.Add(new(step.Number, shown, table.Place(row.Number, column)));
            }
        }

        return readings.ToImmutable();
    }

    private static bool Is(PlanStep step, (ProbePoint Black, ProbePoint? Red) places) =>
        (step.Black == places.Black && step.Red == places.Red) || (step.Red == places.Black && step.Black == places.Red);

    private static (ProbePoint Black, ProbePoint? Red)? Places(TextRow row, int black, int red)
    {
        var other = row[red];
        return ProbePoint.TryParse(row[black], out var one) && (ProbePoint.TryParse(other, out var two) || other.Length == 0) ? (one, other.Length == 0 ? null : two) : null;
    }
}
