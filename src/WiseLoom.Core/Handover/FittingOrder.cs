using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Handover;

/// <summary>In which order a loom goes in: what has to pass through a hole before its plug finds a place, ground before supply, the battery last; what the shop knows besides stands among it.</summary>
internal static class FittingOrder
{
    /// <summary>So many plugs are named one by one.</summary>
    private const int MostNamed = 14;

    internal static ImmutableArray<string> Of(Loom loom)
    {
        var tree = new TrunkTree(loom);
        var walk = tree.WalkingOrder();
        var places = walk.ToDictionary(c => c.Ref, tree.Place, StringComparer.Ordinal);
        var start = walk.Where(c => tree.ControllerConnectors().Contains(c.Ref)).Select(c => places[c.Ref].TrunkMm).FirstOrDefault();
        var lines = ImmutableArray.CreateBuilder<string>();
        lines.Add(Words.Text("Battery off. Lay the loom out beside the machine and find the two ends of its trunk."));
        lines.AddRange(loom.Fitting.Where(f => f.Branch is null).Select(f => f.Do));
        foreach (var hole in loom.Landmarks.Where(l => l.Kind is "grommet" or "bulkhead" && l.Branch == tree.Trunk?.Id).OrderBy(l => l.AtMm))
        {
            // The side that the controller does not lie on goes through.
            var beyond = walk.Where(c => (places[c.Ref].TrunkMm > hole.AtMm) == (start <= hole.AtMm) && places[c.Ref].TrunkMm != hole.AtMm).OrderByDescending(c => c.Family.Cavities.Length).ToList();
            if (beyond.Count > 0)
            {
                lines.Add(Words.Of($"Lead through the hole ‘{hole.Id}’, before any plug is pushed on, all that lies beyond it: {beyond.Count} ends, the largest first ({string.Join(", ", beyond.Take(3).Select(c => c.Ref))})."));
            }
        }

        foreach (var step in loom.Fitting.Where(f => f.Branch is not null))
        {
            lines.Add(Words.Of($"On the branch ‘{step.Branch}’: {step.Do}"));
        }

        var rings = walk.Where(c => c.Family.Kind == HousingKind.Ring).ToLookup(c => loom.WiresAt(new(c.Ref, c.Family.Cavities[0])).All(w => w.Role != WireRole.Feed));
        Add(lines, rings[true], names => Words.Of($"Bolt the ground rings to bare metal: {names}."));
        Add(lines, walk.Where(c => c.Family.Kind is HousingKind.Housing or HousingKind.Inline && !tree.ControllerConnectors().Contains(c.Ref)), names => Words.Of($"Push the plugs on in the order of the walk: {names}. Each has to latch."));
        Add(lines, walk.Where(c => c.Family.Kind == HousingKind.Tail), names => Words.Of($"Join the tails, or close each off on its own: {names}. No bare end may touch metal or another."));
        Add(lines, walk.Where(c => tree.ControllerConnectors().Contains(c.Ref)), names => Words.Of($"Controller last of the plugs: {names}."));
        Add(lines, rings[false], names => Words.Of($"Supply last of all: {names}. The battery stays off until the first start says so."));
        return lines.ToImmutable();
    }

    private static void Add(ImmutableArray<string>.Builder lines, IEnumerable<Connector> some, Func<string, string> line)
    {
        var all = some.Select(c => c.Ref).ToList();
        if (all.Count > 0)
        {
            lines.Add(line(all.Count <= MostNamed ? string.Join(", ", all) : Words.Of($"{string.Join(", ", all.Take(MostNamed))} and {all.Count - MostNamed} more")));
        }
    }
}
