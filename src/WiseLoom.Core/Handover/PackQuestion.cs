using System.Collections.Immutable;

namespace WiseLoom.Core.Handover;

/// <summary>A question to the customer as a pack prints it.</summary>
/// <param name="Choices">What may be chosen, each with what it changes; none for free words.</param>
/// <param name="Answer">What was answered last and by whom; null while it is open.</param>
public sealed record PackQuestion(string Asks, ImmutableArray<string> Choices, string? Answer);
