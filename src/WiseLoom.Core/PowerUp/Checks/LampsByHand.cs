using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>A lamp that a switch of the engine works: the switch pulled off, put back, and its lead to ground by hand.</summary>
internal sealed class LampsByHand : CheckMaker
{
    internal override int Stage => 4;

    internal override int Order => 1;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.ControllerOff(bench);
        var on = bench.Still(KeyPosition.On, setUp.Without);
        if (bench.State(on) is not { } state)
        {
            yield break;
        }

        foreach (var contact in bench.Loom.Devices.Where(d => d.Model is SwitchModel && !d.Pins.IsEmpty))
        {
            var off = on with { Without = on.Without.Add(contact.Ref) };
            foreach (var lamp in bench.Loads.Where(d => d.Model is LoadModel { Use: "lamp" } && state.Working.Contains(d.Ref) && bench.State(off)?.Working.Contains(d.Ref) == false))
            {
                var lead = contact.Pins.Values.First();
                string[] touched = [lamp.Ref, contact.Ref, .. contact.Pins.Values.Select(p => p.ToString()), .. Between(bench, lamp, contact)];
                yield return new(
                    $"off {contact.Ref} {lamp.Ref}", Stage, setUp, $"Key on: pull the plug off {contact.Title}.", off, $"Eye on {lamp.Title}.", [], new OutcomeExpected(Outcome.GoesOut),
                    $"{contact.Title} is closed with the engine still and gives {lamp.Title} its way on. If the lamp stays on, its lead touches metal somewhere, or another contact closes it.", [Cautions.Fused])
                { Device = lamp.Ref, Touches = [.. touched] };
                yield return new(
                    $"back {contact.Ref} {lamp.Ref}", Stage, setUp, $"Push the plug back on {contact.Title}.", on, $"Eye on {lamp.Title}.", [], new OutcomeExpected(Outcome.Lights),
                    $"The way through {contact.Title} is whole again.", [Cautions.Fused])
                { Device = lamp.Ref, Touches = [.. touched] };
                if (Grounded(bench, contact, off)?.Working.Contains(lamp.Ref) == true)
                {
                    yield return new(
                        $"grounded {contact.Ref} {lamp.Ref}", Stage, setUp, $"Plug off again: touch the lead {lead} to ground with a fused jumper.", off, $"Eye on {lamp.Title}; a fused jumper of 1 A.", [lead], new OutcomeExpected(Outcome.Lights),
                        $"The jumper does what {contact.Title} does. If the lamp lights now and not before, {contact.Title} itself is at fault; if not, the lead or the lamp.", [Cautions.Fused, Cautions.Unknown])
                    { Touches = [.. touched] };
                }
            }
        }
    }

    private static IEnumerable<string> Between(PowerUpBench bench, Device lamp, Device contact)
    {
        var nets = contact.Pins.Values.Select(bench.Nets.NetOf).OfType<Electrical.Net>().ToHashSet();
        return lamp.Pins.Values.Select(bench.Nets.NetOf).OfType<Electrical.Net>().Where(nets.Contains).SelectMany(n => n.Edges).Select(e => e.Label).Distinct();
    }

    /// <summary>With a jumper from the lead to ground in the switch's place; null where the switch is not one to ground.</summary>
    private static States.BareState? Grounded(PowerUpBench bench, Device contact, States.Situation off)
    {
        var jumped = bench.With(d => d.Ref == contact.Ref ? d with { Model = LoadModel.Plain(0.05) } : d);
        return jumped.State(off with { Without = off.Without.Remove(contact.Ref) });
    }
}
