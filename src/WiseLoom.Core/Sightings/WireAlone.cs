using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Sightings;

/// <summary>What one wire measures from end to end with one of its ends lifted out, so that no other way leads past it.</summary>
/// <param name="Wire">Its id.</param>
/// <param name="Ohm">Ohms; null for over range.</param>
public sealed record WireAlone(string Wire, double? Ohm) : Sighting
{
    /// <inheritdoc/>
    public override string InWords() => $"{Wire} by itself, one end lifted out, measures {(Ohm is { } ohm ? Say.Ohms(ohm) : "over range")}";

    /// <inheritdoc/>
    public override string Subject() => $"wire {Wire}";

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Loom loom) =>
        (loom.FindWire(Wire) is null ? [new Problem("/wire", $"This loom has no wire '{Wire}'.")] : Array.Empty<Problem>()).Concat(Ohm is { } ohm ? Outside(ohm, -1, 1e12, "/ohm", "Ω") : []);

    internal override IEnumerable<ProbePoint> Begins(Loom loom) => loom.FindWire(Wire) is { } wire ? new[] { wire.From, wire.To }.Where(e => !e.IsSplice).Select(e => e.Point) : [];

    internal override double LogLikelihood(SuspectLoom of) => of.LogOf(Ohm, of.WireAlone(Wire));

    internal override bool Fits(SuspectLoom of) => of.IsNear(Ohm, of.WireAlone(Wire));

    internal override string Expected(SuspectLoom of) => Said(of.WireAlone(Wire));
}
