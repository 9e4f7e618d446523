using System.Collections.Immutable;

namespace WiseLoom.Core.Looms;

/// <summary>Where a connector stands on the loom.</summary>
/// <param name="TrunkMm">Where its branch leaves the trunk, millimetres from the trunk's start.</param>
/// <param name="OffTrunkMm">How far it is from the trunk along its branches, millimetres; 0 on the trunk itself.</param>
/// <param name="Through">Branches from the trunk outwards to it, the trunk not counted.</param>
public sealed record PlaceOnLoom(double TrunkMm, double OffTrunkMm, ImmutableArray<string> Through);

/// <summary>The branch tree with distances along it.</summary>
public sealed class TrunkTree
{
    private readonly Dictionary<string, Branch> branches;
    private readonly Loom loom;

    /// <summary>Reads the branches of a loom, whose ids differ.</summary>
    public TrunkTree(Loom loom)
    {
        this.loom = loom;
        branches = loom.Branches.ToDictionary(b => b.Id, StringComparer.Ordinal);
        Trunk = loom.Branches.FirstOrDefault(b => b.Parent is null);
    }

    /// <summary>The branch without a parent; null when the file gives no geometry.</summary>
    public Branch? Trunk { get; }

    /// <summary>Length of the trunk, millimetres; 0 without geometry.</summary>
    public double LengthMm => Trunk?.LengthMm ?? 0;

    /// <summary>Finds a place; without a branch it is the trunk's start.</summary>
    public PlaceOnLoom Place(string? branch, double atMm)
    {
        var through = ImmutableArray.CreateBuilder<string>();
        var (trunkMm, off) = (0.0, 0.0);
        for (var (id, at) = (branch, atMm); id is not null && branches.TryGetValue(id, out var stretch); (id, at) = (stretch.Parent, stretch.AtMm))
        {
            if (stretch.Parent is null)
            {
                trunkMm = at;
            }
            else
            {
                off += at;
                through.Insert(0, id);
            }
        }

        return new(trunkMm, off, through.ToImmutable());
    }

    /// <summary>Where a connector leaves.</summary>
    public PlaceOnLoom Place(Connector connector) => Place(connector.Branch, connector.AtMm);

    /// <summary>Connectors in the order in which one meets them, walking from the controller outwards.</summary>
    /// <returns>All connectors; those with the engine controller first, then by how far along the trunk their branch leaves,
    /// a branch walked to its end before the next.</returns>
    public ImmutableArray<Connector> WalkingOrder()
    {
        var controller = ControllerConnectors();
        var places = loom.Connectors.ToDictionary(c => c.Ref, Place, StringComparer.Ordinal);
        var start = controller.Count > 0 ? places[loom.Connectors.First(c => controller.Contains(c.Ref)).Ref].TrunkMm : 0;
        return
        [
            .. loom.Connectors
                .OrderBy(c => controller.Contains(c.Ref) ? 0 : 1)
                .ThenBy(c => Math.Abs(places[c.Ref].TrunkMm - start))
                .ThenBy(c => string.Join('/', places[c.Ref].Through.Take(1)), StringComparer.Ordinal)
                .ThenBy(c => places[c.Ref].OffTrunkMm)
                .ThenBy(c => c.Ref, NaturalOrder.Comparer),
        ];
    }

    /// <summary>Refs of the connectors that a controller plugs into.</summary>
    public HashSet<string> ControllerConnectors() =>
        [.. loom.Devices.Where(d => d.Kind == "controller").SelectMany(d => d.Pins.Values).Select(p => p.Connector)];
}
