using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Pinouts;

/// <summary>How a function of one pinout stands to the other.</summary>
public enum ComparedKind
{
    /// <summary>Stands on both sides at the same place.</summary>
    Same,

    /// <summary>In another cavity.</summary>
    Moved,

    /// <summary>Same function and cavity, another colour or section.</summary>
    Recoloured,
    /// <summary>Stands on the left alone.</summary>
    OnlyLeft,
    /// <summary>Stands on the right alone.</summary>
    OnlyRight,
}

/// <summary>One row of a comparison.</summary>
/// <param name="Left">The line on the left; null when only the right has it.</param>
/// <param name="Right">The line on the right; null when only the left has it.</param>
/// <param name="Sentence">The same in words.</param>
public sealed record ComparedLine(ComparedKind Kind, PinoutLine? Left, PinoutLine? Right, string Sentence);

/// <summary>A cavity in which two plugs of one shape differ.</summary>
public sealed record TwinPin(string Cavity, string Left, string Right, PinDamage Damage);

/// <summary>Two plugs that fit each other's place and are not the same.</summary>
/// <param name="Worst">What the worst cavity could do.</param>
/// <param name="Pins">Cavities that differ, worst first.</param>
public sealed record FalseTwin(string Left, string Right, string Family, DamageLevel Worst, ImmutableArray<TwinPin> Pins);

/// <summary>Two pinouts side by side.</summary>
public sealed record PinoutComparison(ImmutableArray<ComparedLine> Lines, ImmutableArray<FalseTwin> Twins)
{
    /// <summary>Plugs with fewer cavities are taken for the same only when they have the same ref: every sensor has a two-way plug.</summary>
    private const int TellingCavities = 6;

    /// <summary>Compares. Functions are the same when they mean the same by the shop's synonyms; lines without a function are compared by place.</summary>
    public static PinoutComparison Of(Pinout left, Pinout right, Synonyms synonyms)
    {
        ArgumentNullException.ThrowIfNull(left);
        ArgumentNullException.ThrowIfNull(right);
        string Key(PinoutLine l) => l.Function.Length == 0 ? $"@{l.Place}" : FunctionWords.Sense(l.Function, synonyms).Key;
        var lines = new List<ComparedLine>();
        var rest = right.Lines.ToLookup(Key);
        foreach (var group in left.Lines.GroupBy(Key))
        {
            var (mine, theirs) = (group.ToList(), rest[group.Key].ToList());
            foreach (var line in group.Where(l => theirs.Exists(t => t.Place == l.Place)))
            {
                var other = theirs.Find(t => t.Place == line.Place)!;
                mine.Remove(line);
                theirs.Remove(other);
                lines.Add(InPlace(line, other));
            }

            foreach (var line in mine)
            {
                // A plug of the same name first, then whatever comes.
                var other = theirs.Find(t => t.Place.Connector == line.Place.Connector) ?? theirs.FirstOrDefault();
                if (other is null)
                {
                    lines.Add(new(ComparedKind.OnlyLeft, line, null, $"{Name(line)} at {line.Place} is only on the left."));
                }
                else
                {
                    theirs.Remove(other);
                    lines.Add(new(ComparedKind.Moved, line, other, $"{Name(line)} moves from {line.Place} to {other.Place}{Dress(line, other)}."));
                }
            }

            lines.AddRange(theirs.Select(OnlyRight));
        }

        var known = left.Lines.Select(Key).ToHashSet(StringComparer.Ordinal);
        lines.AddRange(right.Lines.Where(l => !known.Contains(Key(l))).Select(OnlyRight));
        return new([.. lines.OrderBy(l => (l.Left ?? l.Right)!.Place)], [.. FindTwins(left, right, Key)]);
    }

    private static ComparedLine OnlyRight(PinoutLine line) => new(ComparedKind.OnlyRight, null, line, $"{Name(line)} at {line.Place} is only on the right.");

    private static ComparedLine InPlace(PinoutLine a, PinoutLine b) => Dress(a, b) is { Length: > 0 } dress
        ? new(ComparedKind.Recoloured, a, b, $"{Name(a)} at {a.Place}{dress}.")
        : new(ComparedKind.Same, a, b, $"{Name(a)} at {a.Place} is the same.");

    private static string Dress(PinoutLine a, PinoutLine b)
    {
        string[] changes =
        [
            a.Colour.Length > 0 && b.Colour.Length > 0 && a.Colour != b.Colour ? $"colour {a.Colour} → {b.Colour}" : "",
            a.Section.Length > 0 && b.Section.Length > 0 && a.Section != b.Section ? $"section {a.Section} → {b.Section}" : "",
        ];
        return string.Concat(changes.Where(c => c.Length > 0).Select(c => $", {c}"));
    }

    private static string Name(PinoutLine line) => line.Function.Length > 0 ? line.Function : "A wire without a named function";

    private static IEnumerable<FalseTwin> FindTwins(Pinout left, Pinout right, Func<PinoutLine, string> key)
    {
        var (mine, theirs) = (left.Lines.ToLookup(l => l.Place.Connector), right.Lines.ToLookup(l => l.Place.Connector));
        var pairs =
            from a in left.Connectors
            from b in right.Connectors
            where a.Family is not null && b.Family is not null && SameShape(a.Family, b.Family)
            where a.Ref == b.Ref || a.Family!.Cavities.Length >= TellingCavities
            select (a, b);
        foreach (var (a, b) in pairs)
        {
            var there = theirs[b.Ref].GroupBy(l => l.Place.Cavity, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);
            var pins =
                (from line in mine[a.Ref].DistinctBy(l => l.Place.Cavity)
                 where there.ContainsKey(line.Place.Cavity)
                 let other = there[line.Place.Cavity]
                 where line.Function.Length > 0 && other.Function.Length > 0 && key(line) != key(other)
                 let damage = PinDamage.Between(line.Role, other.Role)
                 orderby damage.Level descending
                 select new TwinPin(line.Place.Cavity, line.Function, other.Function, damage)).ToImmutableArray();
            if (!pins.IsEmpty)
            {
                yield return new(a.Ref, b.Ref, a.Family!.Title, pins[0].Damage.Level, pins);
            }
        }
    }

    /// <summary>Whether one housing goes where the other does: the same cavities in the same places, the same keying.</summary>
    public static bool SameShape(ConnectorFamily a, ConnectorFamily b)
    {
        ArgumentNullException.ThrowIfNull(a);
        ArgumentNullException.ThrowIfNull(b);
        return a.Keying == b.Keying && a.Kind == b.Kind && a.Rows.Length == b.Rows.Length && a.Rows.Zip(b.Rows).All(r => r.First.Length == r.Second.Length)
            && FaceLayout.Of(a, FaceSide.MatingFace).Cells.Select(c => c.Cavity).SequenceEqual(FaceLayout.Of(b, FaceSide.MatingFace).Cells.Select(c => c.Cavity));
    }
}
