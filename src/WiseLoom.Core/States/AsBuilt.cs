using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>Metal between two places of a loom as it came off the board.</summary>
/// <param name="From">A cavity, a splice, or a place along a wire.</param>
/// <param name="Ohm">0 for an ideal joint.</param>
/// <param name="Label">Id of the wire that it is a part of, or a name for what is not drawn.</param>
public sealed record Conductor(string From, string To, double Ohm, string Label);

/// <summary>A loom as it came off the board and as it is fitted: what conducts in it, and what is plugged in.</summary>
/// <param name="Drawn">The drawing of its wires; its devices are those that are really there.</param>
/// <param name="Conductors">All that conducts; a wire without one is open.</param>
public sealed record AsBuilt(Loom Drawn, ImmutableArray<Conductor> Conductors)
{
    /// <summary>As drawn, at nominal values.</summary>
    /// <param name="ambientC">Temperature of the copper, degrees Celsius.</param>
    public static AsBuilt AsDrawn(Loom loom, double ambientC)
    {
        ArgumentNullException.ThrowIfNull(loom);
        return new(loom, [.. loom.Wires.Select(w => new Conductor(w.From.Text, w.To.Text, WireGraph.EndToEnd(loom, w, ambientC, CopperTolerance.Usual).Nominal, w.Id))]);
    }

    /// <summary>The same without a device.</summary>
    internal AsBuilt Without(string device) => this with { Drawn = Drawn with { Devices = [.. Drawn.Devices.Where(d => d.Ref != device)] } };
}
