using MathNet.Numerics.LinearAlgebra;
using WiseLoom.Core.Circuits;

namespace WiseLoom.Core.States;

/// <summary>What transducers add to a circuit's own resistances: each puts out a share of its supply, so that whatever moves its supply or its
/// ground moves its output too.</summary>
/// <remarks>With C the volts that an output's volt makes, D the volts between supply and ground that an ampere makes, S the shares and
/// K what the outputs do to each other's supplies, an ampere moves the outputs by M·D with M = (1 − S·K)⁻¹·S, and every node by C·M·D besides.</remarks>
internal sealed class Followers
{
    private readonly Circuit circuit;
    private readonly double[][] outputs;
    private readonly double[][] supplies;
    private readonly Matrix<double> moves;

    private Followers(Circuit circuit, double[][] outputs, double[][] supplies, Matrix<double> moves) =>
        (this.circuit, this.outputs, this.supplies, this.moves) = (circuit, outputs, supplies, moves);

    /// <summary>The transducers of a state that was solved last in this session; null without any.</summary>
    internal static Followers? Of(LoomCircuit loom, CircuitSession session)
    {
        var all = loom.Transducers.Where(t => session.Siemens[t.Branch] > 0).ToList();
        if (all.Count == 0)
        {
            return null;
        }

        var circuit = loom.Circuit;
        double[][] outputs = [.. all.Select(t => (double[])[.. session.Column(circuit.Branches[t.Branch].From, circuit.Branches[t.Branch].To).Select(v => v * session.Siemens[t.Branch])])];
        double[][] supplies = [.. all.Select(t => session.Column(t.Supply, t.Ground))];
        var shares = Matrix<double>.Build.DenseOfDiagonalArray([.. all.Select(t => t.Share)]);
        var onSupplies = Matrix<double>.Build.Dense(all.Count, all.Count, (k, j) => At(circuit, outputs[j], all[k].Supply) - At(circuit, outputs[j], all[k].Ground));
        var loop = Matrix<double>.Build.Dense(all.Count, all.Count, (i, j) => i == j ? 1 : 0) - (shares * onSupplies);
        return Math.Abs(loop.Determinant()) < 1e-9 ? null : new(circuit, outputs, supplies, loop.Solve(shares));
    }

    /// <summary>Volts at a node that an ampere in at another adds by way of the transducers.</summary>
    internal double Extra(int at, int ampere) => Lift(ampere, -1).Zip(outputs, (volts, output) => volts * At(circuit, output, at)).Sum();

    /// <summary>The largest step of any output for an ampere in at one node and out at another, volts.</summary>
    internal double MostLift(int from, int to) => Lift(from, to).Max(Math.Abs);

    private Vector<double> Lift(int from, int to) =>
        moves * Vector<double>.Build.Dense([.. supplies.Select(s => At(circuit, s, from) - (to < 0 ? 0 : At(circuit, s, to)))]);

    private static double At(Circuit circuit, double[] column, int node) => circuit.PlaceOf(node) is >= 0 and var place ? column[place] : 0;
}
