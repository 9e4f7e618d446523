using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Each output driven by itself: which one moves, and what it draws.</summary>
internal sealed class OutputMoves : CheckMaker
{
    internal override int Stage => 6;

    internal override int Order => 1;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.ControllerOn(bench);
        var on = bench.Still(KeyPosition.On, setUp.Without);
        if (bench.State(on) is not { } idle)
        {
            yield break;
        }

        foreach (var output in Output.Of(bench.Loom).Where(o => idle.Awake.Contains(o.Controller) && !o.Pin.IsOn(KeyPosition.On, bench.Standing)))
        {
            var driven = on with { Conditions = on.Conditions.Add(output.Name) };
            if (bench.State(driven) is not { } state)
            {
                continue;
            }

            var moved = bench.Loads.Where(l => state.Working.Contains(l.Ref) && !idle.Working.Contains(l.Ref))
                .Concat(bench.Relays.Where(r => state.Pulled.Contains(r.Ref) && !idle.Pulled.Contains(r.Ref))).ToList();
            // What hangs on the output itself, or is moved by a relay on it; the load is told, its relay only when nothing else moves.
            if (moved.Find(d => d.Model is LoadModel) is not { } main)
            {
                if (moved.FirstOrDefault() is not { } relay)
                {
                    continue;
                }

                main = relay;
            }

            var outcome = main.Model is LoadModel load ? Outcomes.OfUse(load.Use) : Outcome.Clicks;
            var (plus, minus) = Sides(bench, driven, main);
            string[] touches = [main.Ref, output.Controller, output.Point.ToString(), .. plus, .. minus, .. bench.Nets.NetOf(output.Point)!.Edges.Select(e => e.Label), .. moved.Select(m => m.Ref)];
            var cautions = Cautions.Driving(bench, main);
            yield return new(
                $"drive {output.Name}", Stage, setUp, $"Drive output ‘{output.Name}’{(output.Pin.Pulsed ? " in short pulses" : " for a moment")}.", driven, Felt(main, outcome), [], new OutcomeExpected(outcome),
                $"Only {main.Title} may answer{(main.Model is LoadModel && moved.Exists(m => m.Model is RelayModel) ? $", through {moved.Find(m => m.Model is RelayModel)!.Title}" : "")}. Supply comes by {bench.InWords(plus)}; the controller {(output.Pin.Role == ControllerRole.LowSide ? "closes it to ground" : "closes it to supply")} at {output.Point}. If another answers, two wires are exchanged; if two, they touch.",
                cautions)
            { Device = main.Ref, Output = output.Name, Touches = [.. touches.Distinct()] };
            if (bench.Amps(driven, output.Point) is { Nominal: > 0.001 } amps)
            {
                yield return new(
                    $"current {output.Name}", Stage, setUp, $"Drive output ‘{output.Name}’ {(output.Pin.Pulsed ? "and read the top of its pulse" : "and read the current")}.", driven, $"A clamp around the wire at {output.Point}; or what the controller says it drives.", [output.Point],
                    new AmpsExpected(amps), $"{bench.InWords(touches.Take(1))} takes {Say.Amps(amps.Nominal)} from {Say.Volts(state.Volts(bench.Plus ?? output.Point.ToString()))}. Less is a poor joint or the wrong part; more is a short in it.", cautions)
                { Output = output.Name, Touches = [.. touches.Distinct()] };
            }
        }
    }

    private static string Felt(Device device, Outcome outcome) => device.SeenAs is { } seen ? $"Ear, eye or finger: {seen}." : outcome switch
    {
        Outcome.Ticks => $"A finger on {device.Title}: it ticks.",
        Outcome.Lights => $"Eye on {device.Title}.",
        Outcome.Sparks => $"Eye on a spark gap at {device.Title}.",
        _ => $"Ear, eye or finger at {device.Title}.",
    };

    private static (List<string> Plus, List<string> Minus) Sides(PowerUpBench bench, States.Situation driven, Device main)
    {
        var joints = Terminals(main).Select(main.Joint).OfType<string>().ToList();
        return ([.. joints.SelectMany(j => bench.WayFrom(true, driven, j)).Distinct()], [.. joints.SelectMany(j => bench.WayFrom(false, driven, j)).Distinct()]);
    }

    private static string[] Terminals(Device device) => device.Model is LoadModel load ? [load.Terminals.First, load.Terminals.Second] : ["coil+", "coil-"];
}
