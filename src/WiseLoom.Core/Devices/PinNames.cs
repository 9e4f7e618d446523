using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Devices;

/// <summary>Names by which a file may call the pins of a device, and the one by which the rules do.</summary>
/// <remarks>The relay's numbers are the terminal numbers of DIN 72552.</remarks>
public static class PinNames
{
    private static readonly ImmutableDictionary<string, ImmutableArray<ImmutableArray<string>>> Known = new Dictionary<string, ImmutableArray<ImmutableArray<string>>>
    {
        ["relay"] =
        [
            ["coil+", "coil +", "coil 1", "coil1", "86"], ["coil-", "coil -", "coil−", "coil 2", "coil2", "85"],
            ["contact in", "common", "in", "30"], ["contact out", "out", "normally open", "no", "87"], ["contact rest", "rest", "normally closed", "nc", "87a"],
        ],
        ["diode"] = [["anode", "a", "+", "1"], ["cathode", "k", "c", "-", "2"]],
        ["battery"] = [["+", "plus", "positive", "1"], ["-", "−", "minus", "negative", "2"]],
        ["motor"] = [["+", "plus", "1", "a"], ["-", "−", "minus", "2", "b"]],
        ["pot"] = [["1", "a", "+", "5v"], ["2", "b", "-", "ground"], ["wiper", "w", "signal", "3", "c"]],
        ["transducer"] = [["5V", "supply", "+", "vref", "reference", "1", "a"], ["ground", "gnd", "-", "2", "b"], ["signal", "sig", "output", "out", "3", "c"]],
    }.ToImmutableDictionary(StringComparer.Ordinal);

    /// <summary>The pins of a device by the names that the rules use; a pin with a name of its own keeps it.</summary>
    /// <returns>For a device with two terminals and no names of that kind, its first two pins as <c>1</c> and <c>2</c>.</returns>
    public static ImmutableSortedDictionary<string, string> Roles(string kind, IEnumerable<string> names)
    {
        var all = names.Order(NaturalOrder.Comparer).ToList();
        if (kind is "resistor" or "ntc" or "switch" or "fuse")
        {
            return all.Take(2).Select((name, i) => (name, i)).ToImmutableSortedDictionary(x => x.i == 0 ? "1" : "2", x => x.name, StringComparer.Ordinal);
        }

        if (!Known.TryGetValue(kind, out var roles))
        {
            return all.ToImmutableSortedDictionary(n => n, n => n, StringComparer.Ordinal);
        }

        var found = ImmutableSortedDictionary.CreateBuilder<string, string>(StringComparer.Ordinal);
        foreach (var role in roles)
        {
            // The first of the known names that the file has, in the order they are listed here: "+" before "1".
            foreach (var name in role)
            {
                if (all.Find(n => string.Equals(n, name, StringComparison.OrdinalIgnoreCase) && !found.ContainsValue(n)) is { } pin)
                {
                    found.TryAdd(role[0], pin);
                    break;
                }
            }
        }

        foreach (var name in all.Where(n => !found.ContainsValue(n)))
        {
            found.TryAdd(name, name);
        }

        return found.ToImmutable();
    }
}
