using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Core.Handover;

/// <summary>How one function comes about.</summary>
/// <param name="Name">What it is: <c>Fuel pump runs</c>.</param>
/// <param name="Sentence">When, and by what way the current goes.</param>
/// <param name="Way">The way from the battery to the part and to ground, for a drawing: titles of parts and ids of wires, in order.</param>
public sealed record HowItWorks(string Name, string Sentence, ImmutableArray<string> Way)
{
    /// <summary>Of every function that a person notices.</summary>
    internal static ImmutableArray<HowItWorks> Of(BreakEffects effects)
    {
        var loom = effects.Loom;
        var states = LoomStates.For(loom, effects.AmbientC);
        var battery = loom.Devices.FirstOrDefault(d => d.Model is BatteryModel);
        if (battery?.Joint("+") is not { } plus)
        {
            return [];
        }

        var minus = battery.Joint("-") ?? LoomCircuit.Case;

        var moments = effects.Moments.All;
        var there = moments.Select((at, i) => (At: at, Functions: effects.There(i).ToList())).ToList();
        var found = ImmutableArray.CreateBuilder<HowItWorks>();
        foreach (var device in loom.Devices.Where(d => d.Model is LoadModel { Verb.Length: > 0 }))
        {
            if (there.Find(t => t.Functions.Exists(f => f.Device == device.Ref)) is not { At: { } first, Functions: { } functions })
            {
                continue;
            }

            var function = functions.Find(f => f.Device == device.Ref)!;
            var driven = function.WhenDriven;
            if (states.Bare(driven is null ? first : first with { Conditions = first.Conditions.Add(driven) }) is not { } state)
            {
                continue;
            }

            var (a, b) = Terminals(device);
            var (supply, ground) = (state.Way(plus, a), state.Way(minus, b));
            if (supply.IsEmpty)
            {
                (supply, ground) = (state.Way(plus, b), state.Way(minus, a));
            }

            // A further condition is told only where no key position alone is enough.
            var plain = there.Take(Moments.Plain).Where(t => t.Functions.Exists(f => f.Device == device.Ref)).ToList();
            var when = (plain.Count > 0 ? plain : [.. there.Where(t => t.Functions.Exists(f => f.Device == device.Ref)).Take(3)]).Select(t => effects.Moments.InWords(t.At));
            var relays = supply.Concat(ground).Select(l => l.Split('/')[0]).Distinct().Select(r => loom.Devices.FirstOrDefault(d => d.Ref == r)).Where(d => d?.Model is RelayModel).Select(r => Relay(loom, state, r!, plus, minus));
            found.Add(new(
                FunctionName.Of(device),
                Words.Of($"{Upper(string.Join("; ", when))}{(driven is null ? "" : Words.Of($", each time the controller drives ‘{driven}’"))}: supply comes by {InWords(loom, supply)}; the other side goes to ground by {InWords(loom, [.. ground.Reverse()])}.{string.Concat(relays)}"),
                [.. supply.Concat([device.Ref]).Concat(ground.Reverse()).Select(l => l.Split('/')[0]).Distinct()]));
        }

        return Alike(loom, found);
    }

    /// <summary>Those of one use that come about in the same way but for their own wires are told once.</summary>
    private static ImmutableArray<HowItWorks> Alike(Loom loom, IReadOnlyList<HowItWorks> all)
    {
        string Shape(HowItWorks how) => string.Join('|', how.Way.Select(w => loom.FindWire(w) is not null ? "wire" : loom.Devices.FirstOrDefault(d => d.Ref == w) is { Model: LoadModel { Use: "injector" or "coil" } load } ? load.Use : w));
        return
        [
            .. all.GroupBy(Shape, StringComparer.Ordinal).Select(g => g.Count() == 1 ? g.First() : g.First() with
            {
                Name = string.Join(", ", g.Select(h => h.Name)),
                Sentence = $"{g.First().Name}: {g.First().Sentence} {Words.Text("The others come about in the same way by their own wires.")}",
            }),
        ];
    }

    private static (string A, string B) Terminals(Device device)
    {
        var (first, second) = ((LoadModel)device.Model!).Terminals;
        return (device.Joint(first) ?? LoomCircuit.Case, device.Joint(second) ?? LoomCircuit.Case);
    }

    private static string Relay(Loom loom, BareState state, Device relay, string plus, string minus)
    {
        var (high, low) = (state.Way(plus, relay.Joint("coil+") ?? ""), state.Way(minus, relay.Joint("coil-") ?? ""));
        return " " + Words.Of($"{relay.Title} pulls: its coil has supply by {InWords(loom, high)} and goes to ground by {InWords(loom, [.. low.Reverse()])}.");
    }

    private static string InWords(Loom loom, ImmutableArray<string> way)
    {
        var titles = way.Select(l => l.Split('/')[0]).Distinct().Select(l => loom.Devices.FirstOrDefault(d => d.Ref == l) is { } device ? device.Model is FuseModel { Amps: var amps } ? $"{device.Title} ({Rating.InWords(amps)})" : device.Title : l).ToList();
        return titles.Count == 0 ? Words.Text("the engine’s metal") : string.Join(", ", titles);
    }

    private static string Upper(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];
}
