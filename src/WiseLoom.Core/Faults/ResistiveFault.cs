using System.Globalization;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A wire has too much resistance.</summary>
/// <param name="Ohm">What is added, ohms; 0 or more.</param>
/// <inheritdoc cref="WireFault"/>
public sealed record ResistiveFault(string Wire, double Ohm, string? End = null) : WireFault(Wire, End)
{
    /// <inheritdoc/>
    public override string Title(Loom loom) => $"Too much resistance in {Named(loom)}";

    /// <inheritdoc/>
    public override string Why(Loom loom) =>
        string.Create(CultureInfo.InvariantCulture, $"a poor joint of about {Ohm:0.###} Ω in {Named(loom)} would read exactly so. Look at the crimps at both ends.");

    /// <inheritdoc/>
    public override string WhyLive(Loom loom) =>
        string.Create(CultureInfo.InvariantCulture, $"a poor joint of some {Say.Ohms(Ohm)} in {Named(loom)} passes the little that a meter draws and not what a load needs: a voltage without a load proves nothing there. Look at the crimps at both ends.");

    private protected override void Change(BuiltWire wire)
    {
        if (End == "from")
        {
            wire.AddedFirst += Ohm;
        }
        else
        {
            wire.AddedLast += Ohm;
        }
    }
}
