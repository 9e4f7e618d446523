using System.Collections.Immutable;

namespace WiseLoom.Core.Devices;

/// <summary>A stand-in for another loom or for the metal of an engine: some of its pins are joined.</summary>
/// <param name="Joins">Groups of pins that are joined with each other.</param>
/// <param name="ToCase">Its metal is the engine's: a device with one pin returns through it.</param>
/// <param name="Ohm">From a pin to the middle of its group.</param>
public sealed record CableModel(ImmutableArray<ImmutableArray<string>> Joins, bool ToCase, OhmRange Ohm) : DeviceModel
{
    /// <inheritdoc/>
    internal override DeviceModel AtCorner(Corner corner) => this with { Ohm = OhmRange.Exactly(Ohm.At(corner)) };

    /// <inheritdoc/>
    internal override IEnumerable<RestingPart> AtRest(RestingState at) =>
        Joins.SelectMany((group, i) => group.Select(pin => new RestingPart(pin, "", Ohm) { NeedsBoth = true, Middle = ToCase ? RestingState.Case : $"#{i}" }));
}

/// <summary>Stand-ins for another loom, or for the metal of an engine.</summary>
internal static class CableKind
{
    /// <summary>The kind in files.</summary>
    internal static DeviceKind Kind { get; } = new("cable", false, e => Read(e.Place, e.Pins));

    private static CableModel Read(JsonPlace place, IReadOnlyCollection<string> pins)
    {
        var joins = place.Has("joins")
            ? [.. place.Items("joins").Select(x => NamesOfPins.Names(place, x.Value, x.At)).Where(g => !g.IsEmpty)]
            : ImmutableArray.Create(pins.ToImmutableArray());
        foreach (var name in joins.SelectMany(g => g).Where(n => !pins.Contains(n)).Distinct())
        {
            place.Wrong("joins", $"'{name}' is no pin of this device; its pins are {string.Join(", ", pins)}.{NamesOfPins.Meant(name, pins)}");
        }

        return new(joins, place.Flag("toCase") ?? false, place.Range("milliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.001));
    }
}
