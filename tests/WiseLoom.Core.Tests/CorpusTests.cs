using System.Text;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>A corpus of loom files, right and wrong, that is held against the reader here and against the published JSON Schema by the pages' tests:
/// what the reader takes the schema takes, and what the schema refuses the reader refuses.</summary>
public sealed class CorpusTests
{
    private static readonly JsonObject Corpus = JsonNode.Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "corpus", "loom-files.json")))!.AsObject();

    public static TheoryData<string> Names => [.. Corpus["cases"]!.AsArray().Select(c => c!["name"]!.GetValue<string>())];

    [Theory]
    [MemberData(nameof(Names))]
    public void The_reader_takes_what_it_should_and_nothing_else(string name)
    {
        var of = Corpus["cases"]!.AsArray().Single(c => c!["name"]!.GetValue<string>() == name)!;
        var file = Corpus["base"]!.DeepClone();
        foreach (var patch in of["patch"]!.AsArray())
        {
            Apply(file, patch!["at"]!.GetValue<string>(), patch["value"]);
        }

        var reading = LoomReader.Read(Encoding.UTF8.GetBytes(file.ToJsonString()));
        (reading.Loom is not null).ShouldBe(of["reads"]!.GetValue<bool>(), string.Join(' ', reading.Problems));
        reading.Problems.ShouldAllBe(p => p.Message.Length > 5);
    }

    [Fact]
    public void The_schema_is_no_stricter_than_the_reader() =>
        Corpus["cases"]!.AsArray().Where(c => c!["reads"]!.GetValue<bool>() && !c["schema"]!.GetValue<bool>()).ShouldBeEmpty();

    private static void Apply(JsonNode file, string at, JsonNode? value)
    {
        var steps = at.Split('/')[1..];
        var place = steps[..^1].Aggregate(file, (node, step) => (node is JsonArray list ? list[int.Parse(step, System.Globalization.CultureInfo.InvariantCulture)] : node[step])!);
        var last = steps[^1];
        if (place is JsonArray items)
        {
            items[int.Parse(last, System.Globalization.CultureInfo.InvariantCulture)] = value?.DeepClone();
        }
        else if (value?.GetValueKind() == System.Text.Json.JsonValueKind.String && value.GetValue<string>() == "__delete__")
        {
            place.AsObject().Remove(last);
        }
        else
        {
            place[last] = value?.DeepClone();
        }
    }
}
