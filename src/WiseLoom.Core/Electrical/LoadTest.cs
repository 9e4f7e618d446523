using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>A test under load: a known current through a pair, and the drop that its copper explains.</summary>
/// <param name="Load">What draws the current.</param>
/// <param name="SupplyVolts">What feeds the pair and the load in series.</param>
/// <param name="Amps">What flows through a pair that is as drawn.</param>
/// <param name="LeastDropVolts">The drop with every part at its least; less means that no current flows.</param>
/// <param name="MostDropVolts">The greatest drop that the copper explains; more is a fault.</param>
/// <param name="NoticedOhms">Smallest added resistance that is surely noticed this way; null for none.</param>
/// <remarks>Source: the divider of pair and load on one supply, V = Vs·R / (R + Rload). A meter on its millivolt range, 0.5 % and 3
/// steps of its last digit, is what a bench has at hand.</remarks>
public sealed record LoadTest(LoadInHand Load, double SupplyVolts, double Amps, double LeastDropVolts, double MostDropVolts, double? NoticedOhms)
{
    /// <summary>A meter that surely notices this much more needs no load beside it, ohms.</summary>
    public const double GoodEnoughOhms = 0.05;

    /// <summary>A drop of more than this share of the supply says that nothing joins the pair.</summary>
    private const double OpenShare = 0.9;

    /// <summary>The test of a pair.</summary>
    /// <param name="pair">What the pair must read, ohms.</param>
    /// <param name="supplyVolts">The supply, volts.</param>
    public static LoadTest Of(OhmRange pair, double supplyVolts, LoadInHand load)
    {
        ArgumentNullException.ThrowIfNull(load);
        var test = new LoadTest(load, supplyVolts, supplyVolts / (load.Ohms + pair.Nominal), 0, 0, null);
        return test with
        {
            LeastDropVolts = test.DropAt(pair.Min),
            MostDropVolts = test.DropAt(pair.Max),
            NoticedOhms = Judgement.SurelyNoticedOhms(pair.Nominal, new(pair.Min, pair.Max), test.AsMeter()),
        };
    }

    /// <summary>The drop that a resistance between the two places makes, volts.</summary>
    /// <param name="ohms">0 or more.</param>
    public double DropAt(double ohms) => SupplyVolts * ohms / (ohms + Load.Ohms);

    /// <summary>What a drop says about the pair.</summary>
    /// <param name="volts">What the meter shows; the sign is not looked at, the leads may be the other way round.</param>
    /// <returns>The resistance that would make it, ohms; null where the drop is so near the supply that nothing joins the pair.</returns>
    public double? OhmsOf(double volts)
    {
        var drop = Math.Abs(volts);
        return drop > OpenShare * SupplyVolts ? null : Load.Ohms * drop / (SupplyVolts - drop);
    }

    /// <summary>Lamp and millivolt range together are a meter of resistance with four leads; this is what it is worth.</summary>
    public Meter AsMeter()
    {
        MeterRange Range(double upToVolts, double stepVolts) =>
            new(OhmsOf(Math.Min(upToVolts, OpenShare * SupplyVolts)) ?? 0, 0.5 + (100 * Load.Share), 3, stepVolts * Load.Ohms / SupplyVolts);
        ImmutableArray<MeterRange> ranges = [Range(0.4, 0.0001), Range(4, 0.001), Range(double.PositiveInfinity, 0.01)];
        return new($"{Load.Name} and millivolts", [.. ranges.DistinctBy(r => r.UpToOhms)], true, 0, 0);
    }

    /// <summary>Whether a pair of this use should be tested under load, because the meter at hand would miss a poor joint.</summary>
    /// <param name="role">What the pair's wires are for; null when the file does not say.</param>
    /// <param name="noticedOhms">What the meter surely notices; null for nothing.</param>
    public static bool IsNeeded(WireRole? role, double? noticedOhms) =>
        role is WireRole.Feed or WireRole.Ground && !(noticedOhms <= GoodEnoughOhms);

    /// <summary>How the test is set up, in words.</summary>
    public string Setup(ProbePoint black, ProbePoint red) => string.Create(
        CultureInfo.InvariantCulture,
        $"{SupplyVolts:0.#} V, fused, to {black}; {Load.Name} from {red} back: {Say.Amps(Amps)}. Millivolts on the terminals.");

    /// <summary>What the test is worth, in words.</summary>
    public string Worth() =>
        $"{(NoticedOhms is { } noticed ? $"This notices {Say.Ohms(noticed)} too much. " : "")}A voltage without a load proves nothing about a joint: through 30 Ω of corrosion a meter still reads the whole supply, and a lamp stays dark.";
}
