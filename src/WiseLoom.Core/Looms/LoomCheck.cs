using System.Collections.Immutable;
using System.Text;
using System.Text.Json;

namespace WiseLoom.Core.Looms;

/// <summary>One entry of the wire list as it was read.</summary>
/// <param name="At">Its place in the file.</param>
/// <param name="Id">Its id; null when that is missing or wrong.</param>
/// <param name="Wire">The wire; null when something that it needs is missing or wrong.</param>
/// <param name="Problems">What is wrong with it by itself, whatever else the file says.</param>
/// <param name="Warnings">What is doubtful about it by itself.</param>
internal sealed record WireRow(string At, string? Id, Wire? Wire, ImmutableArray<Problem> Problems, ImmutableArray<Problem> Warnings);

/// <summary>Everything that is wrong or doubtful in a loom file, kept so that it follows a change of one wire without reading the file again.</summary>
/// <remarks>It never changes: a change gives a new one. A check after a change is the check of the changed file; a property test holds it.</remarks>
public sealed class LoomCheck
{
    private readonly LoomWalk walk;
    private readonly Loom read;
    private readonly Lazy<Loom> drawable;

    internal LoomCheck(
        LoomWalk walk,
        Loom read,
        ImmutableArray<Problem> beforeWires,
        ImmutableArray<Problem> afterWires,
        ImmutableArray<Problem> warningsBeforeWires,
        ImmutableArray<WireRow> rows,
        ImmutableArray<Problem> problems,
        ImmutableArray<Problem> warnings)
    {
        (this.walk, this.read) = (walk, read);
        drawable = new(() => WithoutWhatHangsInTheAir(read));
        (BeforeWires, AfterWires, WarningsBeforeWires, Rows, Problems, Warnings) = (beforeWires, afterWires, warningsBeforeWires, rows, ProblemList.Shown(problems), problems.IsEmpty ? ProblemList.Shown(warnings) : []);
    }

    /// <summary>All that is wrong, in file order.</summary>
    public ImmutableArray<Problem> Problems { get; }

    /// <summary>Doubtful things; empty when anything is wrong, as for a file that is read.</summary>
    public ImmutableArray<Problem> Warnings { get; }

    /// <summary>What is right in the file, as a loom that can be drawn, whatever else is wrong.</summary>
    /// <remarks>Entries with a problem of their own, and what hangs on them, are left out; a branch that leads nowhere or in a ring is taken off the tree.</remarks>
    public Loom Drawable => drawable.Value;

    internal ImmutableArray<Problem> BeforeWires { get; }

    internal ImmutableArray<Problem> AfterWires { get; }

    internal ImmutableArray<Problem> WarningsBeforeWires { get; }

    internal ImmutableArray<WireRow> Rows { get; }

    /// <summary>The check of the same file with another entry at a place of its wire list.</summary>
    /// <param name="index">Which entry, from 0.</param>
    /// <param name="entry">What stands there now.</param>
    /// <returns>Null when the change cannot be followed alone and the file must be read: the place is not there, the entry is no object, or one that could not be kept.</returns>
    public LoomCheck? WithWire(int index, JsonElement entry)
    {
        // Entries that are no objects are passed over when a file is read: then places and rows do not agree.
        if (index < 0 || index >= Rows.Length || Rows[index].At != $"/wires/{index}" || entry.ValueKind != JsonValueKind.Object)
        {
            return null;
        }

        // In its place in the file, two deep: what could not be kept there must not be kept here.
        var problems = new List<Problem>();
        using var kept = JsonText.Parse(Encoding.UTF8.GetBytes($"{{\"wires\":[{entry.GetRawText()}]}}"), problems);
        return kept is null || problems.Count > 0 ? null : walk.Again(this, index, entry);
    }

    /// <summary>The check after another pass over the wire list.</summary>
    internal LoomCheck With(ImmutableArray<WireRow> rows, ImmutableArray<Wire> wires, List<Problem> wrong, List<Problem> doubtful) =>
        new(walk, read with { Wires = wires }, BeforeWires, AfterWires, WarningsBeforeWires, rows, [.. wrong], [.. doubtful]);

    private static Loom WithoutWhatHangsInTheAir(Loom loom)
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
}
