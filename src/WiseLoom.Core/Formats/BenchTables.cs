using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Formats;

/// <summary>A run's record as tables for other programs.</summary>
public static class BenchTables
{
    /// <summary>What stands for a reading beyond the range, and for what an eye found.</summary>
    internal const string OverRange = "over range", Good = "as it should be", Bad = "not as it should be";

    /// <summary><c>readings.csv</c>: every reading in the order of steps; a step without one has a row that says why.</summary>
    public static TextTable Readings(ImmutableArray<RecordedStep> record)
    {
        IEnumerable<string[]> rows = record.SelectMany(step => step.Readings.IsEmpty
            ? [[.. Step(step.Step), "", "", "", "", step.Skipped is not null ? "skipped" : step.Carried is not null || step.Group is not null ? "pass" : "not-tested", "", "", step.Skipped ?? step.Carried ?? step.Group ?? ""]]
            : step.Readings.Select(r => (string[])[.. Step(step.Step), .. Shown(step.Step, r.Reading), Word(r.Verdict), r.By, r.At.ToUniversalTime().ToString("yyyy-MM-ddTHH:mm:ssZ", CultureInfo.InvariantCulture), Note(r)]));
        return Table("readings", ["step", "kind", "black", "red", "least_ohm", "most_ohm", "ohm", "volt", "newton", "look", "verdict", "by", "at", "note"], rows);
    }

    /// <summary><c>faults.csv</c>: one row for each fault of the run.</summary>
    public static TextTable Faults(BenchRun run) => Table(
        "faults",
        ["fault", "step", "seen", "cause", "state", "did", "places", "minutes", "by", "at"],
        run.Faults.Select(f => (string[])
        [
            Number(f.Number), Number(f.Step), f.Seen, f.Cause?.Words ?? "", run.StateOf(f).ToString().ToLowerInvariant(), f.Fix?.Did ?? "", f.Fix is null ? "" : string.Join(' ', f.Fix.Places),
            f.Fix?.Minutes is { } minutes ? Number(minutes) : "", f.FixedBy ?? f.LoggedBy, f.LoggedAt.ToUniversalTime().ToString("yyyy-MM-ddTHH:mm:ssZ", CultureInfo.InvariantCulture),
        ]));

    /// <summary>What was shown, each unit in its column; a drop with the resistance it says beside it.</summary>
    private static IEnumerable<string> Shown(PlanStep step, Reading reading)
    {
        var ohm = reading.Unit is ReadingUnit.Ohm or ReadingUnit.Volt && step.AsPair(reading) is { } pair ? pair.Ohms : reading.Ohms;
        var open = reading.IsOverRange || (reading.Unit == ReadingUnit.Volt && ohm is null && step.Phase == StepPhase.UnderLoad);
        string In(ReadingUnit unit) => reading.Unit == unit && reading.Value is { } value ? Number(value) : "";
        return [open ? OverRange : ohm is { } ohms ? Number(ohms) : "", In(ReadingUnit.Volt), In(ReadingUnit.Newton), reading.Unit == ReadingUnit.Sight ? reading.Value > 0.5 ? Good : Bad : ""];
    }

    private static string Note(RecordedReading r) => (r.Moved is { } moved ? $"{moved.InWords()}; " : "") + (r.Elsewhere is { } file ? $"brought in from {file}" : r.FromMeter ? "meter" : "typed") + r.Bearing switch
    {
        Bearing.BeforeFix => ", from before the fix",
        Bearing.Overtaken => ", overtaken",
        Bearing.Doubtful => ", with a meter that was not right",
        _ => "",
    };

    private static IEnumerable<string> Step(PlanStep s) =>
        [Number(s.Number), s.Kind, s.Black.ToString(), s.Red?.ToString() ?? "", .. s.AsPair(default) is null ? ["", ""] : (string[])[Number(s.Limits.Least), double.IsInfinity(s.Limits.Most) ? "" : Number(s.Limits.Most)]];

    private static string Word(Verdict verdict) => verdict switch { Verdict.Pass => "pass", Verdict.Fail => "fail", _ => "cant-tell" };

    private static TextTable Table(string name, string[] head, IEnumerable<string[]> rows) =>
        new(name, name, 1, [.. head], [.. rows.Select((r, i) => new TextRow(i + 2, [.. r.Select(FormulaGuard.Neutralise)]))]);

    private static string Number(double value) => value.ToString("R", CultureInfo.InvariantCulture);
}
