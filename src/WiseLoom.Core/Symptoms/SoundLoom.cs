using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Symptoms;

/// <summary>What the sound loom shows at one moment.</summary>
/// <param name="Functions">By name.</param>
/// <param name="Amps">By id of a wire or ref of a device: what flows with nothing driven, amperes.</param>
/// <param name="Driven">The same with each idle output driven, by output.</param>
internal sealed record SoundMoment(BareState Bare, Dictionary<string, FunctionState> Functions, Dictionary<string, double> Amps, Dictionary<string, Dictionary<string, double>> Driven)
{
    /// <summary>A part that carries less can be taken away without anything moving, amperes.</summary>
    internal const double Nothing = 1e-9;

    /// <summary>Whether anything flows through some parts with nothing driven.</summary>
    internal bool Flows(IReadOnlyCollection<string> parts) => parts.Any(p => Amps.GetValueOrDefault(p) > Nothing);

    /// <summary>Outputs whose own current flows through some parts.</summary>
    internal HashSet<string> DrivenThrough(IReadOnlyCollection<string> parts) =>
        [.. Driven.Where(d => parts.Any(p => d.Value.GetValueOrDefault(p) > Nothing && Math.Abs(d.Value.GetValueOrDefault(p) - Amps.GetValueOrDefault(p)) > 1e-6)).Select(d => d.Key)];

    /// <summary>Whether some parts carry the same as at another moment.</summary>
    internal bool CarriesAs(SoundMoment other, IReadOnlyCollection<string> parts) =>
        parts.All(p => Math.Abs(Amps.GetValueOrDefault(p) - other.Amps.GetValueOrDefault(p)) < 1e-6) && DrivenThrough(parts).SetEquals(other.DrivenThrough(parts));
}

/// <summary>The loom without any break, at every moment: what breaks are compared with, and where nothing has to be solved anew.</summary>
internal sealed class SoundLoom
{
    internal SoundLoom(AsBuilt drawn, double ambientC)
    {
        var states = LoomStates.For(drawn, ambientC);
        Outputs = states.Outputs.ToHashSet(StringComparer.Ordinal);
        Moments = new(states);
        var standing = Moments.Standing(states, _ => Outputs);
        At = [.. Moments.All.Select((s, i) => (i < (int)KeyPosition.Running ? standing[i] : states.Turned(s, k => k == s.Key ? Outputs : ImmutableHashSet<string>.Empty)[^1]) is { } turned
            ? new SoundMoment(turned.Bare, turned.Functions.DistinctBy(f => f.Name).ToDictionary(f => f.Name, StringComparer.Ordinal), turned.Bare.AmpsByLabel(), Driven(states, s, turned))
            : null)];
    }

    internal Moments Moments { get; }

    /// <summary>Every output that can be driven.</summary>
    internal IReadOnlySet<string> Outputs { get; }

    /// <summary>In the order of the moments; null where it has no state.</summary>
    internal ImmutableArray<SoundMoment?> At { get; }

    private static Dictionary<string, Dictionary<string, double>> Driven(LoomStates states, Situation at, TurnedState turned)
    {
        var found = new Dictionary<string, Dictionary<string, double>>(StringComparer.Ordinal);
        foreach (var output in turned.Functions.Select(f => f.WhenDriven).OfType<string>().Distinct(StringComparer.Ordinal))
        {
            if (states.Bare(at with { Conditions = at.Conditions.Add(output) }) is { } driven)
            {
                found.Add(output, driven.AmpsByLabel());
            }
        }

        return found;
    }
}
