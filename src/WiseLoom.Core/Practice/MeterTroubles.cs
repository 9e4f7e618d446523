namespace WiseLoom.Core.Practice;

/// <summary>What goes wrong on the line to a stand-in, when it is told to.</summary>
public enum LineTrouble
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>It hangs up instead of answering.</summary>
    Drop,

    /// <summary>It answers with nonsense.</summary>
    Garbage,

    /// <summary>It answers too late for anybody to wait for.</summary>
    Late,
}

/// <summary>How far a stand-in is from a perfect meter, besides its own stated error.</summary>
/// <param name="LeadOhms">What its leads add to a reading with two wires, ohms; 0 to 10.</param>
/// <param name="SettleSeconds">How long a reading takes to come within a hundredth of its end after the probes have moved; 0 to 10.</param>
/// <param name="DriftPercent">How much too much it shows by now, percent; −50 to 50.</param>
/// <param name="DriftPerHundred">How much that grows with each hundred readings, percent; −50 to 50.</param>
public sealed record MeterHabits(double LeadOhms, double SettleSeconds, double DriftPercent, double DriftPerHundred)
{
    /// <summary>None.</summary>
    public static MeterHabits None { get; } = new(0, 0, 0, 0);

    /// <summary>Whether each figure lies in its range.</summary>
    public bool ArePossible => LeadOhms is >= 0 and <= 10 && SettleSeconds is >= 0 and <= 10 && Math.Abs(DriftPercent) <= 50 && Math.Abs(DriftPerHundred) <= 50;

    /// <summary>What it shows for what there is.</summary>
    /// <param name="ohms">What a perfect meter of its kind shows.</param>
    /// <param name="fourWire">Whether the leads drop out.</param>
    /// <param name="readings">How many it has taken before.</param>
    /// <param name="held">How long the probes have not moved.</param>
    /// <remarks>A reading comes to its end by an exponential from twice its value: 1 + 0.01^(t/T).</remarks>
    public double Shown(double ohms, bool fourWire, long readings, TimeSpan held)
    {
        var drifted = (ohms + (fourWire ? 0 : LeadOhms)) * (1 + ((DriftPercent + (DriftPerHundred * readings / 100)) / 100));
        return SettleSeconds == 0 ? drifted : drifted * (1 + Math.Pow(0.01, held.TotalSeconds / SettleSeconds));
    }
}
