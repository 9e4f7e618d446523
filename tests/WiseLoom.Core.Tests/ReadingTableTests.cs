using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;
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
        var back = ReadingTable.Read(BenchTables.Readings(RunRecord.Of(bench.Run, bench.Events)), Looms.WorkLaunch, Plan, problems);
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
            back.ShouldHaveSingleItem().ShouldSatisfyAllConditions(r => r.Step.ShouldBe(step.Number), r => r.Shown.ShouldBe(0.05), r => r.At.ShouldBe("readings.csv row 2, column ohm"));
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

    [Fact]
    public void Between_two_circuits_any_place_of_each_will_do()
    {
        var nets = WireGraph.Topology(Looms.WorkLaunch);
        var step = Plan.Steps.First(s => !s.IsJoined && s.Red is not null && nets.NetOf(s.Black)!.Points.Length > 1 && nets.NetOf(s.Red.Value)!.Points.Length > 1);
        var (black, red) = (nets.NetOf(step.Black)!.Points.First(p => p != step.Black), nets.NetOf(step.Red!.Value)!.Points.First(p => p != step.Red));
        var (back, problems) = Read($"black,red,ohm\n{red},{black},over range\n");
        problems.ShouldBeEmpty();
        back.ShouldHaveSingleItem().Step.ShouldBe(step.Number);
    }

    [Fact]
    public void Who_and_when_come_along_and_a_time_that_is_none_is_named()
    {
        var step = Plan.Steps[0];
        var (back, problems) = Read($"black,red,ohm,at,by\n{step.Black},{step.Red},0.05,2031-05-04T16:20:00Z,Tomas\n{step.Black},{step.Red},0.05,noon,Tomas\n");
        back.ShouldHaveSingleItem().TakenAt.ShouldBe(new DateTimeOffset(2031, 5, 4, 16, 20, 0, TimeSpan.Zero));
        back[0].By.ShouldBe("Tomas");
        problems.ShouldHaveSingleItem().At.ShouldBe("readings.csv row 3, column at");
    }

    [Fact]
    public void A_row_has_the_same_key_whenever_it_comes_and_the_same_row_twice_has_two()
    {
        var (once, again) = (new ReadingKey(7), new ReadingKey(7));
        var keys = new[] { once.Of("a"), once.Of("b"), once.Of("a") };
        keys.Distinct().Count().ShouldBe(3);
        new[] { again.Of("a"), again.Of("b"), again.Of("a") }.ShouldBe(keys);
        new ReadingKey(8).Of("a").ShouldNotBe(keys[0]);
        keys.ShouldAllBe(k => k.Version == 8);
    }

    private static (IReadOnlyList<TabledReading> Readings, List<Problem> Problems) Read(string text)
    {
        var problems = new List<Problem>();
        var table = CsvText.Read(text, "readings", "readings.csv", problems);
        problems.ShouldBeEmpty();
        return ([.. ReadingTable.Read(table!, Looms.WorkLaunch, Plan, problems)], problems);
    }
}
