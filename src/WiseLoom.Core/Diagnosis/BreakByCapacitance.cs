using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Diagnosis;

/// <summary>How far along a broken wire the break lies, by what its two ends have against the rest of the loom.</summary>
/// <remarks>
/// Capacitance grows with the length of metal: with L the wire's length, x the share of the way, and M₁, M₂ the lengths of other wires that stay joined to
/// either end, C₁/C₂ = (M₁ + xL)/(M₂ + (1−x)L). What a millimetre has drops out as long as the loom is alike all along, which it is to a tenth or so.
/// </remarks>
internal static class BreakByCapacitance
{
    /// <summary>How far the ratio may be off: what lies beside a wire differs along it.</summary>
    private const double RatioSpread = 0.15;

    /// <summary>Where the break lies, millimetres from the wire's <c>from</c> end, and one standard deviation.</summary>
    /// <returns>Null when the capacitances are not known, or cannot be of a break in this wire.</returns>
    internal static (double Mm, double Spread)? Of(DrawnLoom drawn, Wire wire, ImmutableArray<Sighting> sightings)
    {
        var (one, other) = (Side(drawn, wire, wire.From.Text), Side(drawn, wire, wire.To.Text));
        double? At(HashSet<string> names) => sightings.OfType<CapacitanceSeen>().LastOrDefault(s => names.Contains(s.At.ToString()))?.Nanofarad;
        if (one.Names.Overlaps(other.Names) || At(one.Names) is not { } from || At(other.Names) is not { } to)
        {
            return null;
        }

        double Share(double ratio) => ((ratio * (other.Mm + wire.LengthMm)) - one.Mm) / (wire.LengthMm * (1 + ratio));
        var (middle, spread) = (Share(from / to), Math.Abs(Share(from / to * (1 + RatioSpread)) - Share(from / to)));
        return middle < -2 * spread || middle > 1 + (2 * spread) ? null : (Math.Clamp(middle, 0, 1) * wire.LengthMm, spread * wire.LengthMm);
    }

    /// <summary>The same as a sentence, with a space before it; empty when nothing can be said.</summary>
    internal static string InWords(DrawnLoom drawn, string id, ImmutableArray<Sighting> sightings)
    {
        if (drawn.Loom.FindWire(id) is not { } wire || Of(drawn, wire, sightings) is not var (mm, spread))
        {
            return "";
        }

        var near = new WireRoute(drawn.Loom).Near(wire, mm);
        return string.Create(CultureInfo.InvariantCulture, $" By the capacitances of its ends the break lies roughly {mm:0} mm from {wire.From} and {wire.LengthMm - mm:0} mm from {wire.To}, give or take {Math.Max(20, 2 * spread):0} mm{(near is null ? "" : $", {near}")}.");
    }

    /// <summary>What stays joined to an end of a wire that is broken: names of its places, and the length of its wires, millimetres.</summary>
    private static (HashSet<string> Names, double Mm) Side(DrawnLoom drawn, Wire broken, string end)
    {
        var (names, next, mm) = (new HashSet<string>(StringComparer.Ordinal) { end }, new Queue<string>([end]), 0.0);
        var wires = drawn.WiresOf(drawn.NetOfWire(broken)).Where(w => w.Id != broken.Id).ToList();
        while (next.TryDequeue(out var at))
        {
            foreach (var wire in wires.Where(w => w.From.Text == at || w.To.Text == at))
            {
                var far = wire.From.Text == at ? wire.To.Text : wire.From.Text;
                if (names.Add(far))
                {
                    next.Enqueue(far);
                    mm += wire.LengthMm;
                }
            }
        }

        return (names, mm);
    }
}
