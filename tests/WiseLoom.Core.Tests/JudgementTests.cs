using CsCheck;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Tests;

public sealed class JudgementTests
{
    private static readonly Gen<Meter> Meters = Gen.OneOfConst(Meter.BenchFourWire, Meter.HandTwoWire);

    private static readonly Gen<Limits> AnyLimits = Gen.OneOf(
        Gen.Select(Gen.Double[0, 0.5], Gen.Double[1.01, 20]).Select((least, times) => new Limits(least, (least + 0.01) * times)),
        Gen.Const(Limits.Apart));

    [Fact]
    public void The_bands_of_the_scale_say_what_the_rule_says_at_every_value() =>
        Gen.Select(Meters, AnyLimits, Gen.Double[-4, 9]).Sample((meter, limits, exponent) =>
        {
            var ohms = Math.Pow(10, exponent);
            var bands = Judgement.Bands(limits, meter);
            var band = bands.First(b => b.To is not { } to || ohms < to);
            if (bands.All(b => Math.Abs(b.From - ohms) > 1e-9 * ohms))
            {
                band.Verdict.ShouldBe(Judgement.Of(new Reading(ohms), limits, meter));
            }
        }, iter: 2000);

    [Fact]
    public void Bands_have_no_gaps_and_change_verdict_at_each_cut() => Gen.Select(Meters, AnyLimits).Sample((meter, limits) =>
    {
        var bands = Judgement.Bands(limits, meter);
        bands[0].From.ShouldBe(0);
        bands[^1].To.ShouldBeNull();
        bands.Zip(bands.Skip(1)).ShouldAllBe(p => p.First.To == p.Second.From && p.First.Verdict != p.Second.Verdict);
    });

    [Fact]
    public void A_value_that_is_surely_noticed_fails_even_at_the_meters_worst() => Gen.Select(Meters, Gen.Double[0.001, 0.5]).Sample((meter, nominal) =>
    {
        var limits = new Limits(nominal * 0.9, nominal * 1.2);
        if (Judgement.SurelyNoticedOhms(nominal, limits, meter) is { } added)
        {
            var truth = nominal + added + 1e-9;
            Judgement.Of(new Reading(truth - meter.Uncertainty(truth)), limits, meter).ShouldBe(Verdict.Fail);
        }
    });

    [Fact]
    public void A_two_wire_hand_meter_cannot_tell_a_good_wire_from_one_with_half_an_ohm_in_it()
    {
        var limits = new Limits(0.060, 0.090);

        Judgement.Of(new Reading(0.1), limits, Meter.HandTwoWire).ShouldBe(Verdict.CantTell);
        Judgement.Of(new Reading(0.4), limits, Meter.HandTwoWire).ShouldBe(Verdict.CantTell);
        Judgement.SurelyNoticedOhms(0.07, limits, Meter.HandTwoWire)!.Value.ShouldBeGreaterThan(0.5);
        Judgement.SurelyNoticedOhms(0.07, limits, Meter.BenchFourWire)!.Value.ShouldBeLessThan(0.03);
    }

    [Theory]
    [InlineData(0.070, Verdict.Pass)]
    [InlineData(0.0601, Verdict.CantTell)]
    [InlineData(0.0899, Verdict.CantTell)]
    [InlineData(0.0500, Verdict.Fail)]
    [InlineData(0.0950, Verdict.Fail)]
    [InlineData(1.8, Verdict.Fail)]
    [InlineData(null, Verdict.Fail)]
    public void Readings_near_a_limit_are_not_decided(double? ohms, Verdict verdict) =>
        Judgement.Of(new Reading(ohms), new Limits(0.060, 0.090), Meter.BenchFourWire).ShouldBe(verdict);

    [Fact]
    public void Over_range_proves_apart_only_on_a_meter_that_reaches_far_enough()
    {
        var shortSighted = Meter.BenchFourWire with { Ranges = [.. Meter.BenchFourWire.Ranges.Take(4)] };

        Judgement.Of(Reading.OverRange, Limits.Apart, Meter.BenchFourWire).ShouldBe(Verdict.Pass);
        Judgement.Of(Reading.OverRange, Limits.Apart, shortSighted).ShouldBe(Verdict.CantTell);
        Judgement.Of(new Reading(3.0), Limits.Apart, shortSighted).ShouldBe(Verdict.Fail);
    }

    [Theory]
    [InlineData(0, "0 Ω")]
    [InlineData(0.0724, "72.4 mΩ")]
    [InlineData(0.00723, "7.23 mΩ")]
    [InlineData(1.236, "1.24 Ω")]
    [InlineData(12000, "12.0 kΩ")]
    [InlineData(1e7, "10.0 MΩ")]
    [InlineData(double.PositiveInfinity, "no limit")]
    public void Values_are_said_with_three_figures_and_a_unit(double ohms, string text) => Say.Ohms(ohms).ShouldBe(text);

    [Theory]
    [InlineData(45, "45 s")]
    [InlineData(600, "10 min")]
    [InlineData(3590, "1 h 00 min")]
    [InlineData(7500, "2 h 05 min")]
    public void Times_are_said_as_people_say_them(double seconds, string text) => Say.Duration(seconds).ShouldBe(text);
}
