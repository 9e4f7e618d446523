using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Practice;

/// <summary>A loom on a bench with hidden faults, and a meter that reads it with its own error.</summary>
public sealed class SimulatedBench
{
    /// <summary>Share of readings that find an intermittent contact open while the loom is flexed.</summary>
    private const double OpenShare = 0.15;

    private readonly Loom loom;
    private readonly Meter meter;
    private readonly int seed;
    private readonly Random touch;
    private List<Fault> hidden;
    private WireGraph built = null!;
    private WireGraph? flexed;

    /// <summary>Lays a loom on the bench.</summary>
    /// <param name="faults">What is wrong with it.</param>
    /// <param name="seed">Fixes the true copper values and the meter's error, so that a practice can be repeated.</param>
    public SimulatedBench(Loom loom, Meter meter, IEnumerable<Fault> faults, int seed)
    {
        this.loom = loom;
        this.meter = meter;
        this.seed = seed;
        touch = new Random(seed);
        hidden = [.. faults];
        Lay();
    }

    /// <summary>Whether somebody flexes the loom: what is intermittent then opens now and again.</summary>
    public bool Moved { get; set; }

    /// <summary>Faults that are still in the loom.</summary>
    public int Hidden => hidden.Count;

    /// <summary>Takes a reading between two sets of points, each set joined by the fixture.</summary>
    /// <returns>Over range when no metal joins them, or when the value is beyond the meter's scale.</returns>
    /// <exception cref="ArgumentException">A set is empty.</exception>
    public Reading Measure(IReadOnlyList<ProbePoint> red, IReadOnlyList<ProbePoint> black) => Measure(red, black, new HashSet<string>());

    /// <summary>The same with devices plugged in and without power; a diode is not seen by a meter of resistance.</summary>
    /// <param name="fitted">Refs of the devices.</param>
    /// <exception cref="ArgumentException">A set is empty.</exception>
    public Reading Measure(IReadOnlyList<ProbePoint> red, IReadOnlyList<ProbePoint> black, IReadOnlySet<string> fitted)
    {
        ArgumentNullException.ThrowIfNull(red);
        ArgumentNullException.ThrowIfNull(black);
        ArgumentNullException.ThrowIfNull(fitted);
        if (red.Count == 0 || black.Count == 0)
        {
            throw new ArgumentException("Each probe must touch at least one point.");
        }

        if (red.Count == 1 && black.Count == 1 && fitted.Count == 0)
        {
            return Read(Moved && flexed is not null && touch.NextDouble() < OpenShare ? flexed : built, red[0], black[0]);
        }

        var build = new WireGraph.Builder();
        foreach (var edge in built.Edges)
        {
            build.Edge(built.Nodes[edge.From], built.Nodes[edge.To], edge.Ohm, edge.Label);
        }

        if (fitted.Count > 0)
        {
            Plug(build, fitted);
        }

        foreach (var set in new[] { red, black })
        {
            foreach (var other in set)
            {
                build.Node(other);
                build.Edge(other.ToString(), set[0].ToString(), OhmRange.Exactly(0), "fixture");
            }
        }

        return Read(build.Done(), red[0], black[0]);
    }

    /// <summary>Devices as they are on this bench: what a hidden fault says of one, else as drawn.</summary>
    private void Plug(WireGraph.Builder build, IReadOnlySet<string> fitted)
    {
        var without = loom.Devices.Select(d => d.Ref).Where(r => !fitted.Contains(r)).ToHashSet(StringComparer.Ordinal);
        foreach (var part in FittedParts.Of(new BuiltLoom(loom, hidden).Fitted, new(loom.AmbientC, 0, new HashSet<string>(), WiperSetting.Rest), without).Where(p => p.Diode is null))
        {
            build.Edge(part.From, part.To, OhmRange.Exactly(part.Ohm.Nominal), part.Label);
        }
    }

    /// <summary>Repairs what is wrong at a place.</summary>
    /// <param name="place">A cavity such as <c>ECU:17</c>, a wire's id or a splice's ref.</param>
    /// <returns>How many hidden faults were put right; 0 when the fault is elsewhere.</returns>
    public int Repair(string place)
    {
        var left = hidden.Where(f => !f.Places(loom).Contains(place)).ToList();
        var repaired = hidden.Count - left.Count;
        hidden = left;
        Lay();
        return repaired;
    }

    private void Lay()
    {
        built = Build(hidden);
        flexed = hidden.OfType<IntermittentFault>().Any() ? Build([.. hidden.Select(f => f is IntermittentFault loose ? new OpenFault(loose.Wire, loose.End) : f)]) : null;
    }

    private WireGraph Build(List<Fault> faults) => new BuiltLoom(loom, faults).Graph(loom.AmbientC, CopperTolerance.Usual, (wire, range) =>
    {
        var random = new Random(StableHash(wire.Id) ^ seed);
        var towards = (random.NextDouble() + random.NextDouble()) / 2;
        return towards < 0.5
            ? range.Min + ((range.Nominal - range.Min) * (0.4 + (1.2 * towards)))
            : range.Nominal + ((range.Max - range.Nominal) * (towards - 0.5));
    });

    private Reading Read(WireGraph graph, ProbePoint a, ProbePoint b)
    {
        if (graph.NetOf(a) is not { } net || graph.NetOf(b)?.Number != net.Number)
        {
            return Reading.OverRange;
        }

        return Through(net.Between(a, b, Corner.Nominal));
    }

    /// <summary>What the meter shows across a resistance outside the loom, with its own error.</summary>
    /// <param name="truth">Ohms; 0 or more.</param>
    public Reading Through(double truth)
    {
        if (truth > meter.UpToOhms)
        {
            return Reading.OverRange;
        }

        // A value that comes to lie in a finer range is read once more there: that range reaches a little beyond its end.
        var off = touch.NextDouble() - 0.5;
        double Shown(double inRangeOf)
        {
            var step = meter.RangeFor(inRangeOf).ResolutionOhms;
            return Math.Max(0, Math.Round((truth + (off * meter.Uncertainty(inRangeOf))) / step) * step);
        }

        var first = Shown(truth);
        return new Reading(first < truth ? Shown(first) : first);
    }

    /// <summary>The same on every machine and in every run, unlike <see cref="string.GetHashCode()"/>.</summary>
    private static int StableHash(string text) => text.Aggregate(17, (hash, c) => unchecked((hash * 31) + c));
}
