using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A wire as it came off the board, or what of it lies between two places that something touches.</summary>
/// <param name="From">Name of the node that it begins at.</param>
/// <param name="Begins">What share of the wire's own ohms lies before it, 0 to 1.</param>
/// <param name="Share">What share of them it has.</param>
/// <param name="AddedFirst">What a poor joint adds at the end where it begins, ohms.</param>
/// <param name="AddedLast">What one adds at its other end, or at an end that is not known.</param>
internal sealed record Leg(Wire Wire, string From, string To, OhmsAlong Along, double Begins = 0, double Share = 1, double AddedFirst = 0, double AddedLast = 0)
{
    /// <summary>Between places that are nearer than this share of a wire's ohms nothing else can lie.</summary>
    private const double Least = 1e-6;

    /// <summary>What conducts of a wire, from its first end to its last.</summary>
    internal static IEnumerable<Leg> Of(Loom loom, BuiltWire wire)
    {
        var begins = 0.0;
        foreach (var (from, to, share, _) in wire.Pieces())
        {
            if (share > Least)
            {
                yield return new(wire.Drawn, from, to, OhmsAlong.Of(loom, wire.Drawn), begins, share, from == wire.From ? wire.AddedFirst : 0, to == wire.To ? wire.AddedLast : 0);
            }

            begins += share;
        }
    }

    /// <summary>Its ohms.</summary>
    /// <param name="whole">Those of the whole wire without its poor joints.</param>
    internal double Ohms(double whole) => (Share * whole) + AddedFirst + AddedLast;

    /// <summary>A place along it. Of a wire whose poor joint may be at either end, the first half of what is asked for lies before such a joint, the second half beyond it.</summary>
    /// <param name="t">From 0 where its copper begins to 1 where it ends.</param>
    /// <param name="whole">Ohms of the whole wire without its poor joints.</param>
    internal LegPlace PlaceAt(double t, double whole)
    {
        var isEither = AddedLast > 0 && Share >= 1;
        var isFirst = AddedFirst > 0 || (isEither && t >= 0.5);
        var along = !isEither ? t : isFirst ? (2 * t) - 1 : 2 * t;
        var (begins, ends) = (Begins > 0 ? Along.PlaceAt(Begins) : 0, Begins + Share < 1 ? Along.PlaceAt(Begins + Share) : 1);
        var place = begins + (along * (ends - begins));
        var before = ((Along.UpTo(place) - Begins) * whole) + (isFirst ? AddedFirst + (isEither ? AddedLast : 0) : 0);
        return new(place * Wire.LengthMm, before / Ohms(whole), (isEither ? 2 : 1) * (ends - begins) * Wire.LengthMm, AddedFirst + AddedLast > 0 ? isFirst ? "from" : "to" : null);
    }
}

/// <summary>A place along a wire.</summary>
/// <param name="Mm">From the wire's first end, millimetres.</param>
/// <param name="Share">Share of the leg's ohms before it.</param>
/// <param name="PerT">Millimetres for all of what is asked for.</param>
/// <param name="PoorEnd">The end that the wire's poor joint lies at then; null for a wire without one.</param>
internal readonly record struct LegPlace(double Mm, double Share, double PerT, string? PoorEnd);
