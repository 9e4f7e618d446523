using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp;

/// <summary>What a trigger's edges say of its wheel, its wires and the engine.</summary>
/// <param name="IsRight">Whether it is as the loom says.</param>
/// <param name="Findings">What is not, the most important first; empty when all is right.</param>
/// <param name="Reversed">Whether it comes the other way round; null when that cannot be told.</param>
/// <param name="Rpm">Mean speed of the crank, turns a minute; 0 without a whole turn.</param>
/// <param name="Gaps">Numbers of the edges that end a long gap.</param>
/// <param name="Odd">Numbers of edges that are lost before or too many.</param>
public sealed record JudgedTrigger(bool IsRight, ImmutableArray<string> Findings, bool? Reversed, double Rpm, ImmutableArray<int> Gaps, ImmutableArray<int> Odd);

/// <summary>Judges logs of triggers.</summary>
/// <remarks>
/// A toothed wheel of N places with M missing gives N − M edges in a turn, evenly spaced, and a gap of M + 1 spaces. A coil whose wires are
/// exchanged marks the middles between teeth: the long gap then comes as two of (M + 2)/2 spaces each. Each time between edges is held
/// against the median of those around it, so that an engine that slows at each compression is followed; with fewer than some six teeth to a
/// compression it cannot be.
/// </remarks>
public static class TriggerJudge
{
    /// <summary>Edges on either side that a time is held against.</summary>
    private const int Around = 2;

    /// <summary>A time is off when it is farther from what it should be, share of it.</summary>
    private const double Off = 0.24;

    /// <summary>The cam's edge may wander by so much of a tooth before it counts as noise, and is one tooth off from here.</summary>
    private const double Wander = 0.35, OneOff = 0.6;

    /// <summary>Fewer edges tell nothing.</summary>
    private const int LeastEdges = 8;

    /// <summary>Judges one wheel.</summary>
    /// <param name="device">A device with a trigger.</param>
    /// <param name="edges">Microseconds, rising.</param>
    /// <param name="cranked">How long the engine turned, milliseconds.</param>
    public static JudgedTrigger Of(Device device, IReadOnlyList<double> edges, double cranked)
    {
        ArgumentNullException.ThrowIfNull(device);
        ArgumentNullException.ThrowIfNull(edges);
        var wheel = device.Trigger ?? throw new ArgumentException("The device has no trigger.", nameof(device));
        if (edges.Count == 0)
        {
            return Nothing($"No edge came from {device.Title} in {Say.Duration(cranked / 1000)}: a wire is open, the sensor has no supply, or nothing turned.");
        }

        if (wheel.Missing == 0)
        {
            return Plain(device, wheel, edges);
        }

        if (edges.Count < LeastEdges)
        {
            return Nothing($"Only {edges.Count} edges came from {device.Title}: the gap between sensor and wheel, or a joint that opens.");
        }

        return Toothed(device, wheel, Spaces(edges), edges);
    }

    /// <summary>Where the cam's edges lie between the teeth of the crank.</summary>
    /// <returns>Right when they come at one place, and at the place that the loom says.</returns>
    public static JudgedTrigger Sync(Device crank, IReadOnlyList<double> crankEdges, Device cam, IReadOnlyList<double> camEdges)
    {
        ArgumentNullException.ThrowIfNull(crank);
        ArgumentNullException.ThrowIfNull(cam);
        ArgumentNullException.ThrowIfNull(crankEdges);
        ArgumentNullException.ThrowIfNull(camEdges);
        if (crank.Trigger is not { Missing: > 0 } wheel)
        {
            return Nothing($"{crank.Title} has no gap to count from.");
        }

        var spaces = crankEdges.Count < LeastEdges ? [] : Spaces(crankEdges);
        var gaps = Enumerable.Range(0, spaces.Length).Where(i => Is(spaces[i], wheel.Missing + 1)).Select(i => i + 1).ToList();
        if (gaps.Count < 2 || camEdges.Count == 0)
        {
            return Nothing(camEdges.Count == 0 ? $"No edge came from {cam.Title}." : $"The gap of {crank.Title} is not found, so the cam has nothing to be held against.");
        }

        var places = camEdges.Select(t => Place(crankEdges, gaps, t)).OfType<double>().ToList();
        if (places.Count == 0)
        {
            return Nothing($"{cam.Title} gave no edge between two gaps of {crank.Title}.");
        }

        var middle = places.Order().ElementAt(places.Count / 2);
        var findings = ImmutableArray.CreateBuilder<string>();
        if (places.Any(p => Math.Abs(p - middle) > Wander))
        {
            findings.Add($"The edge of {cam.Title} wanders by {places.Max() - places.Min():0.0} teeth: noise, or a loose wheel.");
        }

        if (cam.Trigger?.SyncTooth is { } due && Math.Abs(middle - due) > OneOff)
        {
            var off = (int)Math.Round(middle - due);
            findings.Add(string.Create(CultureInfo.InvariantCulture, $"The edge of {cam.Title} comes {middle:0.0} teeth after the gap; {due:0.0} are due: {Math.Abs(off)} {(Math.Abs(off) == 1 ? "tooth" : "teeth")} {(off > 0 ? "late" : "early")}. A belt or chain over a tooth, or the controller’s offset: no wire does this."));
        }

        return new(findings.Count == 0, findings.ToImmutable(), null, 0, [.. gaps], []);
    }

    private static bool Is(double spaces, double due) => Math.Abs(spaces - due) <= Off * due;

    private static JudgedTrigger Nothing(string finding) => new(false, [finding], null, 0, [], []);

    /// <summary>Without a gap there is only the evenness of the edges, and their number when it is small.</summary>
    private static JudgedTrigger Plain(Device device, TriggerWheel wheel, IReadOnlyList<double> edges)
    {
        var times = edges.Zip(edges.Skip(1), (a, b) => b - a).ToList();
        if (times.Count == 0)
        {
            return new(true, [], null, 0, [], []);
        }

        var middle = times.Order().ElementAt(times.Count / 2);
        var odd = Enumerable.Range(0, times.Count).Where(i => times[i] < 0.4 * middle || times[i] > 1.8 * middle).Select(i => i + 1).ToImmutableArray();
        var rpm = 60e6 / (middle * wheel.EdgesPerCrankTurn);
        return new(odd.IsEmpty, odd.IsEmpty ? [] : [$"{odd.Length} edges of {device.Title} come too early or are lost: noise, or the gap between sensor and wheel."], null, rpm, [], odd);
    }

    private static JudgedTrigger Toothed(Device device, TriggerWheel wheel, double[] spaces, IReadOnlyList<double> edges)
    {
        var (gap, half) = (wheel.Missing + 1.0, (wheel.Missing + 2) / 2.0);
        var gaps = new List<int>();
        var halves = new List<int>();
        var odd = new List<int>();
        for (var i = 0; i < spaces.Length; i++)
        {
            if (Is(spaces[i], gap) && !(i + 1 < spaces.Length && Is(spaces[i], half) && Is(spaces[i + 1], half)))
            {
                gaps.Add(i + 1);
            }
            else if (i + 1 < spaces.Length && Is(spaces[i], half) && Is(spaces[i + 1], half))
            {
                halves.Add(i + 2);
                i++;
            }
            else if (!Is(spaces[i], 1))
            {
                odd.Add(i + 1);
            }
        }

        // For one missing tooth two lost edges look like a gap; with two missing the halves are gaps of one: what comes oftener in its place decides.
        var reversed = halves.Count > gaps.Count && halves.Count > 0;
        var marks = reversed ? halves : gaps;
        var counts = marks.Zip(marks.Skip(1), (a, b) => b - a).ToList();
        var due = wheel.Teeth - wheel.Missing;
        var usual = counts.Count == 0 ? 0 : counts.GroupBy(c => c).OrderByDescending(g => g.Count()).ThenBy(g => Math.Abs(g.Key - due)).First().Key;
        var findings = ImmutableArray.CreateBuilder<string>();
        if (reversed)
        {
            findings.Add($"The long gap of {device.Title} comes as two of {half:0.#} spaces: its two wires are exchanged, so that the middles between teeth are marked.");
        }

        if (marks.Count == 0)
        {
            findings.Add($"{device.Title} shows no gap of {gap:0} spaces: its wheel is not {wheel.InWords()}, or noise hides the gap.");
        }
        else if (counts.Count > 0 && Math.Abs(usual - due) > 0 && counts.Count(c => c == usual) > counts.Count / 2 && odd.Count == 0)
        {
            findings.Add($"{usual} edges from gap to gap of {device.Title}; {due} are due: the wheel is not {wheel.InWords()} but {usual + wheel.Missing}−{wheel.Missing}.");
        }

        else if (!reversed && counts.Count(c => c != due) is > 0 and var early)
        {
            findings.Add($"{early} of {counts.Count} gaps of {device.Title} do not come {due} edges after the one before: edges were lost, by the gap between sensor and wheel or a joint that opens.");
        }

        var extra = odd.Count(o => spaces[o - 1] < 1 - Off);
        if (extra > 0)
        {
            findings.Add($"{extra} {(extra == 1 ? "edge" : "edges")} too many from {device.Title}: noise; a shield that is open, that touches its signal, or a lead beside the coils.");
        }

        if (odd.Count - extra is > 0 and var lost)
        {
            findings.Add($"{lost} {(lost == 1 ? "edge was" : "edges were")} lost from {device.Title}: the gap between sensor and wheel, or a joint that opens.");
        }

        var turns = marks.Count > 1 ? (marks.Count - 1) / wheel.PerTurn : 0;
        var rpm = turns > 0 ? turns / ((edges[marks[^1]] - edges[marks[0]]) / 60e6) : 0;
        return new(findings.Count == 0, findings.ToImmutable(), marks.Count == 0 ? null : reversed, rpm, [.. marks], [.. odd]);
    }

    /// <summary>Each time between edges in spaces: held against the median of those around it.</summary>
    private static double[] Spaces(IReadOnlyList<double> edges)
    {
        var times = edges.Zip(edges.Skip(1), (a, b) => b - a).ToArray();
        var spaces = new double[times.Length];
        for (var i = 0; i < times.Length; i++)
        {
            var near = times[Math.Max(0, i - Around)..Math.Min(times.Length, i + Around + 1)].Order().ToArray();
            spaces[i] = times[i] / Math.Max(near[near.Length / 2], 1e-9);
        }

        return spaces;
    }

    /// <summary>Where a moment lies, in spaces after the gap before it; null before the first gap or after the last edge.</summary>
    private static double? Place(IReadOnlyList<double> edges, List<int> gaps, double at)
    {
        var gap = gaps.FindLastIndex(g => edges[g] <= at);
        if (gap < 0)
        {
            return null;
        }

        for (var i = gaps[gap]; i + 1 < edges.Count; i++)
        {
            if (edges[i + 1] > at)
            {
                return i - gaps[gap] + ((at - edges[i]) / (edges[i + 1] - edges[i]));
            }
        }

        return null;
    }
}
