using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Pinouts;

namespace WiseLoom.Core.Tests;

/// <summary>The demo shop's library and sheets, and small sheets written as lines.</summary>
internal static class Book
{
    private static readonly JsonObject Library = JsonNode.Parse(Looms.DemoFile("library.json"))!.AsObject();

    internal static JsonArray FamilyBodies { get; } = Library["families"]!.AsArray();

    internal static ImmutableDictionary<string, ConnectorFamily> Families { get; } = FamilyBodies
        .Select(f => FamilyLibrary.Read(f!.AsObject())).Select(r => r.Family ?? throw new InvalidOperationException(r.Problems[0].ToString())).ToImmutableDictionary(f => f.Id);

    internal static Synonyms Synonyms { get; } = new(Library["synonyms"].Deserialize<List<List<string>>>()!);

    internal static Pinout Tower { get; } = Sheet("sheet-tower.csv", ("T1", "slab-60"), ("T2", "slab-48"), ("T3", "slab-32"));

    internal static Pinout ControllerTwo { get; } = Sheet("sheet-controller-two.csv", ("P1", "slab-60w"), ("P2", "slab-40"), ("P3", "slab-24"));

    internal static ImmutableHashSet<MergePair> TruePairs { get; } =
    [
        .. JsonNode.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "true-pairs.json")))!.AsArray()
            .Select(p => new MergePair(ProbePoint.Parse(p!["left"]!.GetValue<string>()), ProbePoint.Parse(p["right"]!.GetValue<string>()))),
    ];

    /// <summary>A pinout from lines written <c>A:1=Injector 1</c> or <c>A:1=Injector 1;output</c>; plugs have the family <c>seal-8</c>.</summary>
    internal static Pinout Of(params string[] lines)
    {
        var parsed = lines.Select(l => l.Split('=', ';')).Select(p => new SheetLine(p[0].Split(':')[0], p[0].Split(':')[1], p[1], p.ElementAtOrDefault(2) ?? "", "", "", "")).ToImmutableArray();
        return new Sheet("Test", [.. parsed.Select(l => l.Connector).Distinct().Select(c => new SheetConnector(c, c, "seal-8"))], parsed).AsPinout(Families);
    }

    private static Pinout Sheet(string file, params (string Ref, string Family)[] plugs)
    {
        var problems = new List<Problem>();
        var table = CsvText.Read(Looms.DemoFile(file), file, file, problems)!;
        var sheet = new Sheet(file, [.. plugs.Select(p => new SheetConnector(p.Ref, p.Ref, p.Family))], Pinouts.Sheet.ReadLines(table, "", problems));
        problems.ShouldBeEmpty();
        sheet.Check(Families).Problems.ShouldBeEmpty();
        sheet.Check(Families).Warnings.ShouldBeEmpty();
        return sheet.AsPinout(Families);
    }
}
