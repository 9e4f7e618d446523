using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A wire as it came off the board.</summary>
/// <param name="drawn">As the drawing has it.</param>
internal sealed class BuiltWire(Loom loom, Wire drawn)
{
    /// <summary>Places along it, by the share of the ohms before them; null where nothing touches it.</summary>
    private SortedList<double, string>? taps;

    internal Wire Drawn { get; } = drawn;

    internal string From { get; set; } = drawn.From.Text;

    internal string To { get; set; } = drawn.To.Text;

    internal bool Open { get; set; }

    /// <summary>The end it is open at; null when that is not known, or nothing of it is there.</summary>
    internal string? OpenEnd { get; set; }

    /// <summary>What poor joints add, ohms.</summary>
    internal double AddedOhm => AddedFirst + AddedLast;

    /// <summary>Of it what lies at its first end.</summary>
    internal double AddedFirst { get; set; }

    /// <summary>What lies at its last, or at an end that is not known.</summary>
    internal double AddedLast { get; set; }

    /// <summary>A place along it that something touches.</summary>
    /// <param name="mm">From its <c>from</c> end; kept within its length.</param>
    /// <returns>The name of that place.</returns>
    internal string Tap(double mm)
    {
        var share = OhmsAlong.Of(loom, Drawn).UpTo(Math.Clamp(mm / Drawn.LengthMm, 0, 1));
        taps ??= [];
        if (!taps.TryGetValue(share, out var name))
        {
            taps.Add(share, name = string.Create(CultureInfo.InvariantCulture, $"{Drawn.Id}@{share:R}"));
        }

        return name;
    }

    /// <summary>What conducts of it: the whole, or what lies between the places where something touches it.</summary>
    /// <returns>Each with its share of the ohms, and what a poor joint adds.</returns>
    internal IEnumerable<(string From, string To, double Share, double AddedOhm)> Pieces()
    {
        if (taps is null)
        {
            if (!Open)
            {
                yield return (From, To, 1, AddedOhm);
            }

            yield break;
        }

        var (before, at) = (From, 0.0);
        for (var i = 0; i <= taps.Count; i++)
        {
            var (name, share) = i < taps.Count ? (taps.Values[i], taps.Keys[i]) : (To, 1.0);
            if (!Open || (OpenEnd == "from" && i > 0) || (OpenEnd == "to" && i < taps.Count))
            {
                yield return (before, name, share - at, (i == 0 ? AddedFirst : 0) + (i == taps.Count ? AddedLast : 0));
            }

            (before, at) = (name, share);
        }
    }
}
