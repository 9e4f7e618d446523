using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Symptoms;

/// <summary>A check that tells whether a suspect is at fault.</summary>
/// <param name="Do">What to do and touch, and with what.</param>
/// <param name="At">Where the meter is held; null for a look.</param>
/// <param name="Key">With the key where; null for a look.</param>
/// <param name="ShouldVolts">What a meter shows there in the sound loom, volts.</param>
/// <param name="BrokenVolts">What it shows with the suspect broken, volts.</param>
public sealed record SuspectCheck(string Do, ProbePoint? At, Devices.KeyPosition? Key, double? ShouldVolts, double? BrokenVolts);

/// <summary>A break that would show so.</summary>
/// <param name="Share">Share of all that would, by how often each is met; above 0, at most 1.</param>
public sealed record Suspect(Break Break, double Share, SuspectCheck Check);

/// <summary>Something that a person sees, and what may be behind it.</summary>
/// <param name="Title">As the person would say it.</param>
/// <param name="Sees">Functions that are otherwise, where one says it all; empty for one that is made of several.</param>
/// <param name="Suspects">The likeliest for the least work first.</param>
public sealed record Symptom(string Id, string Title, ImmutableArray<Difference> Sees, ImmutableArray<Suspect> Suspects);
