using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>Where the ohms of a wire lie from its first end to its last: a contact or a splice's leg, copper, and another.</summary>
/// <param name="First">Share of all of them in its first end, 0 to 1.</param>
/// <param name="Copper">Share in its copper; what is left is in its last end.</param>
internal readonly record struct OhmsAlong(double First, double Copper)
{
    /// <summary>Of a wire as drawn, at nominal values.</summary>
    internal static OhmsAlong Of(Loom loom, Wire wire)
    {
        var copper = Electrical.Copper.Wire(wire.Section, wire.LengthMm, loom.AmbientC, CopperTolerance.Usual).Nominal;
        var (first, last) = (WireGraph.AtEnd(loom, wire.From).Nominal, WireGraph.AtEnd(loom, wire.To).Nominal);
        return new(first / (first + copper + last), copper / (first + copper + last));
    }

    /// <summary>The share of its ohms up to a place.</summary>
    /// <param name="share">Of its length, 0 to 1.</param>
    internal double UpTo(double share) => First + (Copper * share);

    /// <summary>The place up to which it has a share of its ohms, as a share of its length; ends count as places at its ends.</summary>
    internal double PlaceAt(double ohms) => Copper > 0 ? Math.Clamp((ohms - First) / Copper, 0, 1) : 0;
}
