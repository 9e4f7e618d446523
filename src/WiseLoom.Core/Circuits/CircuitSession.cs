namespace WiseLoom.Core.Circuits;

/// <summary>A circuit with values in it. It follows changes of them, and begins each question where the last one ended.</summary>
/// <remarks>Newton's method over the diodes, each replaced by the line that touches its curve; then a correction of what the
/// rounding left, so that the currents add up at every node.</remarks>
internal sealed class CircuitSession
{
    private const int MostRounds = 400;

    private readonly Circuit circuit;
    private readonly Factor factor;
    private readonly bool[] dirty;
    private readonly double[] siemens;
    private readonly double[] emf;
    private readonly double[] junctionVolts;
    private readonly (double Siemens, double Amps)[] lines;
    private readonly double[] work;
    private readonly bool[] inside;
    private double[] offset;
    private double[] sourced;
    private double reference;
    private int conflict = -1;
    private bool sourcesChanged = true;

    internal CircuitSession(Circuit circuit)
    {
        this.circuit = circuit;
        factor = new(circuit.Elimination);
        dirty = [.. Enumerable.Repeat(true, circuit.Elimination.Count)];
        (siemens, emf) = (new double[circuit.Branches.Length], new double[circuit.Branches.Length]);
        (junctionVolts, lines) = (new double[circuit.Junctions.Length], new (double, double)[circuit.Junctions.Length]);
        (work, inside) = (new double[circuit.Elimination.Count], new bool[circuit.Elimination.Count]);
        (sourced, offset) = (new double[circuit.Elimination.Count], new double[circuit.Names.Length]);
        for (var u = 0; u < circuit.Elimination.Count; u++)
        {
            factor.BaseLeak[circuit.Elimination.PositionOf(u)] = Circuit.Leak * circuit.NodesOf(u);
        }
    }

    private CircuitSession(CircuitSession of)
    {
        (circuit, factor, dirty) = (of.circuit, of.factor.Copy(), (bool[])of.dirty.Clone());
        (siemens, emf) = ((double[])of.siemens.Clone(), (double[])of.emf.Clone());
        (junctionVolts, lines) = ((double[])of.junctionVolts.Clone(), ((double, double)[])of.lines.Clone());
        (work, inside) = (new double[of.work.Length], new bool[of.inside.Length]);
        (sourced, offset) = (of.sourced, of.offset);
        (reference, conflict, sourcesChanged) = (of.reference, of.conflict, of.sourcesChanged);
    }

    /// <summary>Takes over the values of another session of the same circuit.</summary>
    internal void TakeOver(CircuitSession of)
    {
        factor.TakeOver(of.factor);
        of.dirty.CopyTo(dirty, 0);
        of.siemens.CopyTo(siemens, 0);
        of.emf.CopyTo(emf, 0);
        of.junctionVolts.CopyTo(junctionVolts, 0);
        of.lines.CopyTo(lines, 0);
        (sourced, offset) = (of.sourced, of.offset);
        (reference, conflict, sourcesChanged) = (of.reference, of.conflict, of.sourcesChanged);
    }

    /// <summary>Siemens by branch.</summary>
    internal IReadOnlyList<double> Siemens => siemens;

    /// <summary>Volts by branch.</summary>
    internal IReadOnlyList<double> Emf => emf;

    /// <summary>The same values, to be changed by itself.</summary>
    internal CircuitSession Copy() => new(this);

    /// <summary>The line that stands for a diode's curve: siemens, and the amperes it crosses 0 V with.</summary>
    internal (double Siemens, double Amps) JunctionLine(int junction) => lines[junction];

    /// <summary>The voltage at a diode's own junction, where its line touches its curve.</summary>
    internal double JunctionVolts(int junction) => junctionVolts[junction];

    /// <summary>Gives a branch its values.</summary>
    /// <param name="conductance">Siemens; 0 for an open branch. Of an ideal branch it is not looked at.</param>
    /// <param name="volts">What its source holds from its first node to its second; NaN to leave it as it is.</param>
    internal void Set(int branch, double conductance, double volts)
    {
        if (siemens[branch] != conductance)
        {
            siemens[branch] = conductance;
            circuit.Restamp(branch, SiemensOf, factor, dirty);
            sourcesChanged = true;
        }

        SetEmf(branch, volts);
    }

    /// <summary>Gives a branch another source.</summary>
    internal void SetEmf(int branch, double volts)
    {
        if (!double.IsNaN(volts) && emf[branch] != volts)
        {
            emf[branch] = volts;
            sourcesChanged = true;
        }
    }

    /// <summary>Solves for the values as they stand.</summary>
    /// <param name="probe">Something held to a node from outside; null for nothing.</param>
    /// <param name="currents">Whether the currents are wanted, not only the voltages.</param>
    internal CircuitSolution Solve(Probe? probe = null, bool currents = true)
    {
        Source();
        if (conflict >= 0)
        {
            return CircuitSolution.Impossible(conflict);
        }

        var volts = new double[circuit.Names.Length];
        Hold(probe);
        Bend();
        circuit.Elimination.Refresh(factor, dirty);

        // Only what diodes and probe reach changes from round to round; the rest is carried there once.
        var reach = ReachWith(probe);
        circuit.Elimination.Outer(factor, sourced, inside, work);
        double[] inflow = [.. reach.Select(p => work[p])];
        var (settled, far) = (false, double.NaN);
        for (var round = 0; round < MostRounds && !settled; round++)
        {
            if (round > 0)
            {
                Bend();
                circuit.Elimination.Refresh(factor, dirty, reach);
            }

            for (var i = 0; i < reach.Length; i++)
            {
                work[reach[i]] = inflow[i];
            }

            FeedChanging(probe, far, volts);
            circuit.Elimination.Inner(factor, reach, work);
            settled = StepJunctions(volts);
            if (probe is not null)
            {
                volts[probe.Node] = VoltsAt(probe.Node);
            }

            if (probe?.To is { } to)
            {
                volts[to] = VoltsAt(to);
                settled &= Math.Abs(volts[to] - far) < 1e-9;
                far = volts[to];
            }
        }

        circuit.Elimination.Rest(factor, inside, work);
        for (var node = 0; node < volts.Length; node++)
        {
            volts[node] = VoltsAt(node);
        }

        var (amps, junctionAmps) = currents ? Correct(volts, probe) : ([], []);
        Hold(null);
        return new(volts, amps, junctionAmps, -1, settled);
    }

    /// <summary>Volts that one ampere in at one node and out at another makes, by place in the order, in the state solved last.</summary>
    internal double[] Column(int from, int to)
    {
        circuit.Elimination.Refresh(factor, dirty);
        var column = new double[work.Length];
        FeedAt(column, from, 1);
        FeedAt(column, to, -1);
        circuit.Elimination.Inner(factor, circuit.Elimination.All, column);
        return column;
    }

    /// <summary>The same, only where it is asked for.</summary>
    /// <param name="wanted">Places in order, closed under later neighbours.</param>
    /// <param name="column">Right at those places afterwards; elsewhere it means nothing.</param>
    internal void Column(int from, int to, int[] wanted, double[] column)
    {
        circuit.Elimination.Refresh(factor, dirty);
        Array.Clear(column);
        FeedAt(column, from, 1);
        FeedAt(column, to, -1);
        circuit.Elimination.Inner(factor, circuit.PlaceOf(from), circuit.PlaceOf(to), wanted, column);
    }

    /// <summary>Ohms behind every node, by place in the order, in the state solved last.</summary>
    internal double[] OwnResistances()
    {
        circuit.Elimination.Refresh(factor, dirty);
        return circuit.Elimination.OwnResistances(factor);
    }

    private double SiemensOf(int part) => part >= 0 ? siemens[part] : lines[~part].Siemens;

    /// <summary>Holds a probe to its node; null takes it off again.</summary>
    private void Hold(Probe? probe)
    {
        if (factor.HeldAt >= 0)
        {
            dirty[factor.HeldAt] = true;
        }

        var held = probe is { Siemens: > 0 } ? circuit.UnknownOf(probe.Node) : -1;
        (factor.HeldAt, factor.HeldSiemens) = held >= 0 ? (circuit.Elimination.PositionOf(held), probe!.Siemens) : (-1, 0);
        if (factor.HeldAt >= 0)
        {
            dirty[factor.HeldAt] = true;
        }
    }

    /// <summary>Amperes that sources feed into the unknowns, diodes and probe left out.</summary>
    private void Source()
    {
        if (!sourcesChanged)
        {
            return;
        }

        sourcesChanged = false;
        (var found, conflict) = circuit.Offsets(emf);
        if (found is null)
        {
            return;
        }

        (offset, reference) = (found, -found[circuit.Reference]);
        sourced = new double[work.Length];
        for (var node = 0; node < offset.Length; node++)
        {
            Feed(sourced, node, -Circuit.Leak * offset[node]);
        }

        for (var i = 0; i < siemens.Length; i++)
        {
            if (siemens[i] > 0 && !circuit.Branches[i].Fixed)
            {
                var b = circuit.Branches[i];
                var flow = LineFlow(b.From, b.To, siemens[i], -siemens[i] * emf[i]);
                Feed(sourced, b.From, -flow);
                Feed(sourced, b.To, flow);
            }
        }
    }

    /// <summary>Lays a line to the curve of each diode.</summary>
    private void Bend()
    {
        for (var j = 0; j < lines.Length; j++)
        {
            var was = lines[j].Siemens;
            lines[j] = circuit.Junctions[j].LineAt(junctionVolts[j]);
            if (lines[j].Siemens != was)
            {
                circuit.Restamp(~j, SiemensOf, factor, dirty);
            }
        }
    }

    /// <summary>Places that diodes and probe reach, in order; <see cref="inside"/> says the same by place.</summary>
    private int[] ReachWith(Probe? probe)
    {
        circuit.JunctionsInside.CopyTo(inside, 0);
        return probe is null
            ? circuit.JunctionReach
            : circuit.Elimination.Widen(circuit.JunctionReach, inside, circuit.PlaceOf(probe.Node), probe.To is { } to ? circuit.PlaceOf(to) : -1);
    }

    /// <summary>Amperes of diodes and probe, by place in the order.</summary>
    private void FeedChanging(Probe? probe, double far, double[] volts)
    {
        for (var j = 0; j < lines.Length; j++)
        {
            var (from, to) = (circuit.Junctions[j].From, circuit.Junctions[j].To);
            var flow = LineFlow(from, to, lines[j].Siemens, lines[j].Amps);
            FeedAt(work, from, -flow);
            FeedAt(work, to, flow);
        }

        if (probe is not null)
        {
            // Towards another node the probe's far side is taken from the round before; it hardly moves.
            var known = double.IsNaN(far) ? 0 : far;
            FeedAt(work, probe.Node, probe.Amps + (probe.Siemens * (known - offset[probe.Node])));
            if (probe.To is { } to)
            {
                FeedAt(work, to, -probe.Amps - (double.IsNaN(far) ? 0 : probe.Siemens * (known - volts[probe.Node])));
            }
        }
    }

    /// <summary>A part that carries siemens·(V(from) − V(to)) + amps: what of it does not depend on the unknowns.</summary>
    private double LineFlow(int from, int to, double g, double amps)
    {
        var (a, b) = (circuit.UnknownOf(from), circuit.UnknownOf(to));
        var known = offset[from] - offset[to];
        if (a != b)
        {
            known += (a < 0 ? reference : 0) - (b < 0 ? reference : 0);
        }

        return amps + (g * known);
    }

    private void Feed(double[] fed, int node, double amps)
    {
        if (circuit.UnknownOf(node) is >= 0 and var u)
        {
            fed[u] += amps;
        }
    }

    private void FeedAt(double[] work, int node, double amps)
    {
        if (circuit.PlaceOf(node) is >= 0 and var place)
        {
            work[place] += amps;
        }
    }

    private double VoltsAt(int node)
    {
        var place = circuit.PlaceOf(node);
        return (place < 0 ? reference : work[place]) + offset[node];
    }

    private bool StepJunctions(double[] volts)
    {
        var settled = true;
        for (var j = 0; j < lines.Length; j++)
        {
            var junction = circuit.Junctions[j];
            (volts[junction.From], volts[junction.To]) = (VoltsAt(junction.From), VoltsAt(junction.To));
            var across = volts[junction.From] - volts[junction.To];
            var amps = lines[j].Amps + (lines[j].Siemens * across);
            var wanted = junction.Inner(across, amps);
            var next = junction.Limited(wanted, junctionVolts[j]);

            // A blocked diode between floating nodes trembles by what others round off; it carries nothing by that.
            var step = Math.Abs(next - junctionVolts[j]);
            settled &= next == wanted && (step < 1e-10 || (step < 1e-8 && step * lines[j].Siemens < 1e-14))
                && Math.Abs(amps - junction.AmpsAt(next)) < 1e-13 + (1e-10 * Math.Abs(amps));
            junctionVolts[j] = next;
        }

        return settled;
    }

    /// <summary>Currents of all parts, and the correction that makes them add up at every node.</summary>
    private (double[] Amps, double[] JunctionAmps) Correct(double[] volts, Probe? probe)
    {
        var amps = new double[circuit.Branches.Length];
        var junctionAmps = new double[circuit.Junctions.Length];
        for (var i = 0; i < amps.Length; i++)
        {
            var b = circuit.Branches[i];
            amps[i] = b.Fixed || siemens[i] <= 0 ? 0 : siemens[i] * (volts[b.From] - volts[b.To] - emf[i]);
        }

        for (var j = 0; j < junctionAmps.Length; j++)
        {
            var junction = circuit.Junctions[j];
            junctionAmps[j] = lines[j].Amps + (lines[j].Siemens * (volts[junction.From] - volts[junction.To]));
        }

        var step = new double[work.Length];
        for (var round = 0; round < 2; round++)
        {
            var outflow = Outflow(volts, amps, junctionAmps, probe);
            var left = new double[work.Length];
            for (var node = 0; node < outflow.Length; node++)
            {
                Feed(left, node, -outflow[node]);
            }

            circuit.Elimination.Solve(factor, left, step);
            double StepAt(int node) => circuit.UnknownOf(node) is >= 0 and var u ? step[u] : 0;
            for (var node = 0; node < volts.Length; node++)
            {
                volts[node] += StepAt(node);
            }

            for (var i = 0; i < amps.Length; i++)
            {
                var b = circuit.Branches[i];
                if (!b.Fixed && siemens[i] > 0)
                {
                    amps[i] += siemens[i] * (StepAt(b.From) - StepAt(b.To));
                }
            }

            for (var j = 0; j < junctionAmps.Length; j++)
            {
                var junction = circuit.Junctions[j];
                junctionAmps[j] += lines[j].Siemens * (StepAt(junction.From) - StepAt(junction.To));
            }
        }

        circuit.FillIdeal(Outflow(volts, amps, junctionAmps, probe), amps);
        return (amps, junctionAmps);
    }

    private double[] Outflow(double[] volts, double[] amps, double[] junctionAmps, Probe? probe)
    {
        var outflow = new double[circuit.Names.Length];
        for (var node = 0; node < outflow.Length; node++)
        {
            outflow[node] = node == circuit.Reference ? 0 : Circuit.Leak * volts[node];
        }

        for (var i = 0; i < amps.Length; i++)
        {
            outflow[circuit.Branches[i].From] += amps[i];
            outflow[circuit.Branches[i].To] -= amps[i];
        }

        for (var j = 0; j < junctionAmps.Length; j++)
        {
            outflow[circuit.Junctions[j].From] += junctionAmps[j];
            outflow[circuit.Junctions[j].To] -= junctionAmps[j];
        }

        if (probe is not null)
        {
            var flow = (probe.Siemens * (volts[probe.Node] - (probe.To is { } to ? volts[to] : 0))) - probe.Amps;
            outflow[probe.Node] += flow;
            if (probe.To is { } far)
            {
                outflow[far] -= flow;
            }
        }

        return outflow;
    }
}
