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
    private readonly double[][] lifts;

    /// <param name="outputs">By output, by place: volts that a volt of it makes.</param>
    /// <param name="lifts">By output, by place: volts that an ampere in there moves it by.</param>
    private Followers(Circuit circuit, double[][] outputs, double[][] lifts) => (this.circuit, this.outputs, this.lifts) = (circuit, outputs, lifts);

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
        if (Math.Abs(loop.Determinant()) < 1e-9)
        {
            return null;
        }

        var moves = loop.Solve(shares);
        var lifts = new double[all.Count][];
        for (var j = 0; j < all.Count; j++)
        {
            lifts[j] = new double[supplies[0].Length];
            for (var k = 0; k < all.Count; k++)
            {
                if (moves[j, k] is var share && Math.Abs(share) > Unnoticed)
                {
                    for (var place = 0; place < lifts[j].Length; place++)
                    {
                        lifts[j][place] += share * supplies[k][place];
                    }
                }
            }
        }

        return new(circuit, outputs, lifts);
    }

    /// <summary>Volts at a node that an ampere in at another adds by way of the transducers.</summary>
    internal double Extra(int at, int ampere)
    {
        var (here, there, sum) = (circuit.PlaceOf(at), circuit.PlaceOf(ampere), 0.0);
        for (var j = 0; here >= 0 && there >= 0 && j < outputs.Length; j++)
        {
            sum += outputs[j][here] * lifts[j][there];
        }

        return sum;
    }

    /// <summary>The largest step of any output for an ampere in at one node and out at another, volts.</summary>
    internal double MostLift(int from, int to)
    {
        var (here, there, most) = (circuit.PlaceOf(from), circuit.PlaceOf(to), 0.0);
        foreach (var lift in lifts)
        {
            most = Math.Max(most, Math.Abs((here < 0 ? 0 : lift[here]) - (there < 0 ? 0 : lift[there])));
        }

        return most;
    }

    /// <summary>A share of another output that nobody would notice.</summary>
    private const double Unnoticed = 1e-12;

    private static double At(Circuit circuit, double[] column, int node) => circuit.PlaceOf(node) is >= 0 and var place ? column[place] : 0;
}
