using System.Globalization;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Runs;

/// <summary>How a loom was moved while it was read.</summary>
/// <param name="Seconds">For how long.</param>
/// <param name="Breaks">How often the pair was not what it must be.</param>
/// <param name="SeesSeconds">The shortest break that the meter could not have missed.</param>
/// <param name="Hand">Where the hand was at the last break, or at the end: a connector, wire or splice; empty when nobody said.</param>
public sealed record Moved(double Seconds, int Breaks, double SeesSeconds, string Hand)
{
    /// <summary>Whether it can be: 0 to 600 s, up to 100,000 breaks.</summary>
    public bool IsPossible => Seconds is >= 0 and <= 600 && Breaks is >= 0 and <= 100_000 && SeesSeconds is >= 0 and <= 600 && Hand.Length <= 80;

    /// <summary>In a sentence, for the record.</summary>
    public string InWords() => string.Create(
        CultureInfo.InvariantCulture,
        $"moved for {Seconds:0.#} s: {(Breaks == 0 ? "no break" : Breaks == 1 ? "1 break" : $"{Breaks} breaks")}{(Hand.Length > 0 ? $", hand at {Hand}" : "")}; breaks longer than {SeesSeconds * 1000:0.#} ms would have shown");
}
