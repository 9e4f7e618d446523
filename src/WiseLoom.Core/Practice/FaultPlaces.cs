using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Practice;

/// <summary>Where on a loom a fault is, as a technician would point at it.</summary>
public static class FaultPlaces
{
    /// <summary>The places a fault touches: cavities such as <c>ECU:17</c>, wire ids, splice refs.</summary>
    /// <returns>Empty when the fault names nothing that this loom has.</returns>
    public static ImmutableHashSet<string> Of(Loom loom, Fault fault)
    {
        var places = ImmutableHashSet.CreateBuilder<string>(StringComparer.Ordinal);
        if (fault.Wire is { } id && loom.Wires.FirstOrDefault(w => w.Id == id) is { } wire)
        {
            places.Add(id);
            if (fault.End is null or "from")
            {
                places.Add(wire.From.Text);
            }

            if (fault.End is null or "to")
            {
                places.Add(wire.To.Text);
            }
        }

        if (fault.Connector is { } connector && loom.FindConnector(connector) is { } housing)
        {
            var cavities = fault.Kind == FaultKind.Mirrored ? housing.Family.Cavities : fault.Cavities ?? [];
            places.UnionWith(cavities.Concat(new[] { fault.From, fault.To }.OfType<string>()).Select(c => $"{connector}:{c}"));
        }

        places.UnionWith(new[] { fault.A, fault.B }.OfType<string>());
        return places.ToImmutable();
    }
}
