using System.Collections.Immutable;

namespace WiseLoom.Core.Faults;

/// <summary>A fault that would explain what was read.</summary>
/// <param name="Fault">The supposed fault.</param>
/// <param name="Sentence">What was seen and why this explains it, in one sentence.</param>
/// <param name="Explains">How many failing readings it predicts.</param>
/// <param name="Of">How many failing readings there are.</param>
/// <param name="Against">How many readings, passing ones too, speak against it.</param>
/// <param name="Places">Where to look.</param>
public sealed record Cause(Fault Fault, string Sentence, int Explains, int Of, int Against, ImmutableArray<string> Places);
