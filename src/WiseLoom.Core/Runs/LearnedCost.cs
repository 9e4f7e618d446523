using System.Globalization;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Runs;

/// <summary>A reading of a step, and when it was taken.</summary>
public readonly record struct TimedStep(ProbePair Probes, DateTimeOffset At);

/// <summary>What a person's hands need with a meter, learned from the times between their readings.</summary>
/// <param name="Cost">The medians where there are enough readings, else the usual figures.</param>
/// <param name="Readings">How many times between readings it was learned from; 0 when all figures are the usual ones.</param>
public sealed record LearnedCost(TouchCost Cost, int Readings)
{
    /// <summary>So many times are needed for a figure.</summary>
    public const int Enough = 20;

    /// <summary>Shorter times are not of hands, longer ones are pauses; seconds.</summary>
    private const double Shortest = 0.3, Longest = 60;

    private static readonly TouchCost Touches = new(1, 0, 0, 0), Moves = new(0, 1, 0, 0);

    /// <summary>Learns.</summary>
    /// <param name="runs">Readings of one person with one meter, run by run, in any order.</param>
    /// <param name="usual">What holds where there are too few.</param>
    /// <remarks>Only times are looked at in which one probe stayed: within its connector they are a touch, into another one a touch and a move, along
    /// the shorting plug a touch and clearing.</remarks>
    public static LearnedCost From(IEnumerable<IReadOnlyList<TimedStep>> runs, TouchCost usual)
    {
        ArgumentNullException.ThrowIfNull(runs);
        ArgumentNullException.ThrowIfNull(usual);
        var (touch, move, clear) = (new List<double>(), new List<double>(), new List<double>());
        foreach (var (before, after) in runs.Select(r => r.OrderBy(s => s.At).ToList()).SelectMany(r => r.Zip(r.Skip(1))))
        {
            var seconds = (after.At - before.At).TotalSeconds;
            if (seconds is < Shortest or > Longest || Touches.Between(before.Probes, after.Probes) is not 1.0)
            {
                continue;
            }

            var hasMoved = Moves.Between(before.Probes, after.Probes) > 0;
            (hasMoved ? move : after.Probes.Red is null ? clear : touch).Add(seconds);
        }

        if (touch.Count < Enough)
        {
            return new(usual, 0);
        }

        var one = Median(touch);
        var learned = usual with { Touch = one };
        var from = touch.Count;
        if (move.Count >= Enough)
        {
            learned = learned with { Move = Math.Max(0, Median(move) - one) };
            from += move.Count;
        }

        if (clear.Count >= Enough)
        {
            learned = learned with { Clear = Math.Max(0, Median(clear) - one) };
            from += clear.Count;
        }

        return new(learned, from);
    }

    /// <summary>Where the figures come from, in words.</summary>
    public string InWords() => string.Create(
        CultureInfo.InvariantCulture,
        $"{Cost.Touch:0.0} s for a touch, {Cost.Move:0.0} s more into another connector: {(Readings > 0 ? $"your pace with this meter, from {Readings} readings" : "the usual pace, until there are enough readings of yours with this meter")}.");

    private static double Median(List<double> values)
    {
        values.Sort();
        return values.Count % 2 == 1 ? values[values.Count / 2] : (values[(values.Count / 2) - 1] + values[values.Count / 2]) / 2;
    }
}
