using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Symptoms;

/// <summary>The situations in which a person looks: each key position with what holds there by itself, and each further condition with key on and running.</summary>
internal sealed class Moments
{
    /// <summary>So many conditions are tried one by one; the rest are not.</summary>
    internal const int MostConditions = 12;

    /// <summary>How many of them are plain key positions; they come first.</summary>
    internal const int Plain = 5;

    private readonly ImmutableHashSet<string> standing;
    private readonly ImmutableHashSet<string> running;

    internal Moments(LoomStates states)
    {
        var switches = states.Loom.Devices.Select(d => d.Model).OfType<SwitchModel>().ToList();
        standing = [.. switches.Where(s => s.HoldsAtRest).Select(s => s.ClosedWhen)];
        running = [.. switches.Where(s => s.HoldsRunning).Select(s => s.ClosedWhen)];
        var besides = states.Conditions.Where(c => !standing.Contains(c) || !running.Contains(c)).Take(MostConditions).ToList();
        All =
        [
            .. KeyPositions.All.Where(k => k < KeyPosition.Running).Select(k => new Situation(k, standing, [])),
            new(KeyPosition.Running, running, []),
            .. besides.Where(c => !standing.Contains(c)).Select(c => new Situation(KeyPosition.On, standing.Add(c), [])),
            .. besides.Where(c => !running.Contains(c)).Select(c => new Situation(KeyPosition.Running, running.Add(c), [])),
        ];
    }

    /// <summary>All of them.</summary>
    internal ImmutableArray<Situation> All { get; }

    /// <summary>What key off to start show in a loom, turned through once.</summary>
    internal ImmutableArray<TurnedState?> Standing(LoomStates states, Func<KeyPosition, IReadOnlySet<string>> drive) => states.Turned(All[(int)KeyPosition.Start], drive);

    /// <summary>The situation in words: <c>key on, engine still, beacon on</c>.</summary>
    internal string InWords(Situation at)
    {
        var own = at.Conditions.Except(at.Key == KeyPosition.Running ? running : standing);
        var key = at.Key switch
        {
            KeyPosition.Off => Words.Text("key off"),
            KeyPosition.Accessory => Words.Text("key at accessory"),
            KeyPosition.On => Words.Text("key on, engine still"),
            KeyPosition.Start => Words.Text("while cranking"),
            _ => Words.Text("engine running"),
        };
        return own.IsEmpty ? key : $"{key}, {Words.And(own.Order(StringComparer.Ordinal))}";
    }
}
