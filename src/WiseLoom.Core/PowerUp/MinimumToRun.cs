using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.PowerUp;

/// <summary>An outside place that is fed.</summary>
/// <param name="At">A cavity, ring or tail.</param>
/// <param name="Volts">What it is fed with.</param>
/// <param name="Amps">What flows in with the engine running and no pulsed output driven, amperes.</param>
/// <param name="PeakAmps">The most that flows in while one output after the other is driven, amperes.</param>
/// <param name="FuseAmps">The fuse to put into its lead.</param>
public sealed record FedPlace(ProbePoint At, double Volts, double Amps, double PeakAmps, double FuseAmps);

/// <summary>The fewest outside places to feed and to ground so that some devices do their work: the split between loom and machine.</summary>
/// <param name="Functions">What must work, in words.</param>
/// <param name="Possible">Whether it can be had from outside places alone; when not, both lists are empty.</param>
/// <param name="Ground">Places to join to the supply's negative pole.</param>
/// <param name="LeftOut">Ids of wires that carry nothing then: they are not told by this test.</param>
/// <param name="Exact">Whether every smaller set was tried; false when there were too many.</param>
/// <param name="Sentence">What to do, in words.</param>
public sealed record MinimumToRun(
    ImmutableArray<string> Functions, bool Possible, ImmutableArray<FedPlace> Feed, ImmutableArray<ProbePoint> Ground, ImmutableArray<string> LeftOut, bool Exact, string Sentence)
{
    /// <summary>Sets that are tried at most.</summary>
    public const int MostTried = 60_000;

    /// <summary>Sets are tried up to so many places.</summary>
    private const int MostPlaces = 8;

    /// <summary>A wire that carries less is left out, amperes.</summary>
    private const double LeastAmps = 1e-3;

    private static readonly ImmutableArray<double> Fuses = [1, 2, 3, 5, 7.5, 10, 15, 20, 25, 30, 40, 50, 60, 80, 100, 150, 200];

    /// <summary>For what makes an engine run: the controllers awake, and injectors, coils and motors that work while it does.</summary>
    /// <param name="fit">What is fitted.</param>
    /// <param name="ambientC">Degrees Celsius.</param>
    public static MinimumToRun ForEngine(Loom loom, BenchFit fit, double ambientC)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(fit);
        var outside = new OutsideFeeds(fit.On(loom), ambientC);
        return Of(outside, outside.EngineRuns());
    }

    /// <summary>For devices that a person names.</summary>
    /// <param name="devices">Refs of controllers, which must be awake, and of loads, which must work, at once or when their output is driven.</param>
    public static MinimumToRun For(Loom loom, BenchFit fit, double ambientC, IEnumerable<string> devices)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(fit);
        return Of(new(fit.On(loom), ambientC), [.. devices]);
    }

    private static MinimumToRun Of(OutsideFeeds outside, ImmutableHashSet<string> devices)
    {
        ImmutableArray<string> functions = [.. outside.Inside.Devices.Where(d => devices.Contains(d.Ref)).Select(FunctionOf)];
        MinimumToRun None(string sentence, bool exact) => new(functions, false, [], [], [], exact, sentence);
        if (devices.IsEmpty || outside.Inside.Devices.Count(d => devices.Contains(d.Ref)) < devices.Count)
        {
            return None(devices.IsEmpty ? Words.Text("This loom has nothing that an engine needs to run: name what shall work.") : Words.Text("Some of what shall work hangs on an outside plug itself: it is not there while that plug is off."), true);
        }

        var candidates = outside.Candidates;
        var tried = 0;
        for (var size = 0; size <= Math.Min(candidates.Length, MostPlaces); size++)
        {
            var sets = Sets(candidates.Length, size).TakeWhile(_ => tried++ < MostTried).ToList();
            if (tried > MostTried)
            {
                return Pruned(outside, devices, functions) ?? None(Words.Text("More sets of places had to be tried than there is time for; fewer functions are found sooner."), false);
            }

            var works = new bool[sets.Count];
            Parallel.For(0, sets.Count, i => works[i] = outside.Works([.. sets[i].Select(c => candidates[c])], devices));
            // Sets come with the places that are best to reach first.
            if (Array.IndexOf(works, true) is >= 0 and var first)
            {
                return Told(outside, [.. sets[first].Select(c => candidates[c])], devices, functions, true);
            }
        }

        return None(candidates.IsEmpty ? Words.Text("No place leads out of this loom: no ring, tail, customer’s plug or free plug has a wire.") : Words.Text("Nothing that is fed from outside makes them all work."), true);
    }

    /// <summary>With all places fed but one each in turn: a place that cannot be missed stands in every set, if feeding more never stops anything.</summary>
    private static MinimumToRun? Pruned(OutsideFeeds outside, ImmutableHashSet<string> devices, ImmutableArray<string> functions)
    {
        var kept = outside.Candidates.ToList();
        if (!outside.Works([.. kept], devices))
        {
            return null;
        }

        foreach (var place in outside.Candidates.Reverse())
        {
            if (outside.Works([.. kept.Where(k => k != place)], devices))
            {
                kept.Remove(place);
            }
        }

        return Told(outside, [.. kept], devices, functions, false);
    }

    private static MinimumToRun Told(OutsideFeeds outside, ImmutableArray<OutsidePlace> set, ImmutableHashSet<string> devices, ImmutableArray<string> functions, bool exact)
    {
        var (rest, driven) = outside.States(set, devices);
        double Peak(OutsidePlace place) => driven.Prepend(rest).Max(s => Math.Abs(s.AmpsThrough(place.Label)));
        var feed = set.Where(p => p.IsFeed).Select(p => new FedPlace(p.At, outside.Inside.SupplyVolts, Math.Abs(rest.AmpsThrough(p.Label)), Peak(p), Fuse(Peak(p)))).ToImmutableArray();
        ImmutableArray<ProbePoint> ground = [.. set.Where(p => !p.IsFeed).Select(p => p.At)];
        var idle = outside.Inside.Wires.Where(w => driven.Prepend(rest).All(s => Math.Abs(s.AmpsThrough(w.Id)) < LeastAmps)).Select(w => w.Id);
        return new(functions, true, feed, ground, [.. idle], exact, InWords(feed, ground));
    }

    private static string InWords(ImmutableArray<FedPlace> feed, ImmutableArray<ProbePoint> ground) =>
        Words.Of($"Feed {Words.And(feed.Select(f => Words.Of($"{f.At} through {f.FuseAmps:0.#} A")))}{(ground.IsEmpty ? "" : Words.Of($", and ground {Words.And(ground.Select(g => g.ToString()))}"))}. If it runs so, the fault is in the machine; if not, in the loom.");

    /// <summary>The smallest usual fuse of which no more than four fifths are used.</summary>
    private static double Fuse(double amps) => Fuses.FirstOrDefault(f => amps <= 0.8 * f, Fuses[^1]);

    private static string FunctionOf(Device device) => device.Model is LoadModel { Verb: { Length: > 0 } verb } ? $"{device.Title} {Words.Text(verb)}" : Words.Of($"{device.Title} awake");

    /// <summary>All sets of so many of the first n numbers, those of the lowest numbers first.</summary>
    private static IEnumerable<int[]> Sets(int n, int size)
    {
        var at = Enumerable.Range(0, size).ToArray();
        while (true)
        {
            yield return [.. at];
            var i = size - 1;
            while (i >= 0 && at[i] == n - size + i)
            {
                i--;
            }

            if (i < 0)
            {
                yield break;
            }

            at[i]++;
            for (var j = i + 1; j < size; j++)
            {
                at[j] = at[j - 1] + 1;
            }
        }
    }
}
