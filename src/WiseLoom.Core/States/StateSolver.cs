using System.Collections.Immutable;
using MathNet.Numerics.LinearAlgebra;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.States;

/// <summary>A state in which all devices agree with the voltages, or the ring of states that they run through for ever.</summary>
/// <param name="Session">The circuit with the values of this state; to be copied before it is changed.</param>
/// <param name="Solution">The circuit in this state.</param>
/// <param name="Ring">The states of a ring; empty for a state that stays.</param>
internal sealed record AgreedState(DeviceStates States, CircuitSession Session, CircuitSolution Solution, ImmutableArray<(DeviceStates States, CircuitSolution Solution)> Ring)
{
    internal bool Stays => Ring.IsEmpty;
}

/// <summary>Finds the state in which relays, controllers, loads and diodes agree with the voltages.</summary>
internal sealed class StateSolver(LoomCircuit loom)
{
    private const int MostRounds = 60;

    /// <summary>Transducers are followed step by step so often, and then all at once.</summary>
    private const int StepsAlong = 6;

    private const int MostTransducerRounds = 30;

    /// <summary>A transducer that is off by less than this is right, volts.</summary>
    private const double Notable = 1e-6;

    /// <summary>Solves from a state of the devices: relays between their two voltages stay as they are in it.</summary>
    /// <param name="begin">A session to begin from; null to begin from nothing.</param>
    /// <param name="beginStates">What the session stands for, when it holds this situation already; null when it does not.</param>
    /// <param name="currents">Whether the currents are wanted, not only the voltages.</param>
    /// <remarks>All devices move at once, as they do; when that never ends, one at a time, in the order of the file; when that never
    /// ends either, the ring is the answer.</remarks>
    internal AgreedState Solve(
        Situation situation, DeviceStates from, CircuitSession? begin = null, Probe? probe = null, bool currents = true, DeviceStates? beginStates = null)
    {
        AgreedState Run(bool oneAtATime)
        {
            var session = begin?.Copy() ?? loom.Begin();
            return this.Run(situation, from, session, beginStates, probe, currents, oneAtATime);
        }

        var together = Run(oneAtATime: false);
        if (together.Stays)
        {
            return together;
        }

        var singly = Run(oneAtATime: true);
        return singly.Stays ? singly : together;
    }

    /// <summary>Goes on in a session that belongs to the caller, from the state it holds, with a probe somewhere else.</summary>
    internal AgreedState Continue(Situation situation, AgreedState from, Probe probe)
    {
        var agreed = Run(situation, from.States, from.Session, from.States, probe, currents: false, oneAtATime: false);
        return agreed.Stays ? agreed : Solve(situation, from.States, from.Session, probe, currents: false);
    }

    private AgreedState Run(Situation situation, DeviceStates states, CircuitSession session, DeviceStates? held, Probe? probe, bool currents, bool oneAtATime)
    {
        Dictionary<string, int>? seen = null;
        var path = new List<(DeviceStates States, CircuitSolution Solution)>();
        while (true)
        {
            if (held is null)
            {
                loom.Apply(session, situation, states);
            }
            else
            {
                loom.Apply(session, situation, states, held);
            }

            held = states;
            var solution = WithTransducers(session, probe, currents);
            if (!solution.Holds || Agree(states, solution.Volts))
            {
                return new(states, session, solution, []);
            }

            path.Add((states, solution));
            var next = Next(states, node => solution.Volts[node], oneAtATime);
            seen ??= new(StringComparer.Ordinal);
            seen.TryAdd(states.Key, path.Count - 1);
            if (seen.TryGetValue(next.Key, out var first) || path.Count > MostRounds)
            {
                return new(states, session, solution, [.. path.Skip(first)]);
            }

            states = next;
        }
    }

    /// <summary>A transducer puts out a share of what its supply gives it: solved again until that no longer moves.</summary>
    private CircuitSolution WithTransducers(CircuitSession session, Probe? probe, bool currents)
    {
        // With currents the answer is kept to the last digit; a probe's answer is for a person.
        var enough = currents ? 1e-11 : 1e-4;
        for (var round = 0; ; round++)
        {
            var solution = session.Solve(probe, currents);
            if (!solution.Holds || loom.Transducers.Count == 0)
            {
                return solution;
            }

            var off = Off(session, solution);
            var most = off.Max(Math.Abs);
            if (most < enough)
            {
                return solution;
            }

            // What a transducer puts out may lift its own supply or ground: then going along step by step goes on for ever, or away.
            var steps = round < StepsAlong ? off : Newton(session, probe, off);
            if (round == MostTransducerRounds || steps is null)
            {
                return most < Notable ? solution : solution with { Settled = false };
            }

            for (var i = 0; i < steps.Length; i++)
            {
                var branch = loom.Transducers[i].Branch;
                session.SetEmf(branch, session.Emf[branch] + steps[i]);
            }
        }
    }

    /// <summary>By transducer: volts by which its output is off the share that it should be.</summary>
    private double[] Off(CircuitSession session, CircuitSolution solution) =>
        [.. loom.Transducers.Select(t => (t.Share * (solution.Volts[t.Supply] - solution.Volts[t.Ground])) - session.Emf[t.Branch])];

    /// <summary>By transducer: what to change its output by so that all are right at once, as far as the circuit is straight.</summary>
    /// <returns>Null where no change would do: the transducers feed themselves.</returns>
    private double[]? Newton(CircuitSession session, Probe? probe, double[] off)
    {
        const double Nudge = 1e-3;
        var count = off.Length;
        var slopes = Matrix<double>.Build.Dense(count, count);
        for (var j = 0; j < count; j++)
        {
            var branch = loom.Transducers[j].Branch;
            var was = session.Emf[branch];
            session.SetEmf(branch, was + Nudge);
            var nudged = session.Solve(probe, currents: false);
            if (nudged.Holds)
            {
                slopes.SetColumn(j, [.. Off(session, nudged).Zip(off, (now, before) => (before - now) / Nudge)]);
            }

            session.SetEmf(branch, was);
            if (!nudged.Holds)
            {
                return null;
            }
        }

        return Math.Abs(slopes.Determinant()) < 1e-9 ? null : [.. slopes.Solve(Vector<double>.Build.Dense(off))];
    }

    private bool Agree(DeviceStates states, double[] volts) => Agree(states, node => volts[node]);

    /// <summary>Whether no device moves at these voltages.</summary>
    internal bool Agree(DeviceStates now, Func<int, double> volts)
    {
        for (var i = 0; i < loom.Relays.Count; i++)
        {
            if (Pulls(loom.Relays[i], now.Pulled[i], volts) != now.Pulled[i])
            {
                return false;
            }
        }

        for (var i = 0; i < loom.Controllers.Count; i++)
        {
            if (IsAwake(loom.Controllers[i], volts) != now.Awake[i])
            {
                return false;
            }
        }

        for (var i = 0; i < loom.Loads.Count; i++)
        {
            if (IsAtWork(loom.Loads[i], volts) != now.AtWork[i])
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>No device moves while no two of these voltages move apart by more than this, volts.</summary>
    internal double LeastMargin(DeviceStates now, double[] volts)
    {
        var least = double.PositiveInfinity;
        void Keep(double has, double threshold) => least = Math.Min(least, Math.Abs(has - threshold));
        for (var i = 0; i < loom.Relays.Count; i++)
        {
            var relay = loom.Relays[i];
            Keep(Math.Abs(volts[relay.Plus] - volts[relay.Minus]), now.Pulled[i] ? relay.Model.DropOutVolts : relay.Model.PullInVolts);
        }

        foreach (var controller in loom.Controllers)
        {
            foreach (var node in controller.Supplies.Select(s => s.Node).Concat(controller.Wakes))
            {
                Keep(volts[node] - volts[controller.Ground], controller.Model.LeastVolts);
            }
        }

        foreach (var load in loom.Loads.Where(l => l.Model.Cold != l.Model.AtWork))
        {
            Keep(Math.Abs(volts[load.Plus] - volts[load.Minus]), load.WorksFrom);
        }

        return least;
    }

    /// <summary>What the devices do at these voltages.</summary>
    private DeviceStates Next(DeviceStates now, Func<int, double> volts, bool oneAtATime)
    {
        var changes = 0;
        bool Step(bool was, bool wanted) => was == wanted || (oneAtATime && changes++ > 0) ? was : wanted;
        return new(
            [.. loom.Relays.Select((relay, i) => Step(now.Pulled[i], Pulls(relay, now.Pulled[i], volts)))],
            [.. loom.Controllers.Select((c, i) => Step(now.Awake[i], IsAwake(c, volts)))],
            [.. loom.Loads.Select((load, i) => Step(now.AtWork[i], IsAtWork(load, volts)))]);
    }

    /// <summary>A controller is awake while its supplies, grounds and wake input leave it enough.</summary>
    private static bool IsAwake(ControllerInCircuit controller, Func<int, double> volts)
    {
        var enough = controller.Model.LeastVolts + volts(controller.Ground);
        var (any, all) = (false, true);
        foreach (var (node, needed) in controller.Supplies)
        {
            var has = volts(node) >= enough;
            any |= has;
            all &= has || !needed;
        }

        var woken = controller.Wakes.IsEmpty;
        foreach (var node in controller.Wakes)
        {
            woken |= volts(node) >= enough;
        }

        return any && all && woken;
    }

    /// <summary>A relay that is pulled in stays so down to its lower voltage.</summary>
    private static bool Pulls(RelayCoil relay, bool pulled, Func<int, double> volts)
    {
        var across = Math.Abs(volts(relay.Plus) - volts(relay.Minus));
        return pulled ? across > relay.Model.DropOutVolts : across >= relay.Model.PullInVolts;
    }

    private static bool IsAtWork(LoadInCircuit load, Func<int, double> volts) =>
        load.Model.Cold != load.Model.AtWork && Math.Abs(volts(load.Plus) - volts(load.Minus)) >= load.WorksFrom;
}
