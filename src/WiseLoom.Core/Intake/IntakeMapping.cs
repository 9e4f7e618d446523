using System.Collections.Immutable;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>What a person said of one column.</summary>
/// <param name="Unit">Null for what its cells or the heading say.</param>
/// <param name="Of">The connector whose cavities it holds; null for none.</param>
public sealed record MappedColumn(Meaning Meaning, string? Unit = null, string? Of = null);

/// <summary>What a person said of the columns of a file's tables, by their headings: it holds for the next file with the same headings.</summary>
/// <param name="Columns">By heading; <c>#3</c> names the third column of a table without headings.</param>
/// <param name="Name">What the shop calls tables of this shape; empty for none.</param>
/// <param name="Headings">All headings of its table in their order; none where it was said of one file only.</param>
public sealed record IntakeMapping(ImmutableSortedDictionary<string, MappedColumn> Columns, string Name = "", ImmutableArray<string> Headings = default)
{
    /// <summary>The longest name, the longest heading and the most columns that are kept.</summary>
    public const int LongestName = 60, LongestHeading = 200, MostColumns = 200;

    /// <summary>What is wrong with a mapping that is to be kept, each with its place; empty for nothing.</summary>
    public ImmutableArray<Problem> Problems()
    {
        var problems = ImmutableArray.CreateBuilder<Problem>();
        if (string.IsNullOrWhiteSpace(Name) || Name.Length > LongestName)
        {
            problems.Add(new("/name", $"A name of 1 to {LongestName} signs is needed."));
        }

        if (Headings.IsDefaultOrEmpty || Headings.Length > MostColumns || Headings.Any(h => h is null || h.Length > LongestHeading) || Headings.Count(h => h.Length > 0) < 2)
        {
            problems.Add(new("/headings", $"The headings of the table in their order are needed: 2 to {MostColumns}, each of at most {LongestHeading} signs."));
        }
        else if (Columns.Keys.FirstOrDefault(k => !Headings.Contains(k) && !IsNumbered(k)) is { } stranger)
        {
            problems.Add(new($"/columns/{stranger}", "No heading of the table reads so."));
        }

        foreach (var (key, _) in Columns.Where(c => c.Value is null || !Enum.IsDefined(c.Value.Meaning) || c.Value.Unit?.Length > 4 || c.Value.Of?.Length > 40))
        {
            problems.Add(new($"/columns/{key}", "A meaning is needed, and a unit of length or section where it has one."));
        }

        if (Columns.IsEmpty)
        {
            problems.Add(new("/columns", "At least one column needs a meaning."));
        }

        return problems.ToImmutable();
    }

    private bool IsNumbered(string key) => key.StartsWith('#') && int.TryParse(key.AsSpan(1), NumberStyles.None, CultureInfo.InvariantCulture, out var n) && n >= 1 && n <= Headings.Length;

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
