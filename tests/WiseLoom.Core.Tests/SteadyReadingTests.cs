using CsCheck;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Tests;

/// <summary>When a hand holds still.</summary>
public sealed class SteadyReadingTests
{
    private static readonly TimeSpan Time = TimeSpan.FromSeconds(0.6);

    private static Reading? Watch(SteadyReading watch, params (double At, double? Ohms)[] looks)
    {
        foreach (var (at, ohms) in looks)
        {
            if (watch.Look(TimeSpan.FromSeconds(at), new(ohms)) is { } reading)
            {
                return reading;
            }
        }

        return null;
    }

    private static SteadyReading By(Meter meter, double? last = null, bool sure = false) => new(meter, Time, last is { } ohms ? new Reading(ohms) : null, sure);

    [Fact]
    public void A_reading_is_taken_when_it_has_been_steady_for_the_time_and_not_before()
    {
        Watch(By(Meter.HandTwoWire), (0, 0.4), (0.3, 0.5), (0.59, 0.4)).ShouldBeNull();
        Watch(By(Meter.HandTwoWire), (0, 0.4), (0.3, 0.5), (0.6, 0.4)).ShouldBe(new Reading(0.4));
    }

    /// <summary>Two looks differ by two touches, a step of the last digit and the meter's share of the value at most.</summary>
    [Fact]
    public void Steady_is_within_the_meters_own_noise_and_no_wider() => Gen.Select(Gen.OneOfConst(Meter.HandTwoWire, Meter.BenchFourWire), Gen.Double[-1, 4]).Sample((meter, decade) =>
    {
        var ohms = Math.Pow(10, decade);
        var range = meter.RangeFor(ohms);
        var noise = (2 * meter.TouchOhms) + range.ResolutionOhms + (range.Percent / 100 * ohms);
        if (meter.RangeFor(ohms + (2 * noise)) == range)
        {
            Watch(By(meter), (0, ohms), (0.6, ohms + (0.95 * noise))).ShouldBe(new Reading(ohms));
            Watch(By(meter), (0, ohms), (0.6, ohms + (1.2 * noise))).ShouldBeNull();
        }
    }, iter: 200);

    [Fact]
    public void A_needle_that_still_moves_starts_the_time_again() =>
        Watch(By(Meter.HandTwoWire), (0, 90), (0.3, 30), (0.5, 4), (0.7, 0.4), (1.2, 0.4), (1.29, 0.4)).ShouldBeNull();

    [Fact]
    public void The_same_touch_is_not_read_twice_until_the_probe_was_lifted()
    {
        Watch(By(Meter.HandTwoWire, last: 0.4), (0, 0.4), (1, 0.5), (2, 0.4), (3, 0.4)).ShouldBeNull();
        Watch(By(Meter.HandTwoWire, last: 0.4), (0, 0.4), (0.5, null), (0.8, 0.4), (1.4, 0.4)).ShouldBe(new Reading(0.4));
        Watch(By(Meter.HandTwoWire, last: 0.4), (0, 0.4), (0.5, 12), (1.1, 12)).ShouldBe(new Reading(12));
    }

    [Fact]
    public void Over_range_is_a_lifted_probe_unless_the_instrument_closes_the_way_itself()
    {
        Watch(By(Meter.HandTwoWire), (0, null), (5, null), (20, null)).ShouldBeNull();
        Watch(By(Meter.BenchFourWire, sure: true), (0, null), (0.6, null)).ShouldBe(Reading.OverRange);
        Watch(By(Meter.BenchFourWire, last: 0.042, sure: true), (0, 0.042), (0.6, 0.042)).ShouldBe(new Reading(0.042));
    }

    [Fact]
    public void What_is_taken_was_within_the_noise_for_the_whole_time() => Gen.Select(Gen.Double[0.05, 0.15], Gen.Double[0, 30]).Array[5, 60].Sample(
        steps =>
        {
            var (watch, at, seen) = (By(Meter.HandTwoWire), 0.0, new List<(double At, double Ohms)>());
            foreach (var (pause, ohms) in steps)
            {
                seen.Add((at += pause, Math.Round(ohms, 1)));
                if (watch.Look(TimeSpan.FromSeconds(at), new(seen[^1].Ohms)) is { } taken)
                {
                    seen.Where(s => s.At > at - Time.TotalSeconds + 1e-9).ShouldAllBe(s => Math.Abs(s.Ohms - taken.Ohms!.Value) < 0.61);
                    return;
                }
            }
        },
        iter: 500);
}
