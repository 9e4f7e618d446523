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

/// <summary>Two pinouts side by side.</summary>
/// <param name="Lines">In the order of their places.</param>
/// <param name="Twins">Plugs that fit each other's place and are not the same, the worst first, at most <see cref="FalseTwins.Most"/>.</param>
/// <param name="MoreTwins">How many more there are.</param>
public sealed record PinoutComparison(ImmutableArray<ComparedLine> Lines, ImmutableArray<FalseTwin> Twins, int MoreTwins)
{
    /// <summary>Compares. Functions are the same when they mean the same by the shop's synonyms; lines without a function are compared by place.</summary>
    public static PinoutComparison Of(Pinout left, Pinout right, Synonyms synonyms, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(left);
        ArgumentNullException.ThrowIfNull(right);
        var senses = new Dictionary<string, string>(StringComparer.Ordinal);
        string Key(PinoutLine line)
        {
            if (line.Function.Length == 0)
            {
                return $"@{line.Place}";
            }

            if (!senses.TryGetValue(line.Function, out var key))
            {
                senses.Add(line.Function, key = FunctionWords.Sense(line.Function, synonyms).Key);
            }

            return key;
        }

        var lines = new List<ComparedLine>();
        var (mine, theirs) = (left.Lines.ToLookup(Key), right.Lines.ToLookup(Key));
        foreach (var group in mine)
        {
            cancel.ThrowIfCancellationRequested();
            lines.AddRange(WithOneFunction([.. group], [.. theirs[group.Key]]));
        }

        lines.AddRange(theirs.Where(g => !mine.Contains(g.Key)).SelectMany(g => g).Select(OnlyRight));
        var (twins, more) = FalseTwins.Of(left, right, Key, cancel);
        return new([.. lines.OrderBy(l => (l.Left ?? l.Right)!.Place)], twins, more);
    }

    /// <summary>Lines that mean the same: those in one place first, then a plug of the same name, then whatever comes.</summary>
    private static IEnumerable<ComparedLine> WithOneFunction(List<PinoutLine> mine, List<PinoutLine> theirs)
    {
        var open = new Unpaired(theirs);
        var moved = new List<PinoutLine>();
        foreach (var line in mine)
        {
            if (open.Take(line.Place) is { } other)
            {
                yield return InPlace(line, other);
            }
            else
            {
                moved.Add(line);
            }
        }

        foreach (var line in moved)
        {
            yield return open.TakeNear(line.Place) is { } other
                ? new(ComparedKind.Moved, line, other, $"{Name(line)} moves from {line.Place} to {other.Place}{Dress(line, other)}.")
                : new(ComparedKind.OnlyLeft, line, null, $"{Name(line)} at {line.Place} is only on the left.");
        }

        foreach (var line in open.Rest())
        {
            yield return OnlyRight(line);
        }
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

    /// <summary>Lines of one side that have no partner yet; each is taken once, in a time that does not grow with their number.</summary>
    private sealed class Unpaired(List<PinoutLine> lines)
    {
        private readonly Dictionary<ProbePoint, Queue<PinoutLine>> byPlace = Queues(lines, l => l.Place);
        private readonly Dictionary<string, Queue<PinoutLine>> byPlug = Queues(lines, l => l.Place.Connector);
        private readonly Queue<PinoutLine> all = new(lines);
        private readonly HashSet<PinoutLine> taken = new(ReferenceEqualityComparer.Instance);

        internal PinoutLine? Take(ProbePoint place) => Next(byPlace.GetValueOrDefault(place));

        internal PinoutLine? TakeNear(ProbePoint place) => Next(byPlug.GetValueOrDefault(place.Connector)) ?? Next(all);

        internal IEnumerable<PinoutLine> Rest() => lines.Where(l => !taken.Contains(l));

        private PinoutLine? Next(Queue<PinoutLine>? queue)
        {
            while (queue?.TryDequeue(out var line) == true)
            {
                if (taken.Add(line))
                {
                    return line;
                }
            }

            return null;
        }

        private static Dictionary<T, Queue<PinoutLine>> Queues<T>(List<PinoutLine> lines, Func<PinoutLine, T> by)
            where T : notnull => lines.GroupBy(by).ToDictionary(g => g.Key, g => new Queue<PinoutLine>(g));
    }
}
