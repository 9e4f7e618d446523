using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning;

/// <summary>What the hands need for each part of a step, seconds. These are the trade's usual figures until the shop's own readings say better.</summary>
/// <param name="Touch">A probe that changes its point.</param>
/// <param name="Move">More for that probe when the new point is in another connector.</param>
/// <param name="Clear">More for each step against the shorting plug: the net under test is taken out of it.</param>
/// <param name="Refit">Each time that devices, a load or a fixture are put on or taken off.</param>
public sealed record TouchCost(double Touch = 2.5, double Move = 8, double Clear = 5, double Refit = 20)
{
    /// <summary>The usual figures.</summary>
    public static TouchCost Usual { get; } = new();

    /// <summary>Seconds from one touch to the next.</summary>
    /// <param name="from">Where the probes stand; null before the first step, which pays for both.</param>
    /// <param name="to">Where they go; a null red is the shorting plug, which counts as one more connector.</param>
    /// <returns>A probe that stays costs nothing; which of them is black does not matter, the cheaper way round is taken. What a step against
    /// the plug costs besides (<see cref="Clear"/>) is in it; a refit is not.</returns>
    public double Between(ProbePair? from, ProbePair to)
    {
        var clear = to.Red is null ? Clear : 0;
        if (from is not { } stand)
        {
            return (2 * (Touch + Move)) + clear;
        }

        return clear + Math.Min(Go(stand.Black, to.Black) + Go(stand.Red, to.Red), Go(stand.Black, to.Red) + Go(stand.Red, to.Black));
    }

    /// <summary>Seconds for one probe.</summary>
    private double Go(ProbePoint? from, ProbePoint? to) => from == to ? 0 : Touch + (from?.Connector == to?.Connector ? 0 : Move);
}

/// <summary>Where the two probes stand.</summary>
/// <param name="Black">A point; null for the shorting plug.</param>
/// <param name="Red">A point; null for the shorting plug.</param>
public readonly record struct ProbePair(ProbePoint? Black, ProbePoint? Red)
{
    /// <summary>The same two places with the probes exchanged.</summary>
    internal ProbePair Turned => new(Red, Black);

    /// <summary>Whether both are the same places, whichever probe is on which.</summary>
    public bool IsAt(ProbePair other) => this == other || Turned == other;

    /// <summary>How well each probe keeps its place, coming from another pair: 2 for one that stays, 1 for one that stays in its connector.</summary>
    internal int Keeps(ProbePair from) =>
        (from.Black == Black ? 2 : from.Black?.Connector == Black?.Connector ? 1 : 0) + (from.Red == Red ? 2 : from.Red?.Connector == Red?.Connector ? 1 : 0);

    /// <summary>Which of its two places are new to the probes.</summary>
    /// <param name="from">Where they stood before; null for nowhere.</param>
    public Moving Moving(ProbePair? from)
    {
        bool IsNew(ProbePoint? place) => from is not { } stand || (stand.Black != place && stand.Red != place);
        return (IsNew(Black), IsNew(Red)) switch
        {
            (true, true) => Planning.Moving.Both,
            (true, false) => Planning.Moving.Black,
            (false, true) => Planning.Moving.Red,
            _ => Planning.Moving.None,
        };
    }
}

/// <summary>Which probes go to another place for a step.</summary>
public enum Moving
{
    /// <summary>Neither: only the test is another.</summary>
    None,

    /// <summary>The black one; the red one stays.</summary>
    Black,

    /// <summary>The red one; the black one stays.</summary>
    Red,

    /// <summary>Both.</summary>
    Both,
}

/// <summary>Words for <see cref="Moving"/>.</summary>
public static class MovingWords
{
    /// <summary>As the terminal writes it: the name of the place that is new, <c>both</c> or <c>none</c>.</summary>
    public static string Word(this Moving moving) => moving switch { Moving.Black => "a", Moving.Red => "b", Moving.Both => "both", _ => "none" };
}
