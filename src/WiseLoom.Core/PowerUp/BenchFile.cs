using System.Collections.Immutable;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.PowerUp;

/// <summary>What a file says of a bench: what is fitted on it, and where it stands.</summary>
public sealed record BenchFile(BenchFit Fit, School School)
{
    private static readonly Dictionary<string, School> Known = new(StringComparer.Ordinal) { ["bench"] = School.Bench, ["test-engine"] = School.TestEngine, ["vehicle"] = School.Vehicle };

    /// <summary>The words for schools.</summary>
    public static ImmutableArray<string> Schools { get; } = [.. Known.Keys];

    /// <summary>A school by its word; null when there is none.</summary>
    public static School? FindSchool(string word) => Known.TryGetValue(word, out var school) ? school : null;

    /// <summary>The word of a school.</summary>
    public static string WordOf(School school) => Known.First(k => k.Value == school).Key;

    /// <summary>Reads <c>{"fitted":{"pump":{"resistorOhm":6},"injector-3":null},"school":"bench"}</c>.</summary>
    /// <returns>All that is wrong with it; the bench is null when anything is.</returns>
    public static (BenchFile? Bench, ImmutableArray<Problem> Problems) Read(byte[] json, Loom loom)
    {
        var problems = new List<Problem>();
        using var document = JsonText.Parse(json, problems);
        if (document is null)
        {
            return (null, [.. problems]);
        }

        if (document.RootElement.ValueKind != System.Text.Json.JsonValueKind.Object)
        {
            return (null, [new("", "An object is needed here, such as {\"fitted\": {\"pump\": null}}.")]);
        }

        var root = new JsonPlace(document.RootElement, "", problems);
        var fit = BenchFit.Read(root);
        var school = root.Word("school", Known) ?? School.Vehicle;
        problems.AddRange(fit.Problems(loom));
        return problems.Count > 0 ? (null, [.. problems]) : (new(fit, school), []);
    }
}
