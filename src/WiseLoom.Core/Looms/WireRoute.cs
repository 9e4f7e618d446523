namespace WiseLoom.Core.Looms;

/// <summary>Where on a loom a place along a wire lies: by the branches between its two ends, stretched to its own length.</summary>
public sealed class WireRoute
{
    private readonly Loom loom;
    private readonly Dictionary<string, (string Branch, double AtMm)> places;
    private readonly Dictionary<string, Branch> branches;

    /// <summary>For the branches of a loom.</summary>
    public WireRoute(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        this.loom = loom;
        branches = loom.Branches.ToDictionary(b => b.Id, StringComparer.Ordinal);
        places = loom.Connectors.Where(c => c.Branch is not null).Select(c => (c.Ref, c.Branch!, c.AtMm))
            .Concat(loom.Splices.Where(s => s.Branch is not null).Select(s => (s.Ref, s.Branch!, s.AtMm)))
            .ToDictionary(x => x.Ref, x => (x.Item2, x.AtMm), StringComparer.Ordinal);
    }

    /// <summary>What is nearest to a place along a wire: a landmark, a splice, or where a branch leaves, with the way to it.</summary>
    /// <param name="mm">From the wire's <c>from</c> end, along it; 0 to its length.</param>
    /// <returns>Such as <c>60 mm from the grommet bulkhead</c>; null where the loom has no branches, or nothing is on the way.</returns>
    public string? Near(Wire wire, double mm)
    {
        ArgumentNullException.ThrowIfNull(wire);
        if (!places.TryGetValue(End(wire.From), out var from) || !places.TryGetValue(End(wire.To), out var to) || wire.LengthMm <= 0)
        {
            return null;
        }

        var way = Way(from, to);
        var whole = way.Sum(w => Math.Abs(w.To - w.From));
        var left = Math.Clamp(mm / wire.LengthMm, 0, 1) * whole;
        foreach (var (branch, start, end) in way)
        {
            var here = Math.Abs(end - start);
            if (left <= here || (branch, start, end) == way[^1])
            {
                return Nearest(branch, start < end ? start + left : start - left);
            }

            left -= here;
        }

        return null;
    }

    private static string End(WireEnd end) => end.IsSplice ? end.Text : end.Point.Connector;

    /// <summary>Stretches of branches, each with where it is entered and left, millimetres from the branch's start.</summary>
    private List<(string Branch, double From, double To)> Way((string Branch, double AtMm) from, (string Branch, double AtMm) to)
    {
        var (down, up) = (Rise(from), Rise(to));
        var meet = down.FirstOrDefault(d => up.Exists(u => u.Branch == d.Branch)).Branch ?? down[^1].Branch;
        var way = down.TakeWhile(d => d.Branch != meet).Select(d => (d.Branch, d.AtMm, 0.0)).ToList();
        way.Add((meet, down.Find(d => d.Branch == meet).AtMm, up.Find(u => u.Branch == meet).AtMm));
        way.AddRange(up.TakeWhile(u => u.Branch != meet).Reverse().Select(u => (u.Branch, 0.0, u.AtMm)));
        return way;
    }

    /// <summary>A place, and where its branch and that one's parents leave theirs, up to the trunk.</summary>
    private List<(string Branch, double AtMm)> Rise((string Branch, double AtMm) place)
    {
        var rise = new List<(string, double)> { place };
        for (var at = branches.GetValueOrDefault(place.Branch); at?.Parent is { } parent && rise.Count <= branches.Count; at = branches.GetValueOrDefault(parent))
        {
            rise.Add((parent, at.AtMm));
        }

        return rise;
    }

    private string? Nearest(string branch, double at)
    {
        var marks = loom.Landmarks.Where(m => m.Branch == branch).Select(m => (Name: $"the {m.Kind} {m.Id}", m.AtMm))
            .Concat(loom.Splices.Where(s => s.Branch == branch).Select(s => (Name: $"splice {s.Ref}", s.AtMm)))
            .Concat(loom.Branches.Where(b => b.Parent == branch).Select(b => (Name: $"where {b.Id} leaves", b.AtMm)))
            .ToList();
        if (marks.Count == 0)
        {
            return null;
        }

        var (name, mark) = marks.MinBy(m => Math.Abs(m.AtMm - at));
        return FormattableString.Invariant($"{Math.Abs(mark - at):0} mm from {name}");
    }
}
