using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>What would explain readings that are not as drawn: one fault or several at once, with all that no measurement tells from it.</summary>
/// <param name="Faults">What is supposed; empty when nothing is wrong.</param>
/// <param name="Probability">0 to 1; null in rows from before causes were weighed.</param>
/// <param name="Sentence">What was seen, why this explains it, and what speaks against it.</param>
/// <param name="Places">Where to look.</param>
[JsonConverter(typeof(CauseJson))]
public sealed record Cause(ImmutableArray<Fault> Faults, double? Probability, string Sentence, ImmutableArray<string> Places)
{
    /// <summary>What it is called in lists.</summary>
    public string Title(Loom loom) => Faults.IsEmpty ? "An error of reading" : string.Join("; ", Faults.Select(f => f.Title(loom)));
}
