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

    internal LoomCheck(
        LoomWalk walk,
        ImmutableArray<Problem> beforeWires,
        ImmutableArray<Problem> afterWires,
        ImmutableArray<Problem> warningsBeforeWires,
        ImmutableArray<WireRow> rows,
        ImmutableArray<Problem> problems,
        ImmutableArray<Problem> warnings)
    {
        this.walk = walk;
        (BeforeWires, AfterWires, WarningsBeforeWires, Rows, Problems, Warnings) = (beforeWires, afterWires, warningsBeforeWires, rows, problems, problems.IsEmpty ? warnings : []);
    }

    /// <summary>All that is wrong, in file order.</summary>
    public ImmutableArray<Problem> Problems { get; }

    /// <summary>Doubtful things; empty when anything is wrong, as for a file that is read.</summary>
    public ImmutableArray<Problem> Warnings { get; }

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
}
