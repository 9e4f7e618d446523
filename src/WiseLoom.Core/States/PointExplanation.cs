using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>One part on the way of a current.</summary>
/// <param name="Wire">Id of the wire; null for a part of a device.</param>
/// <param name="Device">Ref of the device; null for a wire.</param>
/// <param name="Title">What a person calls it.</param>
/// <param name="From">Where the current enters it.</param>
/// <param name="To">Where it leaves it.</param>
/// <param name="Amps">What flows, 0 or more.</param>
public sealed record PathPart(string? Wire, string? Device, string Title, string From, string To, double Amps);

/// <summary>What a point shows, how it comes to that, and what it means.</summary>
/// <param name="State">What it shows; null when there is no state.</param>
/// <param name="Sentences">Why, in words, the most important first.</param>
/// <param name="FromSource">From the battery or another source to the point.</param>
/// <param name="ToGround">From the point on to 0 V.</param>
public sealed record PointExplanation(ProbePoint Point, PointState? State, ImmutableArray<string> Sentences, ImmutableArray<PathPart> FromSource, ImmutableArray<PathPart> ToGround);
