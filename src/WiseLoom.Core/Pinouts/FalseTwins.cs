using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Pinouts;

/// <summary>A cavity in which two plugs of one shape differ.</summary>
public sealed record TwinPin(string Cavity, string Left, string Right, PinDamage Damage);

/// <summary>Two plugs that fit each other's place and are not the same.</summary>
/// <param name="Worst">What the worst cavity could do.</param>
/// <param name="Pins">Cavities that differ, worst first.</param>
public sealed record FalseTwin(string Left, string Right, string Family, DamageLevel Worst, ImmutableArray<TwinPin> Pins);

/// <summary>Finds plugs that go where others belong.</summary>
public static class FalseTwins
{
    /// <summary>No more are told; nobody reads more.</summary>
    public const int Most = 200;

    /// <summary>Plugs with fewer cavities are taken for the same only when they have the same ref: every sensor has a two-way plug.</summary>
    private const int TellingCavities = 6;

    private static readonly DamageLevel[,] Levels = AllLevels();

    /// <summary>The worst false twins of two pinouts, and how many more there are.</summary>
    /// <param name="key">What a line means; two lines with one key mean the same.</param>
    internal static (ImmutableArray<FalseTwin> Twins, int More) Of(Pinout left, Pinout right, Func<PinoutLine, string> key, CancellationToken cancel)
    {
        var (shapes, meanings) = (new Dictionary<string, int>(StringComparer.Ordinal), new Dictionary<string, int>(StringComparer.Ordinal));
        var (mine, theirs) = (Plugs(left, key, shapes, meanings), Plugs(right, key, shapes, meanings).ToLookup(p => p.Shape));
        var worst = new PriorityQueue<(Plug A, Plug B), (DamageLevel, int)>();
        var (found, order) = (0, 0);
        foreach (var a in mine)
        {
            cancel.ThrowIfCancellationRequested();
            foreach (var b in theirs[a.Shape])
            {
                if ((a.Cavities.Length >= TellingCavities || a.Ref == b.Ref) && Worst(a, b) is > DamageLevel.None and var level)
                {
                    found++;
                    order--;
                    if (worst.Count < Most)
                    {
                        worst.Enqueue((a, b), (level, order));
                    }
                    else
                    {
                        worst.EnqueueDequeue((a, b), (level, order));
                    }
                }
            }
        }

        return ([.. worst.UnorderedItems.OrderByDescending(t => t.Priority).Select(t => Twin(t.Element.A, t.Element.B))], found - worst.Count);
    }

    private static List<Plug> Plugs(Pinout pinout, Func<PinoutLine, string> key, Dictionary<string, int> shapes, Dictionary<string, int> meanings)
    {
        var lines = pinout.Lines.ToLookup(l => l.Place.Connector);
        var places = new Dictionary<ConnectorFamily, (int Shape, string[] Cavities)>(ReferenceEqualityComparer.Instance);
        var plugs = new List<Plug>();
        foreach (var connector in pinout.Connectors)
        {
            if (connector.Family is not { } family)
            {
                continue;
            }

            if (!places.TryGetValue(family, out var place))
            {
                string[] cavities = [.. FaceLayout.Of(family, FaceSide.MatingFace).Cells.Select(c => c.Cavity)];
                places.Add(family, place = (NumberOf(shapes, ShapeOf(family, cavities)), cavities));
            }

            var plug = new Plug(connector.Ref, family.Title, place.Shape, place.Cavities, new PinoutLine?[place.Cavities.Length], new int[place.Cavities.Length], new byte[place.Cavities.Length]);
            var byCavity = lines[connector.Ref].DistinctBy(l => l.Place.Cavity).ToDictionary(l => l.Place.Cavity, StringComparer.Ordinal);
            for (var i = 0; i < place.Cavities.Length; i++)
            {
                if (byCavity.GetValueOrDefault(place.Cavities[i]) is { Function.Length: > 0 } line)
                {
                    (plug.Lines[i], plug.Meanings[i], plug.Roles[i]) = (line, NumberOf(meanings, key(line)), (byte)line.Role);
                }
            }

            plugs.Add(plug);
        }

        return plugs;
    }

    /// <summary>Numbers from 1; 0 is for a cavity that nothing is known of.</summary>
    private static int NumberOf(Dictionary<string, int> numbers, string text)
    {
        if (!numbers.TryGetValue(text, out var number))
        {
            numbers.Add(text, number = numbers.Count + 1);
        }

        return number;
    }

    /// <summary>Whether one housing goes where the other does: the same cavities in the same places, the same keying.</summary>
    public static bool SameShape(ConnectorFamily a, ConnectorFamily b)
    {
        ArgumentNullException.ThrowIfNull(a);
        ArgumentNullException.ThrowIfNull(b);
        return ShapeOf(a, FaceLayout.Of(a, FaceSide.MatingFace).Cells.Select(c => c.Cavity)) == ShapeOf(b, FaceLayout.Of(b, FaceSide.MatingFace).Cells.Select(c => c.Cavity));
    }

    private static string ShapeOf(ConnectorFamily family, IEnumerable<string?> cavities) =>
        System.Text.Json.JsonSerializer.Serialize(new { family.Keying, family.Kind, Rows = family.Rows.Select(r => r.Length), cavities });

    private static DamageLevel Worst(Plug a, Plug b)
    {
        var worst = DamageLevel.None;
        for (var i = 0; i < a.Meanings.Length; i++)
        {
            if (a.Meanings[i] != b.Meanings[i] && a.Meanings[i] != 0 && b.Meanings[i] != 0 && Levels[a.Roles[i], b.Roles[i]] is var level && level > worst)
            {
                worst = level;
            }
        }

        return worst;
    }

    private static FalseTwin Twin(Plug a, Plug b)
    {
        var pins =
            (from i in Enumerable.Range(0, a.Cavities.Length)
             where a.Meanings[i] != b.Meanings[i]
             let mine = a.Lines[i]
             let other = b.Lines[i]
             where mine is not null && other is not null
             let damage = PinDamage.Between(mine.Role, other.Role)
             orderby damage.Level descending
             select new TwinPin(a.Cavities[i], mine.Function, other.Function, damage)).ToImmutableArray();
        return new(a.Ref, b.Ref, a.Family, pins[0].Damage.Level, pins);
    }

    private static DamageLevel[,] AllLevels()
    {
        var roles = Enum.GetValues<PinRole>();
        var levels = new DamageLevel[roles.Length, roles.Length];
        foreach (var one in roles)
        {
            foreach (var other in roles)
            {
                levels[(int)one, (int)other] = PinDamage.Between(one, other).Level;
            }
        }

        return levels;
    }

    /// <summary>A plug, cavity by cavity in the order of its shape, so that two of one shape are compared number by number.</summary>
    /// <param name="Lines">Null for a cavity without a named function.</param>
    private sealed record Plug(string Ref, string Family, int Shape, string[] Cavities, PinoutLine?[] Lines, int[] Meanings, byte[] Roles);
}
