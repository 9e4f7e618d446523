using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Sightings;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Practice;

/// <summary>What hands, eyes, a meter and the controller's line find at a check of a power-up.</summary>
/// <param name="Answer">What is answered.</param>
/// <param name="Findings">What was found besides, in words.</param>
/// <param name="Besides">What that tells of the loom.</param>
public sealed record FoundAtCheck(Answer Answer, ImmutableArray<string> Findings, ImmutableArray<Sighting> Besides);

/// <summary>Does the checks of a power-up at a simulated machine.</summary>
/// <param name="fit">What is fitted on the bench; the machine's own.</param>
public sealed class SimulatedHands(SimulatedMachine machine, BenchFit fit, double ambientC)
{
    /// <summary>How long a trigger is logged, milliseconds.</summary>
    private const double LogMs = 3000;

    /// <summary>Puts the machine as a check needs it, and does the check.</summary>
    public FoundAtCheck Do(PowerUpCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        (machine.At, machine.Levers) = (check.Meanwhile, check.Levers);
        return check.Expect switch
        {
            OhmExpected => new(new MeasuredAnswer(machine.Ohms(check.At[0], check.At[1], check.Plugged.ToHashSet(StringComparer.Ordinal))), [], []),
            AmpsExpected => new(new MeasuredAnswer(machine.Amps(check.At[0]) ?? 0), [], []),
            VoltsExpected when check.Asks == Asked.Nothing || !machine.Answers => new(new MeasuredAnswer(machine.Volts(check.At[0]) ?? 0), [], []),
            OutcomeExpected { Outcome: var due } when check.Asks == Asked.Nothing => Seen(check, due),
            _ => Report(check).For(machine.Loom, fit, ambientC, check) is { } told ? new(told.Answer, told.Findings, told.Besides) : new(new SeenAnswer(Outcome.NotAsSaid), ["The controller says nothing."], []),
        };
    }

    /// <summary>What the controller would say.</summary>
    public ControllerReport Report(PowerUpCheck check)
    {
        ArgumentNullException.ThrowIfNull(check);
        if (!machine.Answers)
        {
            return check.Asks is Asked.Log or Asked.Sync or Asked.Compressions ? ControllerReport.Silent with { Log = new(ImmutableSortedDictionary<string, ImmutableArray<double>>.Empty, LogMs) } : ControllerReport.Silent;
        }

        var live = machine.Live;
        return new(
            machine.Identity, machine.Settings.ToImmutableDictionary(s => s.Name, StringComparer.Ordinal),
            live.ToImmutableDictionary(v => v.Pin, v => v.Volts, StringComparer.Ordinal),
            live.Where(v => v.Value is not null).DistinctBy(v => v.Channel).ToImmutableDictionary(v => v.Channel, v => v.Value!.Value, StringComparer.Ordinal),
            [.. machine.Codes.Select(c => c.Code)],
            check.Asks is Asked.Log or Asked.Sync or Asked.Compressions ? machine.Log(LogMs) : null);
    }

    private FoundAtCheck Seen(PowerUpCheck check, Outcome due)
    {
        if (due == Outcome.AsSaid)
        {
            return AsSaid(check);
        }

        if (check.Output is { } output && check.Device is { } meant)
        {
            var driven = machine.AtWork;
            machine.At = check.Meanwhile with { Conditions = check.Meanwhile.Conditions.Remove(output) };
            var moved = driven.Except(machine.AtWork);
            machine.At = check.Meanwhile;
            // A relay that does what it should on the way to its load is none besides.
            var loads = moved.Where(m => machine.Loom.Devices.Any(d => d.Ref == m && d.Model is LoadModel)).Order(StringComparer.Ordinal).ToImmutableArray();
            return moved.Contains(meant) && loads.All(l => l == meant) ? new(new SeenAnswer(due), [], [])
                : loads.IsEmpty ? new(new SeenAnswer(due.Otherwise()), [], [])
                : new(new OthersAnswer(loads), [], []);
        }

        if (check.Device is { } device)
        {
            var works = machine.IsAtWork(device);
            return new(new SeenAnswer(works == due.IsAtWork() ? due : due.Otherwise()), [], []);
        }

        // Ear at all relays, or a jumper that a hand holds.
        if (due == Outcome.StaysStill)
        {
            var now = machine.AtWork;
            machine.At = check.Meanwhile with { Key = check.Meanwhile.Key - 1 };
            var before = machine.AtWork;
            machine.At = check.Meanwhile;
            var clicks = now.Except(before).Where(d => machine.Loom.Devices.Any(x => x.Ref == d && x.Model is RelayModel)).ToList();
            return new(new SeenAnswer(clicks.Count == 0 ? due : Outcome.Clicks), [.. clicks.Select(c => $"{c} clicks")], []);
        }

        return new(new SeenAnswer(due), [], []);
    }

    private FoundAtCheck AsSaid(PowerUpCheck check)
    {
        if (machine.Loom.Devices.FirstOrDefault(d => d.Ref == check.Device) is { Model: FuseModel planned } fuse)
        {
            var printed = machine.Printed(fuse);
            return printed == HiddenMachine.Printed(planned.Amps) ? new(new SeenAnswer(Outcome.AsSaid), [], [])
                : new(new SeenAnswer(Outcome.NotAsSaid), [$"{fuse.Title} has {printed} printed on it"], []);
        }

        // An engine that does not start says so at the first thing that needs it to run.
        if (check.Meanwhile.Key == KeyPosition.Running && machine.WillNotRun is { } why)
        {
            return new(new SeenAnswer(Outcome.NotAsSaid), [$"It does not run: {why}"], []);
        }

        if (check.Id.StartsWith("spark ", StringComparison.Ordinal) && check.Device is { } coil)
        {
            var works = machine.Outputs.Any(o =>
            {
                machine.At = check.Meanwhile with { Conditions = check.Meanwhile.Conditions.Add(o) };
                return machine.IsAtWork(coil);
            });
            machine.At = check.Meanwhile;
            return new(new SeenAnswer(works ? Outcome.AsSaid : Outcome.NotAsSaid), [], []);
        }

        return new(new SeenAnswer(Outcome.AsSaid), [], []);
    }
}
