using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>What the eye found at a place: corrosion, a contact that stands back, crushed insulation.</summary>
/// <param name="Place">A cavity, a wire's id, a splice's ref or a device's ref.</param>
/// <param name="Words">What was seen there, 1 to 200 characters.</param>
public sealed record LookSeen(string Place, string Words) : Sighting
{
    private const int Longest = 200;

    /// <summary>How often a fault can be seen where it is, and how often something like it is seen where there is none.</summary>
    private const double There = 0.6, Elsewhere = 0.06;

    /// <inheritdoc/>
    public override string InWords() => $"{Place}: {Words}";

    /// <inheritdoc/>
    public override string Subject() => $"look {Place}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom)
    {
        if (!loom.HasPlace(Place) && loom.Devices.All(d => d.Ref != Place))
        {
            yield return new("/place", $"This loom calls no cavity, wire, splice or device '{Place}'.");
        }

        if (string.IsNullOrWhiteSpace(Words) || Words.Length > Longest)
        {
            yield return new("/words", $"Say in 1 to {Longest} characters what was seen.");
        }
    }

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => ProbePoint.TryParse(Place, out var point) ? [point]
        : loom.Devices.Where(d => d.Ref == Place).SelectMany(d => d.Pins.Values)
            .Concat(loom.Wires.Where(w => w.Id == Place || w.From.Text == Place || w.To.Text == Place).SelectMany(w => new[] { w.From, w.To }).Where(e => !e.IsSplice).Select(e => e.Point));

    internal override double LogLikelihood(SuspectLoom of) => Math.Log(of.Touches(Place) ? There : Elsewhere);

    internal override bool Fits(SuspectLoom of) => of.Faults.IsEmpty || of.Touches(Place);

    internal override string Expected(SuspectLoom of) => "nothing to see";
}
