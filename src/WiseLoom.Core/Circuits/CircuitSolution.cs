namespace WiseLoom.Core.Circuits;

/// <summary>What a circuit does for one set of values.</summary>
/// <param name="Volts">By node.</param>
/// <param name="Amps">By branch, from its first node to its second; empty when currents were not asked for.</param>
/// <param name="JunctionAmps">By diode, from anode to cathode; empty when currents were not asked for.</param>
/// <param name="Conflict">A branch whose ideal voltage contradicts others; −1 when none does.</param>
/// <param name="Settled">Whether the diodes agree with the voltages.</param>
internal sealed record CircuitSolution(double[] Volts, double[] Amps, double[] JunctionAmps, int Conflict, bool Settled)
{
    internal static CircuitSolution Impossible(int conflict) => new([], [], [], conflict, false);

    /// <summary>Whether there is a state at all.</summary>
    internal bool Holds => Conflict < 0 && Settled;
}
