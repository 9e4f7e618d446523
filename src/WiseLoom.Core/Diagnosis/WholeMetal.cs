using WiseLoom.Core.Circuits;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Metal that is solved as a whole: pieces with many loops, or joined by the fixture.</summary>
internal sealed class WholeMetal : ISolvedMetal
{
    private readonly Dictionary<int, int> localOf = [];
    private readonly (int Place, int From, int To, double Ohms)[] parts;
    private readonly NetSolution solution;

    /// <param name="parts">Places of parts in the metal; −1 for the fixture's.</param>
    internal WholeMetal(IEnumerable<(int Place, int From, int To, double Ohms)> parts)
    {
        this.parts = [.. parts.Select(p => p with { From = Local(p.From), To = Local(p.To) })];
        solution = NetSolution.Of(Math.Max(1, localOf.Count), [.. this.parts.Select(p => (p.From, p.To, p.Ohms))]);

        int Local(int node)
        {
            if (!localOf.TryGetValue(node, out var local))
            {
                localOf.Add(node, local = localOf.Count);
            }

            return local;
        }
    }

    public double Ohms(int a, int b) => a == b ? 0 : solution.Ohms(localOf[a], localOf[b]);

    public Flow Between(int a, int b)
    {
        if (a == b)
        {
            return Flow.Nowhere;
        }

        var (i, j) = (localOf[a], localOf[b]);
        double Volts((int Place, int From, int To, double Ohms) part) => solution.Transfer(part.From, i) - solution.Transfer(part.To, i) - solution.Transfer(part.From, j) + solution.Transfer(part.To, j);
        var whole = solution.Ohms(i, j);
        return new(whole, [.. parts.Where(p => p.Place >= 0 && p.Ohms > 0).Select(p => (p.Place, Volts(p) / p.Ohms))], (place, added) =>
        {
            // By Sherman and Morrison (1950), as in Loops.
            if (Array.Find(parts, p => p.Place == place) is not { Ohms: > 0 } part)
            {
                return whole;
            }

            var (change, volts) = ((1 / Math.Max(1e-9, part.Ohms + added)) - (1 / part.Ohms), Volts(part));
            return whole - (change * volts * volts / (1 + (change * solution.Ohms(part.From, part.To))));
        });
    }
}
