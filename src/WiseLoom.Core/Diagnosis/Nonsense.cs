using System.Globalization;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Readings that speak of the meter and its leads, not of the loom: said, and not explained by a fault.</summary>
internal static class Nonsense
{
    /// <summary>Fewer joined pairs than this say nothing of the meter.</summary>
    private const int Enough = 5;

    private const double NearlyAll = 0.8;

    /// <summary>What does not make sense, in sentences; none when all does.</summary>
    internal static IEnumerable<string> Of(Evidence evidence)
    {
        foreach (var words in Contradictions(evidence).Take(3))
        {
            yield return words;
        }

        var joined = Joined(evidence);
        var shown = joined.Where(x => Evidence.IsJoined(x.Seen) && x.Drawn!.Ohms > 0).ToList();
        if (shown.Count < Enough)
        {
            yield break;
        }

        var times = Middle(shown.Select(x => x.Seen.Ohm!.Value / x.Drawn!.Ohms));
        if (times is > 100 or (> 0 and < 0.01))
        {
            yield return string.Create(CultureInfo.InvariantCulture, $"Readings are some {times:G2} times what they should be, all over the loom: the meter is on another range, or its unit was taken for another.");
            yield break;
        }

        var over = Middle(shown.Select(x => x.Seen.Ohm!.Value - x.Drawn!.Ohms));
        var usual = Middle(shown.Select(x => Math.Sqrt(x.Drawn!.Variance) + evidence.Noise(x.Seen)));
        var spread = Middle(shown.Select(x => Math.Abs(x.Seen.Ohm!.Value - x.Drawn!.Ohms - over)));
        if (over > evidence.Meter.LeadOhms + (6 * usual) && spread < over / 4 && !HaveOneWay(shown))
        {
            yield return $"Every reading is some {Say.Ohms(over)} too high, whatever the wire: the leads were not nulled.";
        }
    }

    /// <summary>Whether nearly all readings lead through one wire: then what they have too much may be its own.</summary>
    private static bool HaveOneWay(List<(Observation Seen, Predicted? Drawn)> shown) =>
        shown.SelectMany(x => x.Drawn!.Weights.Where(w => w.Weight > 0.5).Select(w => w.Wire)).GroupBy(w => w).Any(g => g.Count() > NearlyAll * shown.Count);

    /// <summary>That nothing at all was found joined, where much should be; null where something was.</summary>
    internal static string? LeadOff(Evidence evidence) => Joined(evidence) is { Count: >= Enough } joined && !evidence.All.Any(Evidence.IsJoined)
        ? $"None of {joined.Count} pairs that should be joined reads anything but over range: a lead is off, or the probes do not touch."
        : null;

    private static List<(Observation Seen, Predicted? Drawn)> Joined(Evidence evidence) =>
        [.. evidence.All.Where(o => !o.Moved && o.With is null).Select(o => (Seen: o, Drawn: evidence.AsDrawn(o))).Where(x => x.Drawn is not null && x.Drawn.Ohms < evidence.Meter.UpToOhms)];

    /// <summary>The same two places read twice at rest, once joined and once not, or far apart.</summary>
    private static IEnumerable<string> Contradictions(Evidence evidence)
    {
        static string Key(Observation o)
        {
            var (a, b) = (string.Join(' ', o.A.Order()), o.B is { } far ? string.Join(' ', far.Order()) : "*");
            return string.CompareOrdinal(a, b) < 0 ? $"{a}|{b}" : $"{b}|{a}";
        }

        foreach (var same in evidence.All.Where(o => !o.Moved && o.With is null).GroupBy(Key).Where(g => g.Count() > 1))
        {
            var (first, other) = (same.First(), same.Skip(1).FirstOrDefault(o => Evidence.IsJoined(o) != Evidence.IsJoined(same.First()) || Differ(evidence, o, same.First())));
            if (other is not null)
            {
                yield return $"{first.Places()} was read twice, as {Said(first)} and as {Said(other)}: measure it once more before anything is looked for.";
            }
        }
    }

    private static bool Differ(Evidence evidence, Observation one, Observation other) => one.Ohm is { } a && other.Ohm is { } b && Evidence.IsJoined(one) && Math.Abs(a - b) > 8 * (evidence.Noise(one) + evidence.Noise(other));

    private static string Said(Observation seen) => seen.Ohm is { } ohm ? Say.Ohms(ohm) : "over range";

    private static double Middle(IEnumerable<double> values)
    {
        var sorted = values.Order().ToList();
        return sorted[sorted.Count / 2];
    }
}
