using System.Diagnostics;
using System.Globalization;
using System.Text;
using WiseLoom.Core.Circuits;
using WiseLoom.Core.Devices;
using WiseLoom.Core.States;

namespace WiseLoom.Bench;

/// <summary>Solves generated net-lists here and with a general circuit simulator (the command <c>ngspice</c>), and holds one against the other.</summary>
/// <remarks>A check from outside; the product never calls the simulator.</remarks>
internal static class SimulatorComparison
{
    /// <summary>Temperature at which the simulator's thermal voltage is 25.85 mV, degrees Celsius: T = 0.02585·q/k.</summary>
    private const double ThermalC = (0.02585 * 1.6021766208e-19 / 1.38064852e-23) - 273.15;

    internal static int Run(int count)
    {
        var worst = 0.0;
        var missed = 0;
        for (var seed = 1; seed <= count; seed++)
        {
            var (circuit, session, what) = seed % 3 == 0 ? FromLoom(seed) : Random(seed);
            var ours = session.Solve();
            var theirs = Simulate(circuit, session);
            var off = 0.0;
            var at = "";
            for (var node = 0; node < circuit.Names.Length; node++)
            {
                // 1 µV or a millionth, whichever is more: above 1 it is a miss.
                var share = Math.Abs(ours.Volts[node] - theirs[node]) / Math.Max(1e-6, 1e-6 * Math.Abs(theirs[node]));
                if (!(share <= off))
                {
                    (off, at) = (share, $"{circuit.Names[node]}: {ours.Volts[node]:R} here, {theirs[node]:R} there");
                }
            }

            worst = Math.Max(worst, off);
            missed += off <= 1 ? 0 : 1;
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{seed,3}  {what,-60} {circuit.Names.Length,4} nodes  {off,8:0.0000} of 1 µV or 1e-6{(off <= 1 ? "" : "   MISSED  " + at)}"));
        }

        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{count} net-lists, {missed} missed, worst {worst:0.0000} of the allowance"));
        return missed == 0 ? 0 : 1;
    }

    /// <summary>Resistors from a milliohm to megohms, batteries with and without resistance, closed and open switches, diodes of several kinds.</summary>
    private static (Circuit, CircuitSession, string) Random(int seed)
    {
        var random = new Random(seed);
        var build = new Circuit.Builder();
        var nodes = Enumerable.Range(0, random.Next(5, 60)).Select(i => build.Node($"n{i}")).ToArray();
        var values = new List<(double Siemens, double Emf)>();
        void Branch(int from, int to, double ohms, double emf = 0, bool ideal = false)
        {
            build.Branch(from, to, "part", ideal);
            values.Add((ohms > 0 ? 1 / ohms : 0, emf));
        }

        int Any() => nodes[random.Next(nodes.Length)];
        Branch(nodes[1], nodes[0], 0, 12.6, ideal: true);
        for (var i = 2; i < nodes.Length; i++)
        {
            Branch(nodes[i], nodes[random.Next(i)], Math.Pow(10, (random.NextDouble() * 7) - 3));
        }

        var (extra, diodes, switches) = (random.Next(nodes.Length), random.Next(1, 10), random.Next(1, 8));
        for (var i = 0; i < extra; i++)
        {
            var (a, b) = (Any(), Any());
            if (a != b)
            {
                Branch(a, b, Math.Pow(10, (random.NextDouble() * 7) - 2), random.Next(6) == 0 ? random.NextDouble() * 14 : 0);
            }
        }

        for (var i = 0; i < switches; i++)
        {
            var (a, b) = (Any(), Any());
            if (a != b)
            {
                Branch(a, b, random.Next(2) == 0 ? 0.01 : 0);
            }
        }

        for (var i = 0; i < diodes; i++)
        {
            var (a, b) = (Any(), Any());
            if (a != b)
            {
                build.Junction(a, b, random.Next(2) == 0 ? DiodeModel.Usual : new DiodeModel(Math.Pow(10, -14 + (random.NextDouble() * 6)), 1 + random.NextDouble(), random.NextDouble()), "diode");
            }
        }

        var circuit = build.Done(nodes[0]);
        var session = new CircuitSession(circuit);
        for (var i = 0; i < values.Count; i++)
        {
            session.Set(i, values[i].Siemens, values[i].Emf);
        }

        return (circuit, session, $"random, {diodes} diodes, {switches} switches");
    }

    /// <summary>The state of a generated loom with its devices as they came to rest.</summary>
    private static (Circuit, CircuitSession, string) FromLoom(int seed)
    {
        var key = KeyPositions.All[seed % 5];
        var loom = LoomCircuit.Of(AsBuilt.AsDrawn(PoweredLoom.Loom(100 + (seed * 5), 20 + seed, seed), 20), 20);
        var agreed = new StateSolver(loom).Solve(Situation.At(key), loom.AtRest());
        return (loom.Circuit, agreed.Session.Copy(), $"loom, key {KeyPositions.Word(key)}, {loom.Circuit.Junctions.Length} diodes");
    }

    private static double[] Simulate(Circuit circuit, CircuitSession session)
    {
        string Node(int node) => node == circuit.Reference ? "0" : string.Create(CultureInfo.InvariantCulture, $"x{node}");
        string Number(double value) => value.ToString("R", CultureInfo.InvariantCulture);
        var deck = new StringBuilder("net-list\n");
        for (var i = 0; i < circuit.Branches.Length; i++)
        {
            var b = circuit.Branches[i];
            var (from, to) = (Node(b.From), Node(b.To));
            if (b.Fixed)
            {
                deck.AppendLine(CultureInfo.InvariantCulture, $"V{i} {from} {to} DC {Number(session.Emf[i])}");
            }
            else if (session.Siemens[i] > 0)
            {
                var middle = session.Emf[i] == 0 ? to : $"m{i}";
                deck.AppendLine(CultureInfo.InvariantCulture, $"R{i} {from} {middle} {Number(1 / session.Siemens[i])}");
                if (middle != to)
                {
                    deck.AppendLine(CultureInfo.InvariantCulture, $"V{i} {middle} {to} DC {Number(session.Emf[i])}");
                }
            }
        }

        for (var j = 0; j < circuit.Junctions.Length; j++)
        {
            var (junction, model) = (circuit.Junctions[j], circuit.Junctions[j].Model);
            deck.AppendLine(CultureInfo.InvariantCulture, $"D{j} {Node(junction.From)} {Node(junction.To)} MD{j}");
            deck.AppendLine(CultureInfo.InvariantCulture, $".model MD{j} D(IS={Number(model.SaturationAmps)} N={Number(model.Ideality)} RS={Number(model.SeriesOhms)} TNOM={Number(ThermalC)})");
        }

        for (var node = 0; node < circuit.Names.Length; node++)
        {
            if (node != circuit.Reference)
            {
                deck.AppendLine(CultureInfo.InvariantCulture, $"RL{node} {Node(node)} 0 1e9");
            }
        }

        deck.AppendLine(CultureInfo.InvariantCulture, $".options temp={Number(ThermalC)} tnom={Number(ThermalC)} reltol=1e-10 abstol=1e-16 vntol=1e-11 gmin=1e-24 itl1=2000");
        deck.AppendLine(".control\nset numdgt=15\nop");
        for (var node = 0; node < circuit.Names.Length; node++)
        {
            if (node != circuit.Reference)
            {
                deck.AppendLine(CultureInfo.InvariantCulture, $"print v({Node(node)})");
            }
        }

        deck.AppendLine("quit\n.endc\n.end");
        return Read(circuit, Call(deck.ToString()));
    }

    private static string Call(string deck)
    {
        var file = Path.GetTempFileName();
        try
        {
            File.WriteAllText(file, deck);
            using var process = Process.Start(new ProcessStartInfo("ngspice", ["-b", file]) { RedirectStandardOutput = true, RedirectStandardError = true })!;
            var errors = process.StandardError.ReadToEndAsync();
            var output = process.StandardOutput.ReadToEnd();
            process.WaitForExit();
            return output + errors.Result;
        }
        finally
        {
            File.Delete(file);
        }
    }

    private static double[] Read(Circuit circuit, string output)
    {
        var volts = Enumerable.Repeat(double.NaN, circuit.Names.Length).ToArray();
        volts[circuit.Reference] = 0;
        foreach (var line in output.Split('\n').Where(l => l.StartsWith("v(x", StringComparison.Ordinal)))
        {
            var parts = line.Split('=');
            var node = int.Parse(parts[0].Trim()[3..^1], CultureInfo.InvariantCulture);
            volts[node] = double.Parse(parts[1], CultureInfo.InvariantCulture);
        }

        return volts;
    }
}
