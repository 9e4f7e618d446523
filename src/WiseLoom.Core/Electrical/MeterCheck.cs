using System.Collections.Immutable;

namespace WiseLoom.Core.Electrical;

/// <summary>What a meter is asked to show that it still tells the truth.</summary>
public enum CheckKind
{
    /// <summary>Both probes on one piece of metal: nothing but the leads is read.</summary>
    LeadZero,

    /// <summary>Both probes in the air: beyond the highest range.</summary>
    Range,

    /// <summary>Both probes on a link whose value the shop knows.</summary>
    KnownLink,
}

/// <summary>One check of a meter: what is done, what it must show, and whether it did.</summary>
/// <param name="Kind">Which.</param>
/// <param name="LinkOhms">Value of the shop's known link, ohms; only <see cref="CheckKind.KnownLink"/> looks at it.</param>
public readonly record struct MeterCheck(CheckKind Kind, double LinkOhms)
{
    /// <summary>All kinds in the order in which they are done.</summary>
    public static ImmutableArray<CheckKind> All { get; } = [CheckKind.LeadZero, CheckKind.Range, CheckKind.KnownLink];

    /// <summary>Its name.</summary>
    public string Title => Kind switch
    {
        CheckKind.LeadZero => "Lead zero",
        CheckKind.Range => "Range",
        _ => "Known link",
    };

    /// <summary>What hands do.</summary>
    public string Do => Kind switch
    {
        CheckKind.LeadZero => "Press both probes onto one bare piece of metal, side by side, and hold. Null the leads first if the meter can.",
        CheckKind.Range => "Hold both probes in the air, touching nothing, not even a hand.",
        _ => $"Put both probes across the shop’s known link of {Say.Ohms(LinkOhms)}.",
    };

    /// <summary>Whether a meter that shows this is right, as far as this check can tell: within its own uncertainty of the truth.</summary>
    /// <param name="shown">What it showed, ohms; over range where it showed no value.</param>
    public bool Passes(Reading shown, Meter meter)
    {
        ArgumentNullException.ThrowIfNull(meter);
        return Kind == CheckKind.Range
            ? shown.IsOverRange || shown.Ohms >= meter.UpToOhms
            : shown.Ohms is { } ohms && Math.Abs(ohms - Truth) <= Slack(meter);
    }

    /// <summary>What it must show, in words.</summary>
    public string Must(Meter meter)
    {
        ArgumentNullException.ThrowIfNull(meter);
        return Kind switch
        {
            CheckKind.LeadZero => $"at most {Say.Ohms(Slack(meter))}",
            CheckKind.Range => "over range",
            _ => $"{Say.Ohms(Truth)} ± {Say.Ohms(Slack(meter))}",
        };
    }

    private double Truth => Kind == CheckKind.KnownLink ? LinkOhms : 0;

    // The uncertainty at the truth, as it is worst within itself: a reading at the very edge is still the meter's own.
    private double Slack(Meter meter) => meter.Uncertainty(Truth) * (1 + 1e-9);
}
