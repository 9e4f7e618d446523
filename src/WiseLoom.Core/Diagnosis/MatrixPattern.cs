using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A figure that failing readings draw in the matrix of points: contacts of one connector that stand in other cavities than drawn.</summary>
/// <param name="Name">What it is, in a few words.</param>
/// <param name="Sentence">What was seen, and why this explains it.</param>
/// <param name="Steps">Failing steps that it explains; at least two.</param>
/// <param name="Cells">Where metal is found if it is so, and was not drawn: off the diagonal for an exchange, a second diagonal for a run one place along, an anti-diagonal for a mirrored plug.</param>
public sealed record MatrixPattern(string Name, CavityFault Fault, string Sentence, ImmutableArray<int> Steps, ImmutableArray<(ProbePoint A, ProbePoint B)> Cells)
{
    /// <summary>Cells that are outlined for one.</summary>
    private const int MostCells = 400;

    /// <summary>Those of a run: likelier than not, with two failing steps at least.</summary>
    public static ImmutableArray<MatrixPattern> Of(BenchRun run, RunDiagnosis diagnosis)
    {
        ArgumentNullException.ThrowIfNull(run);
        ArgumentNullException.ThrowIfNull(diagnosis);
        var nets = WireGraph.Topology(run.Loom);
        return
        [
            .. from one in diagnosis.Cases
               where one.Steps.Length > 1 && one.Causes is [{ Probability: > 0.5 }, ..]
               from fault in one.Causes[0].Faults.OfType<CavityFault>()
               select new MatrixPattern(fault.Title(run.Loom), fault, one.Causes[0].Sentence, one.Steps, Outline(fault, run.Loom, nets)),
        ];
    }

    /// <summary>Pairs that are joined if it is so, and are not in the drawing.</summary>
    private static ImmutableArray<(ProbePoint, ProbePoint)> Outline(CavityFault fault, Loom loom, WireGraph nets) =>
    [
        .. fault.Moved(loom).SelectMany(m =>
        {
            var (from, to) = (new ProbePoint(fault.Connector, m.Key), new ProbePoint(fault.Connector, m.Value));
            return nets.NetOf(from) is { } net && nets.NetOf(to)?.Number != net.Number ? net.Points.Where(p => p.Connector != fault.Connector).Select(p => (to, p)) : [];
        }).Take(MostCells),
    ];
}
