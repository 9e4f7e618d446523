using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>Readings that leave as a table and come back from one.</summary>
public sealed class ReadingTableTests
{
    private static readonly TestPlan Plan = Bench.Plan(Looms.WorkLaunch, Isolation.Neighbours);

    [Fact]
    public void A_runs_readings_come_back_from_the_table_they_went_out_as() => Gen.Select(Gen.Int[1, Plan.Steps.Length], Gen.Int[0, 2]).List[0, 40].Sample(taken =>
    {
        var bench = new Bench(Looms.WorkLaunch, Plan);
        foreach (var (step, which) in taken)
        {
            var verdicts = Plan.Step(step)!.Bands(Plan.Meter).Select(b => b.Verdict).Distinct().ToList();
            bench.Read(step, verdicts[which % verdicts.Count]);
        }

        var problems = new List<Problem>();
        var back = ReadingTable.Read(BenchTables.Readings(RunRecord.Of(bench.Run, bench.Events)), Plan, problems);
        problems.ShouldBeEmpty();
        back.Select(r => (r.Step, r.Shown)).ShouldBe(
            bench.Events.Select(e => e.What).OfType<ReadingTaken>().OrderBy(r => r.Step).Select(r => (r.Step, r.Reading.Ohms)));
    }, iter: 60);

    [Fact]
    public void Which_probe_was_where_does_not_matter_and_neither_do_other_columns()
    {
        var step = Plan.Steps.First(s => s.Red is not null);
        foreach (var (black, red) in new[] { (step.Black, step.Red), (step.Red!.Value, step.Black) })
        {
            var (back, problems) = Read($"weather;red;black;ohm\nfine;{red};{black};0.05\n");
            problems.ShouldBeEmpty();
            back.ShouldHaveSingleItem().ShouldBe(new TabledReading(step.Number, 0.05, "readings.csv row 2, column ohm"));
        }
    }

    [Fact]
    public void A_row_without_a_value_is_a_step_that_was_left_out()
    {
        var step = Plan.Steps[0];
        var (back, problems) = Read($"black,red,ohm\n{step.Black},{step.Red},\n");
        problems.ShouldBeEmpty();
        back.ShouldBeEmpty();
    }

    [Fact]
    public void Every_row_that_fits_nowhere_is_named_and_the_others_are_read()
    {
        var step = Plan.Steps[0];
        var (back, problems) = Read($"black,red,ohm\n{step.Black},{step.Red},0.05\nnowhere,{step.Red},1\n{step.Black},{step.Black},1\n{step.Black},{step.Red},much\n");
        back.ShouldHaveSingleItem();
        problems.Select(p => p.At).ShouldBe(["readings.csv row 3, column black", "readings.csv row 4", "readings.csv row 5, column ohm"]);
    }

    private static (IReadOnlyList<TabledReading> Readings, List<Problem> Problems) Read(string text)
    {
        var problems = new List<Problem>();
        var table = CsvText.Read(text, "readings", "readings.csv", problems);
        problems.ShouldBeEmpty();
        return ([.. ReadingTable.Read(table!, Plan, problems)], problems);
    }
}
