using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What these readings with this meter cannot show.</summary>
internal static class Unseeable
{
    internal static IEnumerable<string> Of(DrawnLoom drawn, Evidence evidence)
    {
        yield return "device: nothing was plugged in, so a device that is not as drawn does not show.";
        if (!evidence.All.Any(o => o.Moved))
        {
            yield return "intermittent: nothing was moved, so what opens only then does not show.";
        }

        var least = evidence.All.Where(o => Evidence.IsJoined(o) && !o.Moved).Select(o => evidence.AsDrawn(o)).OfType<Predicted>()
            .Select(p => 4.5 * Math.Sqrt(p.Variance + Math.Pow(evidence.Noise(p.Ohms), 2))).DefaultIfEmpty(double.NaN).Max();
        yield return double.IsNaN(least)
            ? "resistive: no joined pair was measured, so no poor joint shows."
            : $"resistive: below {Say.Ohms(least)} a poor joint may hide in what copper and meter may be off.";
        var doubled = drawn.Graph.Nets.SelectMany(n => n.Edges.Where(n.IsDoubled)).Select(e => e.Label).Take(1000).ToList();
        if (doubled.Count > 0)
        {
            yield return $"open: another way leads past {string.Join(", ", doubled.Take(8))}{(doubled.Count > 8 ? $" and {doubled.Count - 8} more wires" : "")}, so a break there shows as a few milliohms or not at all.";
        }
    }
}
