using System.Collections.Immutable;

namespace WiseLoom.Core.PowerUp;

/// <summary>When the edges of some triggers came, as a controller logs them.</summary>
/// <param name="Edges">By ref of the device: microseconds from the begin of the log, rising.</param>
/// <param name="Ms">How long the log is, milliseconds.</param>
public sealed record TriggerLog(ImmutableSortedDictionary<string, ImmutableArray<double>> Edges, double Ms)
{
    /// <summary>A log of more edges of one trigger is not taken.</summary>
    public const int MostEdges = 20_000;

    /// <summary>What is wrong with it; null when it can be judged.</summary>
    public string? Wrong() =>
        !(Ms is > 0 and <= 60_000) ? "A log is 1 ms to 60 s long."
        : Edges.Any(e => e.Value.Length > MostEdges) ? $"A log holds at most {MostEdges:#,0} edges of each trigger."
        : Edges.Any(e => e.Value.Any(t => !double.IsFinite(t) || t < 0 || t > Ms * 1000) || e.Value.Zip(e.Value.Skip(1)).Any(p => p.Second < p.First)) ? "Edges come in their order, within the log."
        : null;
}
