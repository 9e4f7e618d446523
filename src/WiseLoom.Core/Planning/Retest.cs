using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning;

/// <summary>What a fix could have changed, and so must be measured again.</summary>
public static class Retest
{
    /// <summary>Steps that a fix at some places touches.</summary>
    /// <param name="places">Cavities such as <c>ECU:17</c>, wire ids and splice refs that hands were on.</param>
    /// <param name="failing">Numbers of the steps that showed the fault; always part of the answer.</param>
    /// <returns>Numbers, rising: every step of the nets touched that asks for metal, and every isolation step of those nets between cavities
    /// that were touched or stand beside one that was.</returns>
    public static ImmutableArray<int> Of(Loom loom, TestPlan plan, IReadOnlyCollection<string> places, IEnumerable<int> failing)
    {
        var graph = WireGraph.Of(loom, plan.AmbientC);
        var touched = places.SelectMany(p => PointsOf(loom, p)).ToHashSet();
        var nets = touched.Select(p => graph.NetOf(p)?.Number).OfType<int>().ToHashSet();
        var near = touched.SelectMany(p => Beside(loom, p)).Concat(touched).ToHashSet();
        var forced = failing.ToHashSet();
        return
        [
            .. plan.Steps.Where(s => forced.Contains(s.Number) || Touches(s)).Select(s => s.Number),
        ];

        bool InNets(ProbePoint? point) => point is { } p && graph.NetOf(p) is { } net && nets.Contains(net.Number);

        bool Touches(PlanStep step) => step.IsJoined
            ? InNets(step.Black) || InNets(step.Red)
            : step.Red is { } red ? (InNets(step.Black) || InNets(red)) && near.Contains(step.Black) && near.Contains(red) : InNets(step.Black);
    }

    private static IEnumerable<ProbePoint> PointsOf(Loom loom, string place)
    {
        if (ProbePoint.TryParse(place, out var point))
        {
            return [point];
        }

        return loom.Wires.Where(w => w.Id == place || w.From.Text == place || w.To.Text == place)
            .SelectMany(w => new[] { w.From, w.To })
            .Where(e => !e.IsSplice)
            .Select(e => e.Point);
    }

    /// <summary>Cavities that stand beside one in its face.</summary>
    internal static IEnumerable<ProbePoint> Beside(Loom loom, ProbePoint point) =>
        loom.FindConnector(point.Connector) is not { } connector
            ? []
            : FaceLayout.Neighbours(connector.Family)
                .Where(n => n.A == point.Cavity || n.B == point.Cavity)
                .Select(n => new ProbePoint(point.Connector, n.A == point.Cavity ? n.B : n.A));
}
