using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Sightings;

/// <summary>Whether something that the loom is for could be had.</summary>
/// <param name="Name">As the loom's states name it: <c>Fuel pump runs</c>.</param>
/// <param name="Works">Whether it did, at once or when its output was driven.</param>
/// <inheritdoc cref="PoweredSighting"/>
public sealed record FunctionSeen(KeyPosition Key, ImmutableArray<string> Set, ImmutableArray<string> Without, string Name, bool Works) : PoweredSighting(Key, Set, Without)
{
    private const double Right = 0.97, Wrong = 1e-5, Flickering = 0.2;

    /// <inheritdoc/>
    public override string InWords() => $"‘{Name}’ {(Works ? "works" : "does not work")} ({When()})";

    /// <inheritdoc/>
    public override string Subject() => $"function {Name} {Fully()}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom)
    {
        var wrong = base.Problems(loom).ToList();
        if (wrong.Count > 0)
        {
            return wrong;
        }

        var known = LoomStates.For(loom, loom.AmbientC).At(Situation.At(KeyPosition.On), withProbes: false).Functions.Select(f => f.Name).ToList();
        return known.Contains(Name) ? [] : [new("/name", $"This loom knows no function '{Name}'{(known.Count == 0 ? "" : $"; it has {string.Join(", ", known.Take(12))}{(known.Count > 12 ? " …" : "")}")}.")];
    }

    internal override IEnumerable<ProbePoint> Begins(Loom loom)
    {
        var states = LoomStates.For(loom, loom.AmbientC).At(Situation.At(KeyPosition.On), withProbes: false);
        var device = states.Functions.FirstOrDefault(f => f.Name == Name)?.Device;
        return loom.Devices.Where(d => d.Ref == device).SelectMany(d => d.Pins.Values);
    }

    internal override double LogLikelihood(SuspectLoom of) => of.Function(Meanwhile, Name) is not { } function
        ? Math.Log(Works ? Wrong : Right)
        : Math.Log(function.Flickers ? Flickering : function.Works == Works ? Right : Wrong);

    internal override bool Fits(SuspectLoom of) => of.Function(Meanwhile, Name) is { Flickers: true } || (of.Function(Meanwhile, Name)?.Works ?? false) == Works;

    internal override string Expected(SuspectLoom of) => of.Function(Meanwhile, Name) is { } function ? $"it {(function.Works ? "working" : "not working")}: {function.Sentence}" : "nothing of it";
}
