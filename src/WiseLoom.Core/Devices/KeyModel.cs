using System.Collections.Immutable;

namespace WiseLoom.Core.Devices;

/// <summary>A key switch.</summary>
/// <param name="Joins">For each position, the groups of terminals that it joins.</param>
public sealed record KeyModel(ImmutableSortedDictionary<KeyPosition, ImmutableArray<ImmutableArray<string>>> Joins, OhmRange Contact) : DeviceModel;

/// <summary>Key switches.</summary>
internal static class KeyKind
{
    /// <summary>The kind in files.</summary>
    internal static DeviceKind Kind { get; } = new("key", false, e => Read(e.Place, e.Pins));

    private static KeyModel Read(JsonPlace place, IReadOnlyCollection<string> pins)
    {
        var joins = ImmutableSortedDictionary.CreateBuilder<KeyPosition, ImmutableArray<ImmutableArray<string>>>();
        foreach (var (name, value, at) in place.Fields("joins"))
        {
            if (KeyPositions.Find(name) is not { } position)
            {
                place.Wrong("joins", $"'{name}' is no key position; write off, accessory, on, start or running.");
            }
            else
            {
                joins[position] = NamesOfPins.Groups(place, value, at);
                foreach (var stranger in joins[position].SelectMany(g => g).Where(n => !pins.Contains(n)).Distinct(StringComparer.Ordinal))
                {
                    place.WrongAt(at, $"'{stranger}' is no pin of this key; its pins are {string.Join(", ", pins)}.{NamesOfPins.Meant(stranger, pins)}");
                }
            }
        }

        if (!joins.ContainsKey(KeyPosition.Running) && joins.TryGetValue(KeyPosition.On, out var on))
        {
            joins[KeyPosition.Running] = on;
        }

        return new(joins.ToImmutable(), place.Range("contactMilliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.01));
    }
}
