using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp;

/// <summary>What must be seen before a card can be answered.</summary>
internal static class Cautions
{
    internal const string BatteryOff = "Battery disconnected: nothing may have power.";
    internal const string AirBags = "No resistance is measured on airbag or seat-belt tensioner circuits.";
    internal const string Limited = "First power only from a supply with a current limit, and through a fuse.";
    internal const string Fused = "Every lead that is clipped on goes through a fuse: a dead short through a wire is a fire.";
    internal const string Starts = "At start the starter may turn: engine out of gear, everybody clear, or its trigger lead off.";
    internal const string Coils = "Coil voltages can injure: no hand at coils, leads or plugs while they are driven.";
    internal const string Drivers = "The drivers of direct injection carry voltages that can injure: key off before a plug is touched.";
    internal const string Rail = "Fuel under rail pressure can pierce skin: no hand near the lines, eyes covered.";
    internal const string Fuel = "Fuel lines tight and an extinguisher at hand before the pump runs.";
    internal const string Moving = "Hair and sleeves away from belts and fans; eyes and ears covered.";
    internal const string Exhaust = "Exhaust gas led outside.";
    internal const string Law = "Whether an engine may run here, and what it may give off, local rules and licensed people decide.";
    internal const string Unknown = "Never power a pin whose kind is not known.";
    internal const string Senders = "A resistor only in place of the sender, between its two leads; never towards supply.";

    /// <summary>A load below this is driven by high currents or voltages, ohms.</summary>
    private const double DirectOhms = 3;

    /// <summary>Of driving a device.</summary>
    internal static ImmutableArray<string> Driving(PowerUpBench bench, Device device)
    {
        var all = ImmutableArray.CreateBuilder<string>();
        var load = device.Model as LoadModel;
        if (load?.Use == "coil")
        {
            all.Add(Coils);
        }

        if (load is { Use: "injector", Cold.Nominal: < DirectOhms })
        {
            all.Add(Drivers);
        }

        if (load?.Use is "injector" or "valve" && HasRail(bench))
        {
            all.Add(Rail);
        }

        if (load?.Use is "motor" or "injector")
        {
            all.Add(Fuel);
        }

        if (load?.Use is "solenoid" or "motor")
        {
            all.Add(Moving);
        }

        if (device.Needs is { } needs)
        {
            all.Add($"Needed first: {needs}.");
        }

        return all.ToImmutable();
    }

    /// <summary>Of a turning engine.</summary>
    internal static ImmutableArray<string> Turning(PowerUpBench bench) => [Moving, Starts, .. Needs(bench, "solenoid"), .. HasRail(bench) ? [Rail] : Array.Empty<string>()];

    /// <summary>Of a running engine.</summary>
    internal static ImmutableArray<string> Running(PowerUpBench bench) => [Fuel, Moving, Exhaust, Coils, .. HasRail(bench) ? [Rail] : Array.Empty<string>(), Law];

    private static IEnumerable<string> Needs(PowerUpBench bench, string use) =>
        bench.Loads.Where(d => d.Model is LoadModel load && load.Use == use && d.Needs is not null).Select(d => $"Needed first: {d.Needs}.").Distinct();

    /// <summary>Whether a sensor measures a pressure that only a common rail has.</summary>
    private static bool HasRail(PowerUpBench bench) =>
        bench.Loom.Devices.Any(d => d.Model is TransducerModel { Scale: { } scale } && ((scale.Unit == "MPa" && scale.HighUnits > 20) || (scale.Unit == "bar" && scale.HighUnits > 200)));
}
