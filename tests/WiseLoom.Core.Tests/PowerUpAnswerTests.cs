using System.Collections.Immutable;
using CsCheck;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Sightings;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Tests;

/// <summary>What an answer to a check comes to: passed or not, in words, and what it tells of the loom.</summary>
public sealed class PowerUpAnswerTests
{
    private static readonly Loom Fan = Looms.FrostFan;

    private static readonly PowerUpPlan Plan = PowerUpPlan.Of(Fan, BenchFit.AsDrawn, 20, School.Vehicle);

    private static PowerUpCheck Volts => Plan.Checks.First(c => c.Expect is VoltsExpected && c.Stage == 3);

    private static PowerUpCheck Ohm => Plan.Checks.First(c => c.Expect is OhmExpected { Ohm: not null });

    private static PowerUpCheck Lamp => Plan.Checks.First(c => c.Id == "lamp charge-lamp controller-off");

    private static PowerUpCheck Injector => Plan.Checks.First(c => c.Id == "drive Injector 3");

    [Fact]
    public void A_figure_within_its_range_passes_and_one_outside_does_not() => Gen.Int[0, Plan.Checks.Count() - 1].Select(Gen.Double[0, 1]).Sample(
        (i, share) =>
        {
            var check = Plan.Checks.ElementAt(i);
            if (Range(check.Expect) is not { } range)
            {
                return;
            }

            var within = JudgedAnswer.Of(Fan, check, new MeasuredAnswer(Math.Min(range.Max, range.Min + (share * (range.Max - range.Min))))).Judged!;
            within.Passed.ShouldBeTrue(check.Id);
            foreach (var off in new[] { range.Min - 0.001, range.Max + 0.001 }.Where(v => v >= 0))
            {
                JudgedAnswer.Of(Fan, check, new MeasuredAnswer(off)).Judged!.Passed.ShouldBeFalse(check.Id);
            }
        },
        iter: 300);

    [Fact]
    public void A_passed_answer_says_what_the_sound_loom_would_say()
    {
        // What a card expects must never speak against the loom that it was computed from.
        foreach (var check in Plan.Checks)
        {
            Answer answer = Range(check.Expect) is { } range ? new MeasuredAnswer(range.Nominal)
                : check.Expect is OutcomeExpected seen ? new SeenAnswer(seen.Outcome) : new MeasuredAnswer(null);
            var judged = JudgedAnswer.Of(Fan, check, answer).Judged!;
            judged.Passed.ShouldBeTrue(check.Id);
            foreach (var sighting in judged.Sightings)
            {
                sighting.Problems(Fan).ShouldBeEmpty(check.Id);
                sighting.IsAsDrawn(Fan, 20, Core.Electrical.Meter.BenchFourWire).ShouldBeTrue($"{check.Id}: {sighting.InWords()}");
            }
        }
    }

    [Theory]
    [InlineData(-101.0)]
    [InlineData(101.0)]
    [InlineData(double.NaN)]
    [InlineData(double.PositiveInfinity)]
    [InlineData(null)]
    public void A_voltage_that_no_meter_shows_is_refused(double? volts) => Refused(Volts, new MeasuredAnswer(volts));

    [Theory]
    [InlineData(-0.5)]
    [InlineData(1e13)]
    [InlineData(double.NaN)]
    public void So_is_a_resistance(double ohm) => Refused(Ohm, new MeasuredAnswer(ohm));

    [Fact]
    public void An_answer_of_another_kind_is_refused_in_words_that_say_which_is_needed()
    {
        Refused(Volts, new SeenAnswer(Outcome.Lights)).ShouldContain("figure in V");
        Refused(Ohm, new OthersAnswer(["pump"])).ShouldContain("figure in Ω");
        Refused(Lamp, new MeasuredAnswer(12)).ShouldContain("lights");
        Refused(Lamp, new OthersAnswer(["pump"])).ShouldContain("output that is driven");
    }

    [Fact]
    public void Others_that_moved_are_fitted_devices_and_not_the_one_that_should_move()
    {
        Refused(Injector, new OthersAnswer([])).ShouldContain("1 to 40");
        Refused(Injector, new OthersAnswer(default)).ShouldContain("1 to 40");
        Refused(Injector, new OthersAnswer(["horn"])).ShouldContain("fitted on this bench");
        Refused(Injector, new OthersAnswer([.. Enumerable.Repeat("injector-5", 41)])).ShouldContain("1 to 40");
        Refused(Injector, new OthersAnswer([Injector.Device!])).ShouldContain("answer with what it did");
    }

    [Fact]
    public void Which_one_moved_tells_of_both_the_one_that_should_and_the_one_that_did()
    {
        var judged = JudgedAnswer.Of(Fan, Injector, new OthersAnswer(["injector-5"])).Judged!;
        (judged.Passed, judged.Said).ShouldBe((false, "instead Injector 5"));
        judged.Sightings.OfType<WorksSeen>().Select(w => (w.Device, w.Works)).ShouldBe([("injector-3", false), ("injector-5", true)]);
        var both = JudgedAnswer.Of(Fan, Injector, new OthersAnswer(["injector-3", "injector-5"])).Judged!;
        both.Passed.ShouldBeFalse();
        both.Sightings.OfType<WorksSeen>().ShouldAllBe(w => w.Works);
    }

    [Fact]
    public void What_is_said_of_it_names_what_was_seen()
    {
        JudgedAnswer.Of(Fan, Volts, new MeasuredAnswer(3.2)).Judged!.Said.ShouldBe("3.20 V");
        JudgedAnswer.Of(Fan, Ohm, new MeasuredAnswer(null)).Judged!.Said.ShouldBe("over range");
        JudgedAnswer.Of(Fan, Lamp, new SeenAnswer(Outcome.StaysDark)).Judged!.Said.ShouldBe("stays dark");
    }

    [Fact]
    public void The_limit_stands_above_what_flows_and_below_the_smallest_fuse_where_that_can_be() => Gen.Select(Gen.Double[0, 8], Gen.Double[1, 40]).Sample(
        (standing, fuse) =>
        {
            var limit = CurrentLimit.For(standing, fuse);
            limit.Amps.ShouldBeGreaterThanOrEqualTo(Math.Max(0.5, standing));
            (limit.Amps * 2).ShouldBe(Math.Round(limit.Amps * 2), 1e-9);
            limit.Why.ShouldContain(limit.Amps < fuse ? "It is below the smallest fuse" : "It is not below the smallest fuse");
            CurrentLimit.For(standing, null).Why.ShouldNotContain("smallest fuse");
        },
        iter: 200);

    private static ExpectedRange? Range(Expectation of) => of switch
    {
        VoltsExpected volts => volts.Volts,
        AmpsExpected amps => amps.Amps,
        OhmExpected ohm => ohm.Ohm,
        _ => null,
    };

    private static string Refused(PowerUpCheck check, Answer answer)
    {
        var (judged, wrong) = JudgedAnswer.Of(Fan, check, answer);
        judged.ShouldBeNull();
        return wrong.ShouldNotBeNull();
    }
}
