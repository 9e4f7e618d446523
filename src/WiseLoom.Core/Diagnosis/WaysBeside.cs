using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Places along the way beside other faults, kept by what those are: while one ranking is worked out the same are asked for again and again.</summary>
internal sealed class WaysBeside(DrawnLoom drawn, Evidence evidence)
{
    private readonly ConcurrentDictionary<string, Lazy<AlongTheWay>> known = new(StringComparer.Ordinal);

    /// <summary>May be asked for by several at once.</summary>
    internal AlongTheWay Of(ImmutableArray<Fault> others) => known.GetOrAdd(string.Join('|', others.Select(Key)), _ => new(() => new(drawn, evidence, others))).Value;

    /// <summary>Sizes that differ by less than a milliohm are the same.</summary>
    private static string Key(Fault fault) => fault switch
    {
        ResistiveFault poor => string.Create(CultureInfo.InvariantCulture, $"{FaultKeys.Placed(poor)} {poor.Ohm:F3}"),
        ShortFault bridge => string.Create(CultureInfo.InvariantCulture, $"{FaultKeys.Placed(bridge)} {bridge.Ohm:F3}"),
        _ => FaultKeys.Of(fault),
    };
}
