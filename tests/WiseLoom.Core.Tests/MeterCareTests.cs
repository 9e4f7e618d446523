using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;

namespace WiseLoom.Core.Tests;

/// <summary>When a meter is checked, and what becomes of its readings when it was not right: sixty wires, so that a run is longer than a round.</summary>
public sealed class MeterCareTests
{
    private readonly Bench bench = new(Loom, Bench.Sorted(Bench.Plan(Loom, Isolation.Neighbours)));

    private static Loom Loom { get; } = Looms.Of([.. Enumerable.Range(0, 60).Select(i => $"A{i / 10}:{(i % 10) + 1}-B{i / 10}:{(i % 10) + 1}")]);

    private BenchRun Run => bench.Run;

    [Fact]
    public void All_three_checks_are_asked_for_before_the_first_reading_and_none_after_them()
    {
        Run.Care.Due(isOver: false).ShouldBe(MeterCheck.All);
        bench.CheckAll();
        Run.Care.Due(isOver: false).ShouldBeEmpty();
    }

    [Fact]
    public void They_are_asked_for_again_after_fifty_readings_and_at_the_end()
    {
        bench.CheckAll();
        Read(1, 49);
        Run.Care.Due(isOver: false).ShouldBeEmpty();
        Run.Care.Due(isOver: true).ShouldBe(MeterCheck.All);
        Read(50, 50);
        Run.Care.Due(isOver: false).ShouldBe(MeterCheck.All);
    }

    [Fact]
    public void One_bad_touch_is_no_drift()
    {
        bench.CheckAll();
        Read(1, 10);
        bench.Check(CheckKind.KnownLink, passes: false);
        Run.Holds.ShouldContain(h => h.Kind == "meter");
        Run.Summary().IsMeterInDoubt.ShouldBeTrue();
        bench.Check(CheckKind.KnownLink, passes: true);
        Run.Holds.ShouldNotContain(h => h.Kind == "meter");
        Run[5].State.ShouldBe(StepState.Pass);
    }

    [Fact]
    public void A_drift_asks_for_all_again_that_was_read_since_that_check_was_last_right()
    {
        bench.CheckAll();
        Read(1, 10);
        bench.Check(CheckKind.KnownLink, passes: true);
        Read(11, 20);
        bench.Skip(21);
        Drift();

        Enumerable.Range(1, 10).ShouldAllBe(n => Run[n].State == StepState.Pass);
        Enumerable.Range(11, 10).ShouldAllBe(n => Run[n].State == StepState.Retest);
        Run[21].State.ShouldBe(StepState.Skipped);
        Run.Next(1)!.Number.ShouldBe(11);
        Diagnosis.RunObservations.Of(Run).Select(o => o.Step).ShouldBe(Enumerable.Range(1, 10), ignoreOrder: true);
    }

    [Fact]
    public void What_is_read_before_the_meter_is_right_again_or_without_knowing_is_kept_and_proves_nothing()
    {
        bench.CheckAll();
        var before = Run.LastEvent;
        Read(1, 2);
        Drift();
        bench.Read(1, Verdict.Pass);
        Run[1].State.ShouldBe(StepState.Retest);
        bench.CheckAll();
        bench.Read(3, Verdict.Pass, seen: before);
        Run[3].State.ShouldBe(StepState.NotTested);
        ((ReadingTaken)Run[3].Late!.What).Bearing.ShouldBe(Bearing.Doubtful);

        bench.Read(1, Verdict.Pass);
        Run[1].State.ShouldBe(StepState.Pass);
    }

    [Fact]
    public void A_meter_that_was_found_out_has_to_pass_all_three()
    {
        bench.CheckAll();
        Drift();
        bench.Check(CheckKind.KnownLink, passes: true);
        Run.Care.IsOut.ShouldBeTrue();
        Run.Care.Due(isOver: false).ShouldBe([CheckKind.LeadZero, CheckKind.Range]);
        bench.Check(CheckKind.LeadZero, passes: true);
        bench.Check(CheckKind.Range, passes: true);
        Run.Care.IsOut.ShouldBeFalse();
    }

    [Fact]
    public void A_loom_whose_pack_is_signed_is_overturned_by_a_closing_check_that_fails()
    {
        bench.CheckAll().All(Verdict.Pass);
        bench.Sign();
        Run.Summary().IsOverturned.ShouldBeFalse();
        Drift();
        Run.Summary().IsOverturned.ShouldBeTrue();
        bench.CheckAll();
        Run.Holds.ShouldHaveSingleItem().Text.ShouldContain("because the meter was not right");
    }

    [Fact]
    public void A_step_that_failed_cannot_be_left_out_by_way_of_a_meter_that_was_found_out()
    {
        bench.CheckAll();
        bench.Read(1, Verdict.Fail);
        bench.Read(2, Verdict.Pass);
        Drift();
        bench.Skip(1).ShouldBeOfType<Decision.Conflict>();
        bench.Skip(2).ShouldBeOfType<Decision.Accepted>();
    }

    [Fact]
    public void A_check_that_is_sent_twice_is_one_check()
    {
        var key = Guid.NewGuid();
        Decision Ask() => bench.Ask(key, Bench.Mira, Bench.Start, run => run.Check(key, CheckKind.LeadZero, 3, 1, false, "m"));
        Ask().ShouldBeOfType<Decision.Accepted>();
        Ask().ShouldBeOfType<Decision.Already>();
        Run.Care.IsSuspect.ShouldBeTrue();
        Run.Care.DriftedAt.ShouldBe(0);
    }

    [Theory]
    [InlineData(CheckKind.LeadZero, 0.0009, true)]
    [InlineData(CheckKind.LeadZero, 0.002, false)]
    [InlineData(CheckKind.LeadZero, null, false)]
    [InlineData(CheckKind.Range, null, true)]
    [InlineData(CheckKind.Range, 2e6, false)]
    [InlineData(CheckKind.KnownLink, 1.0015, true)]
    [InlineData(CheckKind.KnownLink, 1.02, false)]
    [InlineData(CheckKind.KnownLink, null, false)]
    public void A_check_passes_within_the_meters_own_uncertainty(CheckKind kind, double? shown, bool passes) =>
        new MeterCheck(kind, 1).Passes(new(shown), Meter.BenchFourWire).ShouldBe(passes);

    [Theory]
    [InlineData("bench meter", 5025, false, "/host")]
    [InlineData("http://x/", 5025, false, "/host")]
    [InlineData("10.0.0.9", null, false, "/port")]
    [InlineData(null, 5025, false, "/host")]
    [InlineData("10.0.0.9", 70000, false, "/port")]
    [InlineData(null, null, true, "/matrix")]
    public void An_address_that_cannot_be_is_said_with_its_place(string? host, int? port, bool matrix, string at) =>
        MeterRules.OfAddress(host, port, null, matrix).ShouldContain(p => p.At == at);

    [Fact]
    public void Figures_that_cannot_be_are_said_with_their_places()
    {
        MeterRules.OfFigures(Meter.HandTwoWire).ShouldBeEmpty();
        MeterRules.OfFigures(Meter.HandTwoWire with { Ranges = [] }).ShouldHaveSingleItem().At.ShouldBe("/figures/ranges");
        MeterRules.OfFigures(Meter.HandTwoWire with { TouchOhms = double.NaN, Ranges = [new(400, -1, 3, 0.1), new(300, 0.8, 3, 0)] }).Select(p => p.At)
            .ShouldBe(["/figures/touchOhms", "/figures/ranges/0/percent", "/figures/ranges/1/resolutionOhms", "/figures/ranges/1/upToOhms"]);
    }

    private void Read(int from, int to)
    {
        for (var step = from; step <= to; step++)
        {
            bench.Read(step, Verdict.Pass);
        }
    }

    private void Drift()
    {
        bench.Check(CheckKind.KnownLink, passes: false);
        bench.Check(CheckKind.KnownLink, passes: false);
    }
}
