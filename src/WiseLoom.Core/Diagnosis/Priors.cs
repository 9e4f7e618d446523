namespace WiseLoom.Core.Diagnosis;

/// <summary>How likely each kind of fault is before anything is read, as shares of all faults; a shop's own log moves them.</summary>
/// <param name="Nothing">That nothing is wrong.</param>
/// <param name="Second">That a loom with one fault has another.</param>
internal sealed record Priors(double Nothing, double Second, double Open, double Resistive, double Short, double Swap, double Misplaced, double Shift, double Mirrored, double Intermittent)
{
    internal static Priors Usual { get; } = new(0.7, 0.3, 0.24, 0.18, 0.18, 0.16, 0.08, 0.06, 0.03, 0.07);
}
