using System.Collections.Immutable;
using System.Text.Json.Nodes;

namespace WiseLoom.Core.Looms;

/// <summary>Reads families as the shop's library keeps them: written as in a loom file.</summary>
public static class FamilyLibrary
{
    /// <summary>Reads one family.</summary>
    /// <returns>The family, or every problem with its place in it.</returns>
    public static (ConnectorFamily? Family, ImmutableArray<Problem> Problems) Read(JsonObject family)
    {
        ArgumentNullException.ThrowIfNull(family);
        var document = LoomDocument.Empty("library");
        document["families"] = new JsonArray(family.DeepClone());
        var reading = LoomReader.Read(LoomDocument.Bytes(document));
        const string Before = "/families/0";
        return (reading.Loom?.Families[0], [.. reading.Problems.Select(p => p with { At = p.At.StartsWith(Before, StringComparison.Ordinal) ? p.At[Before.Length..] : p.At })]);
    }
}
