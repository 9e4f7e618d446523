using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>What one wire carries at its worst.</summary>
/// <param name="Worst">The key position in which it carries most.</param>
/// <param name="Amps">What it carries then.</param>
/// <param name="DropVolts">What is lost along it then.</param>
/// <param name="DropShare">The same as a share of the supply.</param>
/// <param name="MayCarry">What it may carry, amperes.</param>
/// <param name="Bundle">Wires that run with it at its fullest place.</param>
/// <param name="RiseK">How warm its copper gets, kelvin.</param>
public sealed record WireLoad(string Wire, KeyPosition Worst, double Amps, double DropVolts, double DropShare, double MayCarry, int Bundle, double RiseK, RiseClass Rise);

/// <summary>Something that should be looked at.</summary>
/// <param name="About">Id of a wire or ref of a device.</param>
/// <param name="Sentence">What is wrong and why.</param>
public sealed record CableFlag(string About, string Sentence);

/// <summary>Drops, warmth and fuses of a loom over all key positions.</summary>
public sealed record CableReport(ImmutableArray<WireLoad> Wires, ImmutableArray<CableFlag> Flags)
{
    /// <summary>Checks a loom.</summary>
    /// <param name="states">All key positions, as <see cref="LoomStates.InAllPositions"/> gives them.</param>
    public static CableReport Of(Loom loom, IReadOnlyCollection<OperatingState> states, CableLimits? limits = null)
    {
        var shop = limits ?? CableLimits.Usual;
        var bundles = new Bundles(loom);
        var flags = ImmutableArray.CreateBuilder<CableFlag>();
        var wires = loom.Wires.Select(w => Load(loom, w, states, shop, bundles.Around(w))).ToImmutableArray();
        var sensorGrounds = SensorGrounds(loom);
        foreach (var (wire, load) in loom.Wires.Zip(wires))
        {
            FlagWire(wire, load, shop, sensorGrounds.Contains(wire.Id), flags);
        }

        new FuseCheck(loom, states, shop, bundles).Add(flags);
        if (EstimatedCopper.InWords(loom) is { } estimated)
        {
            flags.Add(new(loom.Wires.First(w => w.IsEstimated).Id, estimated));
        }

        return new(wires, flags.ToImmutable());
    }

    private static WireLoad Load(Loom loom, Wire wire, IReadOnlyCollection<OperatingState> states, CableLimits shop, int bundle)
    {
        var (worst, amps, drop) = (KeyPosition.Off, 0.0, 0.0);
        foreach (var state in states.Where(s => s.Wires.ContainsKey(wire.Id)))
        {
            var here = state.Wires[wire.Id];
            if (Math.Abs(here.Amps) > amps)
            {
                (worst, amps, drop) = (state.Situation.Key, Math.Abs(here.Amps), here.DropVolts);
            }
        }

        var rise = shop.Rise(amps, wire.Section, bundle);
        return new(
            wire.Id, worst, amps, drop, drop / loom.SupplyVolts, shop.Amps(wire.Section, bundle), bundle, rise,
            rise > CableLimits.RiseK ? RiseClass.TooHot : rise >= 20 ? RiseClass.Hot : rise >= 5 ? RiseClass.Warm : RiseClass.Cool);
    }

    private static void FlagWire(Wire wire, WireLoad load, CableLimits shop, bool sensorGround, ImmutableArray<CableFlag>.Builder flags)
    {
        var key = KeyPositions.Word(load.Worst);
        if (load.Rise == RiseClass.TooHot)
        {
            flags.Add(new(wire.Id, string.Create(CultureInfo.InvariantCulture, $"{wire.Id} ({wire.Section}) carries {Say.Amps(load.Amps)} with the key at {key}; among {load.Bundle} wires it may carry {Say.Amps(load.MayCarry)}.")));
        }

        var most = sensorGround ? shop.SensorGroundDrop : shop.FeedDrop;
        if ((sensorGround || wire.Role == WireRole.Feed) && load.DropShare > most)
        {
            flags.Add(new(wire.Id, string.Create(CultureInfo.InvariantCulture,
                $"{wire.Id} loses {Say.Volts(load.DropVolts)} ({load.DropShare:0.0%}) with the key at {key}; a {(sensorGround ? "sensor ground" : "feed")} may lose {most:0%}. {Say.Amps(load.Amps)} flow through {Say.Ohms(load.DropVolts / Math.Max(load.Amps, 1e-12))}.")));
        }
    }

    /// <summary>Wires whose net of metal ends in a controller's sensor ground.</summary>
    private static HashSet<string> SensorGrounds(Loom loom)
    {
        var graph = WireGraph.Topology(loom);
        return loom.Devices.Where(d => d.Model is ControllerModel)
            .SelectMany(d => ((ControllerModel)d.Model!).Pins.Where(p => p.Value.Role == ControllerRole.SensorGround && d.Pins.ContainsKey(p.Key)).Select(p => d.Pins[p.Key]))
            .Select(graph.NetOf).OfType<Net>().SelectMany(n => n.Edges).Select(e => e.Label).ToHashSet(StringComparer.Ordinal);
    }
}
