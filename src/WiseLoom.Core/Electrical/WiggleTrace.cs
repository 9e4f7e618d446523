namespace WiseLoom.Core.Electrical;

/// <summary>What was seen while a loom was flexed: least and greatest value, how often the pair was not what it must be, and how short a break this meter could have seen.</summary>
public sealed class WiggleTrace
{
    private readonly Func<Reading, Verdict> judge;
    private TimeSpan? last;
    private TimeSpan? brokenSince;
    private TimeSpan widest;

    /// <summary>Begins a trace.</summary>
    /// <param name="judge">The verdict of the step on one reading: a break is a stretch of samples that fail, an open where metal must join, metal where none may.</param>
    public WiggleTrace(Func<Reading, Verdict> judge)
    {
        ArgumentNullException.ThrowIfNull(judge);
        this.judge = judge;
    }

    /// <summary>The smallest value, ohms; null while every sample was over range.</summary>
    public double? MinOhms { get; private set; }

    /// <summary>The greatest value, ohms; over range when any sample was; null before the first sample.</summary>
    public Reading? Max { get; private set; }

    /// <summary>How often the pair became what it must not be; a break at the very beginning counts.</summary>
    public int Breaks { get; private set; }

    /// <summary>How long the shortest break was that ended, as far as samples tell: from its first to the first good one after; null before one ended.</summary>
    public TimeSpan? ShortestBreak { get; private set; }

    /// <summary>A break of this length cannot have been missed: the widest gap between two samples. Zero before the second sample.</summary>
    public TimeSpan Sees => widest;

    /// <summary>How many samples there are.</summary>
    public int Samples { get; private set; }

    /// <summary>Whether the last sample was a break.</summary>
    public bool IsBroken => brokenSince is not null;

    /// <summary>Takes a sample.</summary>
    /// <param name="at">Since the beginning; never earlier than the sample before.</param>
    public void Take(TimeSpan at, Reading reading)
    {
        Samples++;
        if (last is { } before && at - before > widest)
        {
            widest = at - before;
        }

        last = at;
        MinOhms = reading.Ohms is { } ohms && !(MinOhms <= ohms) ? ohms : MinOhms;
        Max = Max is { } max && (max.IsOverRange || (!reading.IsOverRange && max.Ohms >= reading.Ohms)) ? max : reading;
        var broken = judge(reading) == Verdict.Fail;
        if (broken && brokenSince is null)
        {
            brokenSince = at;
            Breaks++;
        }
        else if (!broken && brokenSince is { } since)
        {
            ShortestBreak = ShortestBreak is { } shortest && shortest <= at - since ? shortest : at - since;
            brokenSince = null;
        }
    }
}
