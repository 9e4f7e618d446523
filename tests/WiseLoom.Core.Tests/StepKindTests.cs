using System.Text.Json;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Tests;

/// <summary>What every kind of step must keep, whatever it measures: over all steps of plans that hold every kind.</summary>
public sealed class StepKindTests
{
    private static readonly TestPlan[] Plans =
    [
        Bench.Plan(Looms.FrostFan, Isolation.Neighbours, Meter.HandTwoWire, LoadInHand.Lamp(21, 12)),
        Bench.Plan(Looms.FrostFan, Isolation.Thorough),
        Bench.Plan(Looms.WorkLaunch, Isolation.Neighbours, Meter.HandTwoWire, LoadInHand.Resistor(5)),
        BeyondTests.Everything(Looms.FrostFan),
        BeyondTests.Everything(BeyondTests.WithDiode()),
    ];

    private static IEnumerable<(TestPlan Plan, PlanStep Step)> Steps => Plans.SelectMany(p => p.Steps.Select(s => (p, s)));

    [Fact]
    public void The_plans_hold_every_kind_there_is()
    {
        var kinds = typeof(PlanStep).Assembly.GetTypes().Where(t => t.IsSubclassOf(typeof(PlanStep)));
        Steps.Select(x => x.Step.GetType()).Distinct().ShouldBe(kinds, ignoreOrder: true);
    }

    [Fact]
    public void Bands_cover_the_scale_from_nothing_to_over_range_without_a_gap()
    {
        foreach (var (plan, step) in Steps)
        {
            var bands = step.Bands(plan.Meter);
            bands[0].From.ShouldBe(0);
            bands[^1].To.ShouldBeNull();
            bands.Zip(bands.Skip(1)).ShouldAllBe(b => b.First.To == b.Second.From && b.First.Verdict != b.Second.Verdict);
        }
    }

    [Fact]
    public void A_value_in_the_middle_of_a_band_is_judged_as_the_band_says()
    {
        foreach (var (plan, step) in Steps)
        {
            foreach (var band in step.Bands(plan.Meter).Where(b => b.To is not null))
            {
                // What an eye finds has no middle.
                plan.Judge(step, step is LookStep ? step.ReadingOf(Math.Floor(band.From)) : step.ReadingOf((band.From + band.To!.Value) / 2)).ShouldBe(band.Verdict, $"{step.Kind} {step.Number}, {band}");
            }
        }
    }

    [Fact]
    public void What_the_copper_explains_passes_or_cannot_be_told_but_never_fails()
    {
        foreach (var (plan, step) in Steps.Where(x => x.Step.Explained is not null))
        {
            var drawn = step.Explained!.Value;
            var reading = step is LoadStep load ? load.ReadingOf(load.Load.DropAt(drawn.Nominal)) : step.ReadingOf(drawn.Nominal);
            plan.Judge(step, reading).ShouldNotBe(Verdict.Fail, $"{step.Kind} {step.Number}");
        }
    }

    [Fact]
    public void Over_range_fails_where_metal_must_join_and_never_fails_where_none_must()
    {
        foreach (var (plan, step) in Steps.Where(x => x.Step.IsProbed))
        {
            (plan.Judge(step, step.ReadingOf(null)) == Verdict.Fail).ShouldBe(step.IsJoined, $"{step.Kind} {step.Number}");
        }
    }

    [Theory]
    [InlineData(double.NaN)]
    [InlineData(double.PositiveInfinity)]
    [InlineData(double.NegativeInfinity)]
    [InlineData(1e15)]
    [InlineData(-1e6)]
    public void No_kind_takes_what_no_meter_shows(double shown)
    {
        foreach (var (_, step) in Steps)
        {
            Should.Throw<ArgumentOutOfRangeException>(() => step.ReadingOf(shown)).Message.Length.ShouldBeGreaterThan(10);
        }
    }

    [Fact]
    public void The_ruler_holds_the_limits_with_room_on_the_right()
    {
        foreach (var (plan, step) in Steps.Where(x => x.Step is not LookStep))
        {
            var ruler = step.Ruler();
            ruler.From.ShouldBeGreaterThan(0);
            (ruler.To / ruler.From).ShouldBeGreaterThanOrEqualTo(1e4 * 0.999);
            foreach (var cut in step.Bands(plan.Meter).Where(b => b.To is not null && b.Verdict == Verdict.Pass))
            {
                cut.To!.Value.ShouldBeLessThan(ruler.To, $"{step.Kind} {step.Number}");
            }
        }
    }

    [Fact]
    public void A_step_is_written_and_read_back_as_its_own_kind()
    {
        foreach (var (_, step) in Steps)
        {
            var text = JsonSerializer.Serialize(step, CoreJson.Options);
            text.ShouldContain($"\"kind\":\"{step.Kind}\"");
            JsonSerializer.Deserialize<PlanStep>(text, CoreJson.Options).ShouldBe(step);
        }
    }

    [Fact]
    public void Every_kind_has_words_of_its_own()
    {
        foreach (var (_, step) in Steps)
        {
            step.Passes().ShouldNotBeNullOrWhiteSpace();
            step.MustBe.ShouldNotBeNullOrWhiteSpace();
            (step.Setup() is not null).ShouldBe(step.Phase is not (StepPhase.Bare or StepPhase.Looks));
            (step.Because() is not null).ShouldBe(step.Phase is not (StepPhase.Bare or StepPhase.UnderLoad));
            step.IsProbed.ShouldBe(step.Subject is null);
        }

        Steps.Select(x => x.Step).GroupBy(s => s.Sign).ShouldAllBe(g => g.Select(s => s.Kind).Distinct().Count() == 1);
    }

    [Fact]
    public void A_step_asks_the_same_as_itself_and_as_no_other_of_its_plan()
    {
        foreach (var plan in Plans)
        {
            foreach (var step in plan.Steps)
            {
                plan.Steps.Where(s => s.AsksTheSameAs(step)).ShouldHaveSingleItem().Number.ShouldBe(step.Number);
            }
        }
    }
}
