using System.Globalization;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Electrical;

/// <summary>Up to which size a loom is worked with while somebody waits. Larger ones are kept, shown and compared all the same.</summary>
public static class WorkLimit
{
    /// <summary>Nodes that one net joins, by metal or by devices: its table of resistances holds half their square.</summary>
    public const int MostInNet = 4000;

    /// <summary>Wires of a loom whose voltages and currents are worked out.</summary>
    public const int MostPowered = 12_000;

    /// <summary>Wires of a loom whose cable, fuses and one-end test are worked out, in all key positions.</summary>
    public const int MostChecked = 6000;

    /// <summary>Why a loom is too large for something; null when it is not.</summary>
    /// <param name="most">The wires up to which it is done.</param>
    public static string? TooManyWires(Loom loom, int most)
    {
        ArgumentNullException.ThrowIfNull(loom);
        return loom.Wires.Length <= most ? null : string.Create(CultureInfo.InvariantCulture, $"This loom has {loom.Wires.Length:#,0} wires; this is worked out for looms of up to {most:#,0}.");
    }

    /// <summary>Why nets are too large to be tabled; null when they are not.</summary>
    /// <param name="joined">What joins them, in words.</param>
    public static string? TooLargeNet(IEnumerable<Net> nets, string joined) => nets.FirstOrDefault(n => n.Nodes.Length > MostInNet) is not { } net
        ? null
        : string.Create(CultureInfo.InvariantCulture, $"{joined} {net.Nodes.Length:#,0} places of this loom into one net, {net.Points.FirstOrDefault()} among them; nets are measured and worked out up to {MostInNet:#,0}.");
}
