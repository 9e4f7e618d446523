using WiseLoom.Core.Circuits;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>One net with its diodes, at one corner of the tolerances, as a meter's test current finds it.</summary>
internal sealed class FittedCircuit
{
    private readonly Dictionary<string, int> places;
    private readonly CircuitSession session;

    /// <param name="edges">Wires and devices of the net, in ohms.</param>
    /// <param name="diodes">Its diodes.</param>
    internal FittedCircuit(IEnumerable<(string From, string To, double Ohms, string Label)> edges, IEnumerable<FittedPart> diodes)
    {
        var build = new Circuit.Builder();
        var siemens = new List<double>();
        foreach (var (from, to, ohms, label) in edges)
        {
            build.Branch(build.Node(from), build.Node(to), label, ohms <= 0);
            siemens.Add(ohms > 0 ? 1 / ohms : 0);
        }

        foreach (var diode in diodes)
        {
            build.Junction(build.Node(diode.From), build.Node(diode.To), diode.Diode!, diode.Label);
        }

        var circuit = build.Done(build.Node("(meter)"));
        session = new CircuitSession(circuit);
        for (var i = 0; i < siemens.Count; i++)
        {
            session.Set(i, siemens[i], 0);
        }

        places = circuit.Names.Select((name, place) => (name, place)).DistinctBy(x => x.name).ToDictionary(x => x.name, x => x.place, StringComparer.Ordinal);
    }

    /// <summary>Volts from red to black with a current going in at red and out at black; infinite when it cannot flow.</summary>
    internal double VoltsBetween(ProbePoint red, ProbePoint black, double amps)
    {
        var (from, to) = (places[red.ToString()], places[black.ToString()]);
        var solution = session.Copy().Solve(new Probe(from, 0, to, amps), currents: false);
        return solution.Settled ? solution.Volts[from] - solution.Volts[to] : double.PositiveInfinity;
    }
}
