using System.Text.Json;

namespace WiseLoom.Core.Looms;

/// <summary>A loom file that has been taken apart as JSON, before anything in it is believed.</summary>
public sealed class LoomText : IDisposable
{
    private readonly JsonDocument? document;
    private readonly List<Problem> problems;

    private LoomText(JsonDocument? document, List<Problem> problems) => (this.document, this.problems) = (document, problems);

    /// <summary>Whether the text is one JSON object that can be stored and read again, whatever stands in it.</summary>
    public bool CanBeKept => document is not null && problems.Count == 0;

    /// <summary>What was found, ready to follow a change of one wire; null before <see cref="Read"/>, or when the text cannot be kept.</summary>
    public LoomCheck? Check { get; private set; }

    /// <summary>Takes a file apart; never throws on bad input.</summary>
    public static LoomText Parse(ReadOnlyMemory<byte> utf8)
    {
        var problems = new List<Problem>();
        var document = JsonText.Parse(utf8, problems);
        if (document is not null && document.RootElement.ValueKind != JsonValueKind.Object)
        {
            problems.Add(new("", $"The file holds {JsonPlace.Describe(document.RootElement)}; a loom file is one object in braces."));
        }

        return new(document, problems);
    }

    /// <summary>The loom, or every problem with its place.</summary>
    public LoomReading Read()
    {
        if (!CanBeKept)
        {
            return LoomReader.Failed(problems);
        }

        var (wrong, warnings) = (new List<Problem>(), new List<Problem>());
        var walk = new LoomWalk(wrong, warnings);
        var loom = walk.Read(new JsonPlace(document!.RootElement, "", wrong));
        Check = walk.Check;
        return wrong.Count > 0 ? LoomReader.Failed(wrong) : new LoomReading(loom, [], ProblemList.Shown(warnings));
    }

    /// <inheritdoc/>
    public void Dispose() => document?.Dispose();
}
