using System.Globalization;
using System.Text.Json;

namespace WiseLoom.Core.Looms;

/// <summary>Reads loom files of the format <c>wise-loom/loom</c>, version 1.</summary>
public static class LoomReader
{
    /// <summary>A larger file is refused unread, bytes.</summary>
    public const int LargestFile = 8 * 1024 * 1024;

    /// <summary>Reads a whole file.</summary>
    /// <param name="utf8">The file's bytes, with or without a byte order mark.</param>
    /// <returns>The loom, or every problem with its place. Never throws on bad input.</returns>
    public static LoomReading Read(ReadOnlyMemory<byte> utf8)
    {
        var problems = new List<Problem>();
        if (utf8.Length > LargestFile)
        {
            problems.Add(new("", string.Create(CultureInfo.InvariantCulture, $"The file has {utf8.Length / 1048576.0:0.0} MB; at most {LargestFile / 1048576} MB are read. A loom of 3,000 wires needs about 1 MB.")));
            return Failed(problems);
        }

        using var document = JsonText.Parse(utf8, problems);
        if (document is null)
        {
            return Failed(problems);
        }

        if (document.RootElement.ValueKind != JsonValueKind.Object)
        {
            problems.Add(new("", $"The file holds {JsonPlace.Describe(document.RootElement)}; a loom file is one object in braces."));
            return Failed(problems);
        }

        var warnings = new List<Problem>();
        var loom = new LoomWalk(problems, warnings).Read(new JsonPlace(document.RootElement, "", problems));
        return problems.Count > 0 ? Failed(problems) : new LoomReading(loom, [], [.. warnings]);
    }

    private static LoomReading Failed(List<Problem> problems) => new(null, [.. problems], []);
}
