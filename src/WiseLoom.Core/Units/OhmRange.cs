namespace WiseLoom.Core.Units;

/// <summary>A resistance that is expected to lie between two limits.</summary>
/// <param name="Min">Smallest value, ohms; 0 or more.</param>
/// <param name="Nominal">Value of a part exactly as drawn, ohms.</param>
/// <param name="Max">Largest value, ohms; infinite for "apart".</param>
public readonly record struct OhmRange(double Min, double Nominal, double Max)
{
    /// <summary>A range without width.</summary>
    public static OhmRange Exactly(double ohms) => new(ohms, ohms, ohms);

    /// <summary>Two parts in series: each limit adds.</summary>
    public static OhmRange operator +(OhmRange left, OhmRange right) =>
        new(left.Min + right.Min, left.Nominal + right.Nominal, left.Max + right.Max);

    /// <summary>Two parts in series: each limit adds.</summary>
    public static OhmRange Add(OhmRange left, OhmRange right) => left + right;

    /// <summary>The same range with every limit multiplied by <paramref name="factor"/> (0 or more).</summary>
    public OhmRange Scaled(double factor) => new(Min * factor, Nominal * factor, Max * factor);

    /// <summary>The value at one corner of the tolerance box.</summary>
    public double At(Corner corner) => corner switch
    {
        Corner.Min => Min,
        Corner.Nominal => Nominal,
        _ => Max,
    };
}

/// <summary>Which corner of all tolerances at once: every part at its least, as drawn, or at its most.</summary>
public enum Corner
{
    /// <summary>Every part at its smallest resistance.</summary>
    Min,

    /// <summary>Every part as drawn.</summary>
    Nominal,

    /// <summary>Every part at its largest resistance.</summary>
    Max,
}
