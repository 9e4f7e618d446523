using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>The feed against ground, with the loads and without them: the computed resistance, and the least that is no short.</summary>
internal sealed class SupplyToGround : CheckMaker
{
    /// <summary>Where nothing joins supply and ground, leakage through parts that no file knows may read as little as this, ohms.</summary>
    internal const double OpenOhms = 10_000;

    /// <summary>What a meter of resistance may be off by: share, and ohms for its leads.</summary>
    internal const double MeterShare = 0.02, MeterOhms = 0.3;

    internal override int Stage => 1;

    internal override int Order => 1;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        if (!ProbePoint.TryParse(bench.Plus, out var plus) || !ProbePoint.TryParse(bench.Minus, out var minus) || plus == minus)
        {
            yield break;
        }

        foreach (var (setUp, words) in new[] { (SetUps.NoPowerLoadsOff(bench), "with all loads off"), (SetUps.NoPower(bench), "with everything plugged in but the controller") })
        {
            var ohm = bench.Read(plus, minus, setUp.Without).Ohm;
            var least = bench.Loom.SupplyVolts / bench.Limit.Amps;
            yield return new(
                $"short {setUp.Id}", Stage, setUp, $"Measure from the feed to ground {words}: {plus} against {minus}.", bench.Still(Devices.KeyPosition.Off, setUp.Without), "A meter of resistance, red on the feed.",
                [plus, minus], Expected(ohm, Math.Min(least, ohm?.Min ?? OpenOhms)),
                ohm is { } read
                    ? $"{Say.Ohms(read.Nominal)} lie between them through what is plugged in. Under {Say.Ohms(least)} the limited supply would reach its limit: that is a short."
                    : "Nothing leads from the feed to ground with the key off: the meter shows over range. Anything less is a way that is not drawn.",
                [Cautions.BatteryOff, Cautions.AirBags])
            {
                Plugged = Plugged(bench, setUp.Without),
                Touches = [.. bench.WayWithoutPower(bench.Plus!, bench.Minus!)],
            };
        }
    }

    /// <summary>Of a resistance as tables give it.</summary>
    /// <param name="least">What is a short, or for over range the least that is open, ohms.</param>
    /// <param name="meterOhms">What the meter and its leads add at most, ohms.</param>
    internal static OhmExpected Expected(OhmRange? ohm, double least, double meterOhms = MeterOhms) =>
        new(ohm is { } read ? new ExpectedRange(Math.Max(0, (read.Min * (1 - MeterShare)) - meterOhms), read.Nominal, (read.Max * (1 + MeterShare)) + meterOhms) : null, least);

    /// <summary>Refs of devices that are plugged in.</summary>
    internal static ImmutableArray<string> Plugged(PowerUpBench bench, ImmutableHashSet<string> without) => [.. bench.Loom.Devices.Select(d => d.Ref).Where(r => !without.Contains(r))];
}
