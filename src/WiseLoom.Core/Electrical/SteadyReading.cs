namespace WiseLoom.Core.Electrical;

/// <summary>Tells from a meter that is asked again and again when a hand holds still: the reading has left the last one, and has been steady for
/// a while within the meter's own noise.</summary>
/// <remarks>A meter shows over range both where nothing joins two places and where nothing touches them. So over range counts as the probe
/// being lifted, and is only taken as a reading where the instrument itself closes the way to both places.</remarks>
public sealed class SteadyReading
{
    private readonly Meter meter;
    private readonly TimeSpan steadyFor;
    private readonly bool touchIsSure;
    private readonly Reading? last;
    private bool isLeft;
    private TimeSpan since;
    private Reading? held;

    /// <summary>Waits for a reading.</summary>
    /// <param name="steadyFor">How long it must be steady.</param>
    /// <param name="last">What was taken last, until it is left; null when the probes come from nowhere.</param>
    /// <param name="touchIsSure">Whether the instrument closes the way to both places by itself: then nothing has to be left first.</param>
    public SteadyReading(Meter meter, TimeSpan steadyFor, Reading? last, bool touchIsSure)
    {
        ArgumentNullException.ThrowIfNull(meter);
        (this.meter, this.steadyFor, this.last, this.touchIsSure) = (meter, steadyFor, last, touchIsSure);
        isLeft = touchIsSure || last is null || last.Value.IsOverRange;
    }

    /// <summary>Takes one more look.</summary>
    /// <param name="at">When, since any moment; never earlier than the look before.</param>
    /// <returns>The reading when it has been steady for long enough; null while it has not.</returns>
    public Reading? Look(TimeSpan at, Reading shown)
    {
        isLeft |= !IsSame(shown, last);
        if (!isLeft || (shown.IsOverRange && !touchIsSure))
        {
            held = null;
            return null;
        }

        if (held is null || !IsSame(shown, held))
        {
            (held, since) = (shown, at);
        }

        return at - since >= steadyFor ? held : null;
    }

    /// <summary>Whether two values differ by no more than the meter's own noise: a touch each, and a step of the last digit.</summary>
    private bool IsSame(Reading one, Reading? other)
    {
        if (other is not { } two || one.IsOverRange || two.IsOverRange)
        {
            return other is { IsOverRange: true } && one.IsOverRange;
        }

        var range = meter.RangeFor(one.Ohms!.Value);
        var noise = (2 * meter.TouchOhms) + range.ResolutionOhms + (range.Percent / 100 * Math.Abs(one.Ohms.Value));
        return Math.Abs(one.Ohms.Value - two.Ohms!.Value) <= noise;
    }
}
