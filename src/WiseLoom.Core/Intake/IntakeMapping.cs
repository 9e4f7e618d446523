using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text;
using WiseLoom.Core.Formats;

namespace WiseLoom.Core.Intake;

/// <summary>What a person said of one column.</summary>
/// <param name="Unit">Null for what its cells or the heading say.</param>
/// <param name="Of">The connector whose cavities it holds; null for none.</param>
public sealed record MappedColumn(Meaning Meaning, string? Unit = null, string? Of = null);

/// <summary>What a person said of the columns of a file's tables, by their headings: it holds for the next file with the same headings.</summary>
/// <param name="Columns">By heading; <c>#3</c> names the third column of a table without headings.</param>
public sealed record IntakeMapping(ImmutableSortedDictionary<string, MappedColumn> Columns)
{
    /// <summary>Nothing said.</summary>
    public static IntakeMapping Empty { get; } = new(ImmutableSortedDictionary<string, MappedColumn>.Empty);

    /// <summary>Names a shape of table: the same headings give the same text, whatever their capitals and signs.</summary>
    public static string Fingerprint(IEnumerable<string> headings) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('|', headings.Select(Plain.Joined)))))[..32];

    /// <summary>How a column is called in a mapping.</summary>
    public static string Key(ColumnReading column)
    {
        ArgumentNullException.ThrowIfNull(column);
        return column.Heading.Length > 0 ? column.Heading : $"#{column.Column + 1}";
    }

    /// <summary>The columns with what was said of them.</summary>
    internal ImmutableArray<ColumnReading> Over(ImmutableArray<ColumnReading> columns, IReadOnlyList<TextRow> body)
    {
        var said = columns.Select(c => Columns.GetValueOrDefault(Key(c)) is { } mapped
            ? c with { Meaning = mapped.Meaning, Unit = mapped.Unit ?? ColumnJudge.Unit(mapped.Meaning, c.Heading, [.. body.Select(r => r[c.Column]).Where(t => t.Length > 0).Take(200)]), Of = mapped.Of, Probability = 1 }
            : c).ToList();
        // What a person says takes the place of what was guessed for another column.
        var taken = said.Where(c => c.Probability >= 1 && Columns.ContainsKey(Key(c))).Select(c => c.Meaning).Where(m => m is not (Meaning.Ignore or Meaning.Note)).ToHashSet();
        var once = new HashSet<Meaning>();
        return [.. said.Select(c => c.Meaning is Meaning.Ignore or Meaning.Note || (Columns.ContainsKey(Key(c)) ? once.Add(c.Meaning) : !taken.Contains(c.Meaning)) ? c : c with { Meaning = Meaning.Ignore })];
    }
}
