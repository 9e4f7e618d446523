using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>How many wires run together in each branch of the trunk tree.</summary>
internal sealed class Bundles
{
    private readonly Loom loom;
    private readonly Dictionary<string, Branch> branches;
    private readonly Dictionary<string, int> count = new(StringComparer.Ordinal);

    internal Bundles(Loom loom)
    {
        this.loom = loom;
        branches = loom.Branches.ToDictionary(b => b.Id, StringComparer.Ordinal);
        foreach (var wire in loom.Wires)
        {
            foreach (var branch in Way(wire))
            {
                count[branch] = count.GetValueOrDefault(branch) + 1;
            }
        }
    }

    /// <summary>Wires in the fullest branch that a wire runs through, itself among them; 1 when the file gives no places.</summary>
    internal int Around(Wire wire) => Way(wire).Select(b => count.GetValueOrDefault(b)).DefaultIfEmpty(1).Max();

    private HashSet<string> Way(Wire wire)
    {
        var (from, to) = (Up(BranchOf(wire.From)), Up(BranchOf(wire.To)));
        // What both have above them is the trunk they share; of it only the branch where they meet is run through.
        var shared = from.Intersect(to, StringComparer.Ordinal).ToList();
        var way = from.Concat(to).Except(shared.Skip(1), StringComparer.Ordinal);
        return way.ToHashSet(StringComparer.Ordinal);
    }

    private string? BranchOf(WireEnd end) => end.IsSplice ? loom.Splice(end.Text).Branch : loom.FindConnector(end.Point.Connector)?.Branch;

    private List<string> Up(string? branch)
    {
        var way = new List<string>();
        while (branch is not null && branches.TryGetValue(branch, out var at) && !way.Contains(branch))
        {
            way.Add(branch);
            branch = at.Parent;
        }

        return way;
    }
}
