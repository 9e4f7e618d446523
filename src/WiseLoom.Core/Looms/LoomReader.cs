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

        using var text = LoomText.Parse(utf8);
        return text.Read();
    }

    /// <summary>Reads a file that somebody is still working on: what is right in it makes a loom that can be drawn, whatever else is wrong.</summary>
    /// <returns>Null with its problems when the file is no JSON object at all.</returns>
    public static LoomReading ReadDraft(ReadOnlyMemory<byte> utf8)
    {
        if (utf8.Length > LargestFile)
        {
            return Read(utf8);
        }

        using var text = LoomText.Parse(utf8);
        var reading = text.Read();
        return text.Check is { } check ? reading with { Loom = check.Drawable } : reading;
    }

    internal static LoomReading Failed(List<Problem> problems) => new(null, ProblemList.Shown(problems), []);
}
