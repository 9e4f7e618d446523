using System.Collections.Immutable;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>A family of the shop.</summary>
/// <param name="Body">As a loom file writes it.</param>
public sealed record ShopFamily(ConnectorFamily Family, JsonObject Body);

/// <summary>What a shop has learned of papers: how tables with certain headings are read, and what its words for colours mean.</summary>
/// <param name="Mappings">Each with its headings.</param>
/// <param name="Families">Families of the shop, each as a loom file writes it.</param>
/// <param name="Colours">Code by word, in plain letters: <c>mauvish</c> is <c>VT</c>.</param>
public sealed record IntakeMemory(ImmutableArray<IntakeMapping> Mappings, ImmutableSortedDictionary<string, string> Colours, ImmutableArray<ShopFamily> Families)
{
    /// <summary>The most mappings and the most words that a shop keeps.</summary>
    public const int Most = 1000;

    /// <summary>What is taken for figures that papers do not give.</summary>
    public UnknownFigures Unknown { get; init; } = UnknownFigures.Usual;

    /// <summary>Nothing learned.</summary>
    public static IntakeMemory Empty { get; } = new([], ImmutableSortedDictionary<string, string>.Empty, []);

    /// <summary>How a word for a colour is kept: small letters without accents.</summary>
    /// <returns>Null where it is not one word of letters, of at most 30.</returns>
    public static string? Word(string text) => Plain.Words(text ?? "") is [{ Length: > 0 and <= 30 } word] && word.Any(char.IsLetter) ? word : null;

    /// <summary>Whether a text is the code of a colour as the loom file writes it.</summary>
    public static bool IsCode(string? text) => text is not null && WireColour.AllCodes.Contains(text, StringComparer.Ordinal);

    /// <summary>The mapping for a table with these headings; null for none.</summary>
    internal IntakeMapping? For(ImmutableArray<string> headings) =>
        !Mappings.IsEmpty && IntakeMapping.Fingerprint(headings) is { } shape ? Mappings.FirstOrDefault(m => IntakeMapping.Fingerprint(m.Headings) == shape) : null;
}
