using MathNet.Numerics.LinearAlgebra;
using WiseLoom.Core.Circuits;

namespace WiseLoom.Core.States;

/// <summary>A resistance held between two nodes of a state that was solved without it.</summary>
/// <param name="From">The first node.</param>
/// <param name="To">The second node.</param>
/// <param name="Open">Volts from the first to the second without it.</param>
/// <param name="Behind">Ohms that the circuit shows between the two, not less than 0.</param>
/// <param name="Siemens">Of the probe.</param>
internal readonly record struct ProbePort(int From, int To, double Open, double Behind, double Siemens)
{
    /// <summary>Amperes through the probe, from the first node to the second, while no diode bends.</summary>
    internal double Amps => Siemens * Open / (1 + (Siemens * Behind));

    /// <summary>No two voltages of the circuit move apart by more than this while no diode bends, volts: in a network of
    /// resistances they move most at the two nodes that a current goes in and out by.</summary>
    internal double MostMoved => Math.Abs(Amps) * Behind;
}

/// <summary>What a probe does to a state.</summary>
/// <param name="Amps">Through the probe, from its first node to its second.</param>
/// <param name="Diodes">Those that it bends noticeably.</param>
/// <param name="Extra">By such a diode: amperes beyond the line that stood for its curve.</param>
internal sealed record ProbeEffect(double Amps, int[] Diodes, double[] Extra);

/// <summary>Tells what a probe does to a state in which diodes bend under it, without solving the whole circuit again.</summary>
/// <remarks>The circuit with a line for each diode is a network of resistances. Seen from the probe and the few diodes that
/// leave their lines noticeably it is a small matrix of resistances (Thévenin's theorem for many ports), and Newton's method runs over
/// those diodes only. All others keep their lines.</remarks>
internal sealed class BentDiodes(Circuit circuit, CircuitSession session, double[] volts)
{
    /// <summary>A diode may be moved this far before its line is not trusted, volts.</summary>
    internal const double StraightVolts = 0.005;

    /// <summary>A diode that blocks by more than this carries nothing, and its line says so, volts.</summary>
    private const double SurelyBlocks = -0.5, StillBlocks = 0.2;

    private const int MostDiodes = 8;

    private const int MostRounds = 100;

    private readonly double[]?[] columns = new double[]?[circuit.Junctions.Length];

    /// <summary>The effect of a probe.</summary>
    /// <param name="column">By place: volts that an ampere in at the probe's first node and out at its second makes; right at the nodes of diodes.</param>
    /// <returns>Null when more diodes bend than this is made for.</returns>
    internal ProbeEffect? Of(ProbePort port, double[] column)
    {
        int[] bent = [];
        while (bent.Length <= MostDiodes)
        {
            if (Of(port, bent) is not { } effect)
            {
                return null;
            }

            var more = new List<int>();
            for (var j = 0; j < columns.Length; j++)
            {
                if (Leaves(j, Moved(effect, column, j)) && !bent.Contains(j))
                {
                    more.Add(j);
                }
            }

            if (more.Count == 0)
            {
                return effect;
            }

            bent = [.. bent, .. more];
        }

        return null;
    }

    /// <summary>The effect of a probe when it is known which diodes it bends.</summary>
    /// <returns>Null when Newton's method finds no end.</returns>
    internal ProbeEffect? Of(ProbePort port, int[] bent)
    {
        if (bent.Length == 0)
        {
            return new(port.Amps, bent, []);
        }

        // Each diode's voltage is a[k] − Σ b[k,l]·extra[l].
        var share = port.Siemens / (1 + (port.Siemens * port.Behind));
        double[] seen = [.. bent.Select(j => At(Column(j), port.From) - At(Column(j), port.To))];
        double[] a = [.. bent.Select((j, k) => Across(j) - (seen[k] * share * port.Open))];
        var b = Matrix<double>.Build.Dense(bent.Length, bent.Length, (k, l) => Between(Column(bent[k]), bent[l]) - (seen[k] * seen[l] * share));
        return Settle(bent, a, b) is { } extra
            ? new(share * (port.Open - extra.Zip(seen, (e, s) => e * s).Sum()), bent, extra)
            : null;
    }

    /// <summary>How far a node is moved, volts.</summary>
    /// <param name="column">As <see cref="Of(ProbePort, double[])"/> has it; right at this node.</param>
    internal double MovedAt(ProbeEffect effect, double[] column, int node)
    {
        var moved = -effect.Amps * At(column, node);
        for (var k = 0; k < effect.Diodes.Length; k++)
        {
            moved -= effect.Extra[k] * At(Column(effect.Diodes[k]), node);
        }

        return moved;
    }

    private double Moved(ProbeEffect effect, double[] column, int junction)
    {
        var moved = -effect.Amps * Between(column, junction);
        for (var k = 0; k < effect.Diodes.Length; k++)
        {
            moved -= effect.Extra[k] * Between(Column(effect.Diodes[k]), junction);
        }

        return moved;
    }

    private bool Leaves(int junction, double moved) =>
        Math.Abs(moved) > StraightVolts && (Across(junction) > SurelyBlocks || Across(junction) + moved > StillBlocks);

    private double Across(int junction) => volts[circuit.Junctions[junction].From] - volts[circuit.Junctions[junction].To];

    /// <summary>By place: volts that an ampere in at a diode's anode and out at its cathode makes.</summary>
    private double[] Column(int junction) =>
        columns[junction] ??= session.Column(circuit.Junctions[junction].From, circuit.Junctions[junction].To);

    private double Between(double[] column, int junction) => At(column, circuit.Junctions[junction].From) - At(column, circuit.Junctions[junction].To);

    private double At(double[] column, int node) => circuit.PlaceOf(node) is >= 0 and var place ? column[place] : 0;

    /// <summary>Amperes beyond the lines at which all bent diodes agree with the voltages.</summary>
    private double[]? Settle(int[] bent, double[] a, Matrix<double> b)
    {
        var count = bent.Length;
        double[] own = [.. bent.Select(session.JunctionVolts)];
        var (extra, wrong) = (new double[count], new double[count]);
        var slopes = Matrix<double>.Build.Dense(count, count);
        for (var round = 0; round < MostRounds; round++)
        {
            var (volt, rise, steep) = (new double[count], new double[count], new double[count]);
            for (var k = 0; k < count; k++)
            {
                var (junction, line) = (circuit.Junctions[bent[k]], session.JunctionLine(bent[k]));
                var amps = junction.AmpsAt(own[k]);
                steep[k] = junction.SiemensAt(own[k]);
                volt[k] = own[k] + (junction.Model.SeriesOhms * amps);
                rise[k] = 1 + (junction.Model.SeriesOhms * steep[k]);
                extra[k] = amps - line.Amps - (line.Siemens * volt[k]);
                steep[k] -= line.Siemens * rise[k];
            }

            for (var k = 0; k < count; k++)
            {
                wrong[k] = volt[k] - a[k];
                for (var l = 0; l < count; l++)
                {
                    wrong[k] += b[k, l] * extra[l];
                    slopes[k, l] = (k == l ? rise[k] : 0) + (b[k, l] * steep[l]);
                }
            }

            var step = count == 1 ? [wrong[0] / slopes[0, 0]] : slopes.Solve(Vector<double>.Build.Dense(wrong)).ToArray();
            var settled = true;
            for (var k = 0; k < count; k++)
            {
                var wanted = own[k] - step[k];
                var next = circuit.Junctions[bent[k]].Limited(wanted, own[k]);
                settled &= next == wanted && Math.Abs(step[k]) < 1e-9;
                own[k] = next;
            }

            if (settled)
            {
                return extra;
            }
        }

        return null;
    }
}
