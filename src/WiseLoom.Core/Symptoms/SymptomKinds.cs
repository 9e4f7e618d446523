using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Symptoms;

/// <summary>What a person would say of an effect: of the engine as a whole, of each thing that does not work, of what the controller stores.</summary>
internal sealed class SymptomKinds
{
    private readonly Loom loom;
    private readonly BreakEffects effects;
    private readonly ImmutableArray<HashSet<string>> there;
    private readonly HashSet<string> starters;
    private readonly ImmutableArray<HashSet<string>> engine;

    internal SymptomKinds(BreakEffects effects)
    {
        (loom, this.effects) = (effects.Loom, effects);
        there = [.. Enumerable.Range(0, Moments.Plain).Select(i => effects.There(i).Select(f => f.Device).ToHashSet(StringComparer.Ordinal))];
        var (on, start, running) = (there[(int)KeyPosition.On], there[(int)KeyPosition.Start], there[(int)KeyPosition.Running]);
        HashSet<string> Of(params string[] uses) => [.. loom.Devices.Where(d => d.Model is LoadModel load && (uses.Contains(load.Use) || uses.Contains(d.Kind)) && (start.Contains(d.Ref) || running.Contains(d.Ref))).Select(d => d.Ref)];
        starters = [.. start.Where(d => !on.Contains(d) && !running.Contains(d) && !Of("injector", "coil").Contains(d))];
        engine = [.. new[] { Of("injector"), Of("coil") }.Where(g => g.Count > 0)];
        // A pump that runs while the engine does feeds it.
        Pumps = [.. loom.Devices.Where(d => d.Kind == "motor" && start.Contains(d.Ref) && running.Contains(d.Ref)).Select(d => d.Ref)];
    }

    private HashSet<string> Pumps { get; }

    /// <summary>Symptoms of one effect: id, words, and the differences that say it.</summary>
    internal IEnumerable<(string Id, string Title, ImmutableArray<Difference> Sees)> Of(BreakEffect effect)
    {
        var lost = Enumerable.Range(0, Moments.Plain).Select(i => Lost(effect, i)).ToArray();
        var (atOn, atStart, running) = (lost[(int)KeyPosition.On], lost[(int)KeyPosition.Start], lost[(int)KeyPosition.Running]);
        var told = new HashSet<string>(StringComparer.Ordinal);
        if (there[(int)KeyPosition.On].Count > 1 && atOn.SetEquals(there[(int)KeyPosition.On]) && atStart.Count > 0 && atStart.IsSupersetOf(starters))
        {
            yield return ("dead", Words.Text("Nothing at all: with the key on no lamp lights, and the starter does nothing"), []);
            yield break;
        }

        if (starters.Count > 0 && atStart.Overlaps(starters))
        {
            told.UnionWith(starters);
            // Without a starter nothing else can be said of the engine.
            yield return ("no-crank", Words.Text("The starter does nothing"), Sees(effect, starters, KeyPosition.Start));
        }
        else if (engine.Any(g => g.IsSubsetOf(atStart.Union(running))) || atStart.Overlaps(Pumps) || effect.Silent.Any(IsCrank))
        {
            told.UnionWith(engine.SelectMany(g => g));
            yield return ("no-start", Words.Text("The engine cranks and does not start"), []);
        }
        else if (engine.Any(g => atStart.Union(running).Intersect(g).Any()))
        {
            told.UnionWith(engine.SelectMany(g => g));
            yield return ("rough", Words.Text("The engine runs rough: some cylinders do nothing"), []);
        }

        if (!atStart.Overlaps(starters))
        {
            told.UnionWith(engine.SelectMany(g => g));
        }
        else
        {
            told.UnionWith(atStart);
            told.UnionWith(running);
        }

        foreach (var function in effect.Sees.Where(d => d.Shows && d.Was != d.Now && !told.Contains(d.Device)).GroupBy(d => (d.Function, d.Now)))
        {
            var first = function.First();
            yield return function.Key.Now
                ? ($"on {first.Device}", Words.Of($"{FunctionName.Of(loom.Devices.First(d => d.Ref == first.Device))} although it should not ({first.When})"), [first])
                : ($"off {first.Device}", $"{Not(first)} ({first.When})", [first]);
        }

        foreach (var code in effect.Codes)
        {
            yield return ($"code {code.Code.Code}", Words.Of($"‘{code.Channel}’ shows nothing that can be, and the controller stores {code.Code.Code}"), []);
        }

        foreach (var sensor in effect.Silent.Where(s => !IsCrank(s) && effect.Codes.IsEmpty))
        {
            yield return ($"silent {sensor}", Words.Of($"{TitleOf(sensor)} tells the controller nothing"), []);
        }
    }

    /// <summary>Functions that a person misses at a plain key position.</summary>
    internal static HashSet<string> Lost(BreakEffect effect, int moment, BreakEffects of) =>
        [.. effect.Sees.Where(d => d.Shows && d is { Was: true, Now: false } && d.Situation == of.Moments.All[moment]).Select(d => d.Device)];

    private HashSet<string> Lost(BreakEffect effect, int moment) => Lost(effect, moment, effects);

    private ImmutableArray<Difference> Sees(BreakEffect effect, HashSet<string> devices, KeyPosition key) =>
        [.. effect.Sees.Where(d => d.Shows && devices.Contains(d.Device) && d.Situation == effects.Moments.All[(int)key])];

    private bool IsCrank(string device) => loom.Devices.Any(d => d.Ref == device && d.Trigger is { PerTurn: 1 });

    private string TitleOf(string device) => loom.Devices.First(d => d.Ref == device).Title;

    private string Not(Difference d) => Words.Of($"{TitleOf(d.Device)} does nothing");
}
