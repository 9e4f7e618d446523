using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>A pace learned from the times between readings.</summary>
public sealed class LearnedCostTests
{
    private static readonly DateTimeOffset Start = Bench.Start;

    private static ProbePoint At(string connector, int cavity) => new(connector, $"{cavity}");

    /// <summary>Readings with a probe that stays on A:1 while the other goes on, each after so many seconds.</summary>
    private static List<TimedStep> Run(params (ProbePoint? Red, double After)[] steps)
    {
        var (list, at) = (new List<TimedStep>(), Start);
        foreach (var (red, after) in steps)
        {
            list.Add(new(new(At("A", 1), red), at = at.AddSeconds(after)));
        }

        return list;
    }

    private static IEnumerable<(ProbePoint? Red, double After)> Within(int count, double after) => Enumerable.Range(2, count + 1).Select(i => ((ProbePoint?)At("B", i), after));

    private static IEnumerable<(ProbePoint? Red, double After)> Between(int count, double after) => Enumerable.Range(0, count).Select(i => ((ProbePoint?)At(i % 2 == 0 ? "C" : "D", i), after));

    [Fact]
    public void The_median_touch_and_what_another_connector_costs_more_are_learned()
    {
        var learned = LearnedCost.From([Run([.. Within(30, 1.5), .. Between(30, 6)])], TouchCost.Usual);

        learned.Cost.Touch.ShouldBe(1.5);
        learned.Cost.Move.ShouldBe(4.5);
        learned.Cost.Clear.ShouldBe(TouchCost.Usual.Clear);
        learned.Readings.ShouldBe(60);
        learned.InWords().ShouldBe("1.5 s for a touch, 4.5 s more into another connector: your pace with this meter, from 60 readings.");
    }

    [Fact]
    public void Pauses_and_what_no_hand_can_do_are_not_counted()
    {
        var run = Run([.. Within(25, 2), (At("B", 90), 400), (At("B", 91), 0.04), .. Enumerable.Range(100, 10).Select(i => ((ProbePoint?)At("B", i), 61.0))]);

        LearnedCost.From([run], TouchCost.Usual).ShouldBe(new LearnedCost(TouchCost.Usual with { Touch = 2 }, 25));
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(LearnedCost.Enough - 1)]
    public void Too_few_readings_leave_the_usual_pace(int count)
    {
        var learned = LearnedCost.From([Run([.. Within(count, 1)])], TouchCost.Usual);

        learned.ShouldBe(new LearnedCost(TouchCost.Usual, 0));
        learned.InWords().ShouldContain("the usual pace");
    }

    [Fact]
    public void Time_between_two_runs_is_nobodys_pace_and_both_probes_together_are_no_touch()
    {
        var both = Enumerable.Range(1, 40).Select(i => new TimedStep(new(At("A", i), At("B", i)), Start.AddSeconds(5 * i))).ToList();

        LearnedCost.From([both], TouchCost.Usual).Readings.ShouldBe(0);
        LearnedCost.From(Enumerable.Range(0, 40).Select(i => Run((At("B", i), i))), TouchCost.Usual).Readings.ShouldBe(0);
    }

    [Fact]
    public void Along_the_shorting_plug_clearing_is_learned()
    {
        var plug = Enumerable.Range(1, 41).Select(i => new TimedStep(new(At("A", i), null), Start.AddSeconds(1000 + (7 * i))));

        LearnedCost.From([Run([.. Within(25, 2)]), [.. plug]], TouchCost.Usual).Cost.Clear.ShouldBe(5);
    }
}
