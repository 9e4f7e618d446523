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
    /// <remarks>Entries with a problem of their own, and what hangs on them, are left out; a branch that leads nowhere or in a ring is taken off the tree.</remarks>
    public static LoomReading ReadDraft(ReadOnlyMemory<byte> utf8)
    {
        var whole = Read(utf8);
        if (whole.Loom is not null || LoomDocument.Parse(utf8) is null)
        {
            return whole;
        }

        var problems = new List<Problem>();
        using var document = JsonText.Parse(utf8, problems)!;
        var loom = new LoomWalk(problems, []).Read(new JsonPlace(document.RootElement, "", problems));
        return whole with { Loom = Drawable(loom) };
    }

    private static Loom Drawable(Loom loom)
    {
        var branches = new Dictionary<string, Branch>(StringComparer.Ordinal);
        var left = loom.Branches.DistinctBy(b => b.Id).ToList();
        if (left.Find(b => b.Parent is null) is { } trunk)
        {
            branches.Add(trunk.Id, trunk);
            while (left.Find(b => !branches.ContainsKey(b.Id) && b.Parent is { } parent && branches.ContainsKey(parent)) is { } next)
            {
                branches.Add(next.Id, next);
            }
        }

        string? Known(string? branch) => branch is not null && branches.ContainsKey(branch) ? branch : null;
        return loom with
        {
            Families = [.. loom.Families.DistinctBy(f => f.Id)],
            Branches = [.. branches.Values],
            Landmarks = [.. loom.Landmarks.Where(m => branches.ContainsKey(m.Branch)).DistinctBy(m => m.Id)],
            Connectors = [.. loom.Connectors.Select(c => c with { Branch = Known(c.Branch) })],
            Splices = [.. loom.Splices.DistinctBy(s => s.Ref).Select(s => s with { Branch = Known(s.Branch) })],
            Wires = [.. loom.Wires.Where(w => w.From.Text != w.To.Text).DistinctBy(w => w.Id)],
            Devices = [.. loom.Devices.DistinctBy(d => d.Ref)],
        };
    }

    internal static LoomReading Failed(List<Problem> problems) => new(null, [.. problems], []);
}
