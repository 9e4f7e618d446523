namespace WiseLoom.Core.States;

/// <summary>What a voltage is, as a person would say it at a glance.</summary>
public enum ShownAs
{
    /// <summary>At least nine tenths of the supply.</summary>
    Supply,

    /// <summary>About the 5 V of a controller's reference.</summary>
    FiveVolts,

    /// <summary>As good as 0 V.</summary>
    Ground,

    /// <summary>Anything between.</summary>
    Between,

    /// <summary>No voltage at all: nothing leads to the battery.</summary>
    Floats,
}

/// <summary>Sorts voltages for a glance.</summary>
public static class Glance
{
    private const double GroundVolts = 0.3;

    private const double Five = 5, FiveTolerance = 0.3;

    /// <summary>The class of a point.</summary>
    /// <param name="supplyVolts">What the battery's positive pole has in this state; 0 without a battery.</param>
    public static ShownAs Of(PointState point, double supplyVolts) => point.Volts switch
    {
        null => ShownAs.Floats,
        { } v when Math.Abs(v) <= GroundVolts => ShownAs.Ground,
        { } v when supplyVolts > 0 && v >= 0.9 * supplyVolts => ShownAs.Supply,
        { } v when Math.Abs(v - Five) <= FiveTolerance => ShownAs.FiveVolts,
        _ => ShownAs.Between,
    };
}
