using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Places along the way beside other faults, kept by what those are: while one ranking is worked out the same are asked for again and again.</summary>
internal sealed class WaysBeside(DrawnLoom drawn, Evidence evidence)
{
    private readonly ConcurrentDictionary<string, Lazy<AlongTheWay>> known = new(StringComparer.Ordinal);

    /// <summary>May be asked for by several at once. Sizes that differ by less than a milliohm are the same, whoever asks first: they are taken to the milliohm.</summary>
    internal AlongTheWay Of(ImmutableArray<Fault> others)
    {
        ImmutableArray<Fault> rounded = [.. others.Select(Rounded)];
        return known.GetOrAdd(string.Join('|', rounded.Select(Key)), _ => new(() => new(drawn, evidence, rounded))).Value;
    }

    private static Fault Rounded(Fault fault) => fault switch
    {
        ResistiveFault poor => poor with { Ohm = Math.Round(poor.Ohm, 3) },
        ShortFault bridge => bridge with { Ohm = Math.Round(bridge.Ohm, 3) },
        _ => fault,
    };

    private static string Key(Fault fault) => fault switch
    {
        ResistiveFault poor => string.Create(CultureInfo.InvariantCulture, $"{FaultKeys.Placed(poor)} {poor.Ohm}"),
        ShortFault bridge => string.Create(CultureInfo.InvariantCulture, $"{FaultKeys.Placed(bridge)} {bridge.Ohm}"),
        _ => FaultKeys.Of(fault),
    };
}
