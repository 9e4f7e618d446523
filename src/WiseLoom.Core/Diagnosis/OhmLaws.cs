namespace WiseLoom.Core.Diagnosis;

/// <summary>How likely a poor joint or a bridge of a size is before it is measured: densities per ohm.</summary>
internal static class OhmLaws
{
    /// <summary>A poor joint: any size alike on a logarithmic scale from 20 mΩ to 10 kΩ.</summary>
    internal static double PoorJoint(double ohm) => 1 / (Math.Max(ohm, 0.02) * Math.Log(10_000 / 0.02));

    /// <summary>A bridge: mostly bare metal, else any size.</summary>
    internal static double Bridge(double ohm) => (0.7 * Math.Exp(-ohm / 0.4) / 0.4) + (0.3 / (Math.Max(ohm, 0.01) * Math.Log(1e6 / 0.01)));
}
