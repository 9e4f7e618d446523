using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Single faults that could be behind readings that are not as drawn, each with how likely it is before they are weighed.</summary>
internal sealed class Suspects
{
    /// <summary>Places of a bridge between two nets that stand nowhere beside each other: no more are weighed.</summary>
    private const int MostBridges = 300;

    /// <summary>Cavities beside each other are so much likelier to be taken for each other, or to touch.</summary>
    private const double Beside = 8;

    private readonly DrawnLoom drawn;
    private readonly Priors priors;
    private readonly Dictionary<string, Face> faces = new(StringComparer.Ordinal);
    private readonly double swaps, contacts, connectors, wires;

    /// <summary>Pairs of nets, the lower first, with cavities beside each other.</summary>
    private readonly HashSet<(int, int)> neighbours = [];

    internal Suspects(DrawnLoom drawn, Priors priors)
    {
        this.drawn = drawn;
        this.priors = priors;
        foreach (var connector in drawn.Loom.Connectors)
        {
            var face = Face.Of(drawn, connector);
            faces.Add(connector.Ref, face);
            neighbours.UnionWith(face.Near.Select(n => (A: face.NetOf[n.Item1], B: face.NetOf[n.Item2])).Where(n => n.A >= 0 && n.B >= 0).Select(n => (Math.Min(n.A, n.B), Math.Max(n.A, n.B))));
        }

        wires = Math.Max(1, drawn.Loom.Wires.Length);
        connectors = Math.Max(1, faces.Count);
        swaps = Math.Max(1, faces.Values.Sum(f => f.Weights(f.Wired, f.Wired)) / 2);
        contacts = Math.Max(1, faces.Values.Where(f => f.Empty.Count > 0).Sum(f => f.Wired.Count));
    }

    /// <summary>Logarithm of how likely metal is between two given wires somewhere along the way: one short in four.</summary>
    internal double LogAlong => Math.Log((1 - priors.Nothing) * priors.Short / 4 / wires);

    /// <summary>Logarithm of how likely a given wire is open.</summary>
    internal double LogOpen => Math.Log((1 - priors.Nothing) * priors.Open / wires);

    /// <summary>Logarithm of how likely metal is between two given cavities.</summary>
    internal double LogBridge(ProbePoint p, ProbePoint q) => Math.Log((1 - priors.Nothing) * priors.Short * Near(p, q) / (wires * 2));

    /// <summary>The most that <see cref="LogBridge"/> is.</summary>
    internal double LogLikeliest => Math.Log((1 - priors.Nothing) * priors.Short / (wires * 2));

    /// <summary>All that may be behind some readings, without bridges.</summary>
    /// <param name="apart">Drawn nets with a place that should be joined to another and is not, or the other way round.</param>
    /// <param name="off">Drawn nets with a value that copper and meter do not explain.</param>
    /// <param name="broken">Drawn nets in which a pair broke while it was moved.</param>
    internal IEnumerable<Supposition> Of(IReadOnlyCollection<int> apart, IReadOnlyCollection<int> off, IReadOnlyCollection<int> broken)
    {
        foreach (var wire in apart.Concat(off).Distinct().SelectMany(n => drawn.WiresOf(n)))
        {
            yield return One(new OpenFault(wire.Id), priors.Open, wires);
        }

        foreach (var wire in broken.SelectMany(n => drawn.WiresOf(n)))
        {
            yield return One(new IntermittentFault(wire.Id), priors.Intermittent, wires);
        }

        foreach (var wire in off.SelectMany(n => drawn.WiresOf(n)))
        {
            yield return One(new ResistiveFault(wire.Id, double.NaN), priors.Resistive, wires);
        }

        var touched = apart.ToHashSet();
        foreach (var face in faces.Values.Where(f => f.Wired.Exists(c => touched.Contains(f.NetOf[c]))))
        {
            foreach (var found in Moved(face, touched))
            {
                yield return One(found.Fault, found.Share, found.Among);
            }
        }
    }

    /// <summary>Where two drawn nets could touch: cavities beside each other, in one plug, else anywhere; each with how likely that is, a logarithm.</summary>
    internal IEnumerable<(ProbePoint A, ProbePoint B, double LogPrior)> Between(int a, int b) =>
        drawn.Graph.Nets[a].Points.SelectMany(p => drawn.Graph.Nets[b].Points.Select(q => (A: p, B: q, LogPrior: LogBridge(p, q)))).OrderByDescending(x => x.LogPrior).Take(MostBridges);

    /// <summary>How near two drawn nets come to each other, the lower first: 2 where they have cavities beside each other, 1 where they meet in a plug, 0 where they never do.</summary>
    internal int Nearness(int a, int b) =>
        neighbours.Contains((a, b)) ? 2 : drawn.Graph.Nets[a].Points.Any(p => drawn.Graph.Nets[b].Points.Any(q => q.Connector == p.Connector)) ? 1 : 0;

    /// <summary>Bridges between cavities beside each other in one plug, of the nets that a bridge joins.</summary>
    internal IEnumerable<Supposition> Neighbouring(ShortFault bridge)
    {
        if (drawn.NetsOf([bridge]).ToList() is not [var a, var b])
        {
            return [];
        }

        var there = drawn.Graph.Nets[b].Points.ToLookup(q => q.Connector, StringComparer.Ordinal);
        return drawn.Graph.Nets[a].Points.SelectMany(p => there[p.Connector].Where(q => Near(p, q) == 1).Select(q => Bridge(p, q, LogLikeliest)));
    }

    /// <summary>A bridge between two cavities.</summary>
    internal static Supposition Bridge(ProbePoint p, ProbePoint q, double logPrior) => new([new ShortFault(p.ToString(), q.ToString(), double.NaN)], logPrior);

    private Supposition One(Fault fault, double share, double among) => new([fault], Math.Log((1 - priors.Nothing) * share / among));

    private IEnumerable<(Fault Fault, double Share, double Among)> Moved(Face face, HashSet<int> touched)
    {
        var here = face.Connector.Ref;

        // In a plug of two cavities, filled from the wrong face is what people call exchanged, or astray when one is empty.
        var mirrored = MirroredFault.Fits(face.Connector, c => face.NetOf[c] >= 0) ? new MirroredFault(here) : null;
        var few = mirrored?.Moved(drawn.Loom).Where(m => m.Key != m.Value && face.NetOf[m.Key] >= 0).Select(m => m.Key).ToHashSet();
        bool IsThat(params ReadOnlySpan<string> contacts) => face.Connector.Family.Cavities.Length <= 2 && few is not null && few.Count == contacts.Length && few.Contains(contacts[0]) && few.Contains(contacts[^1]);
        var nets = face.Wired.ConvertAll(c => face.NetOf[c]);
        var isTouched = nets.ConvertAll(touched.Contains);
        for (var i = 0; i < nets.Count; i++)
        {
            var cavity = face.Wired[i];
            for (var j = i + 1; j < nets.Count; j++)
            {
                if (nets[j] != nets[i] && (isTouched[i] || isTouched[j]))
                {
                    var other = face.Wired[j];
                    yield return (SwapFault.Of(here, cavity, other), (priors.Swap * face.Weight(cavity, other)) + (IsThat(cavity, other) ? priors.Mirrored * swaps / connectors : 0), swaps);
                }
            }

            if (isTouched[i])
            {
                // Any contact that has an empty cavity to go to is as likely astray, and then in one beside its own sooner than in another.
                var all = face.Weights([cavity], face.Empty);
                foreach (var empty in face.Empty)
                {
                    yield return (new MisplacedFault(here, cavity, empty), (priors.Misplaced * face.Weight(cavity, empty) / all) + (IsThat(cavity) && mirrored!.Moved(drawn.Loom)[cavity] == empty ? priors.Mirrored * contacts / connectors : 0), contacts);
                }
            }
        }

        var runs = ShiftFault.Possible(face.Connector, c => face.NetOf[c] >= 0).ToList();
        foreach (var run in runs.Where(r => r.Cavities.Any(c => touched.Contains(face.NetOf[c]))))
        {
            yield return (run, priors.Shift / runs.Count, connectors);
        }

        if (mirrored is not null && face.Connector.Family.Cavities.Length > 2)
        {
            yield return (mirrored, priors.Mirrored, connectors);
        }
    }

    private double Near(ProbePoint p, ProbePoint q) => p.Connector != q.Connector ? 0.001 : faces[p.Connector].Weight(p.Cavity, q.Cavity) > 1 ? 1 : 0.1;

    /// <summary>What stands in a connector.</summary>
    private sealed record Face(Connector Connector, List<string> Wired, List<string> Empty, Dictionary<string, int> NetOf, HashSet<(string, string)> Near)
    {
        internal static Face Of(DrawnLoom drawn, Connector connector)
        {
            var nets = connector.Family.Cavities.Select(c => (c, Net: drawn.NetOf(new(connector.Ref, c)))).ToList();
            return new(
                connector,
                [.. nets.Where(x => x.Net >= 0).Select(x => x.c)],
                [.. nets.Where(x => x.Net < 0).Select(x => x.c)],
                nets.ToDictionary(x => x.c, x => x.Net, StringComparer.Ordinal),
                [.. FaceLayout.Neighbours(connector.Family)]);
        }

        internal double Weight(string one, string other) => Near.Contains((one, other)) || Near.Contains((other, one)) ? Beside : 1;

        internal double Weights(List<string> from, List<string> to) => from.Sum(a => to.Sum(b => a == b ? 0 : Weight(a, b)));
    }
}
