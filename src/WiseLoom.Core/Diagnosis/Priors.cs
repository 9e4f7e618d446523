using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>How likely each kind of fault is before anything is read, as shares of all faults.</summary>
/// <param name="Nothing">That nothing is wrong.</param>
/// <param name="Second">That a loom with one fault has another.</param>
/// <param name="Device">Of faults that show only with everything plugged in, the share of devices.</param>
internal sealed record Priors(double Nothing, double Second, double Open, double Resistive, double Short, double Swap, double Misplaced, double Shift, double Mirrored, double Intermittent, double Device)
{
    /// <summary>What the logarithm of a fault by itself is moved by where it is the second.</summary>
    internal double LogSecond => Math.Log(Second / (1 - Nothing));

    /// <summary>What is taken before the log says anything weighs as much as so many faults of the log.</summary>
    private const double Weight = 60;

    internal static Priors Usual { get; } = new(0.7, 0.3, 0.24, 0.18, 0.18, 0.16, 0.08, 0.06, 0.03, 0.07, 0.3);

    /// <summary>The usual shares, moved by what the shop has found (the mean of a Dirichlet law).</summary>
    internal static Priors Learned(FaultTally log)
    {
        var all = log.Of("open", "missing", "resistive", "short", "swap", "misplaced", "shift", "mirrored", "intermittent");
        double Share(double usual, int found) => ((Weight * usual) + found) / (Weight + all);
        return Usual with
        {
            Open = Share(Usual.Open, log.Of("open", "missing")),
            Resistive = Share(Usual.Resistive, log.Of("resistive")),
            Short = Share(Usual.Short, log.Of("short")),
            Swap = Share(Usual.Swap, log.Of("swap")),
            Misplaced = Share(Usual.Misplaced, log.Of("misplaced")),
            Shift = Share(Usual.Shift, log.Of("shift")),
            Mirrored = Share(Usual.Mirrored, log.Of("mirrored")),
            Intermittent = Share(Usual.Intermittent, log.Of("intermittent")),
            Device = ((Weight * Usual.Device) + log.Of("device")) / (Weight + all + log.Of("device")),
        };
    }
}
