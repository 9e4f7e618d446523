using System.Collections.Immutable;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Bench;

/// <summary>A connector's stretch of the matrix.</summary>
/// <param name="From">Place of its first point, from 0.</param>
internal sealed record MatrixBlockView(string Ref, int From, int Count);

/// <summary>A figure that failing readings draw.</summary>
/// <param name="Cells">Where metal is found if it is so; pairs of places in the list of points, one after another.</param>
internal sealed record MatrixPatternView(string Name, string Connector, string Sentence, ImmutableArray<int> Steps, ImmutableArray<int> Cells);

/// <summary>All points of a loom against each other. What was read stands in the run's steps.</summary>
/// <param name="Points">By connector, in the order in which each is numbered.</param>
/// <param name="Nets">For each point the number of its net: two of one number are drawn as joined; −1 for a place without a wire.</param>
internal sealed record MatrixView(ImmutableArray<string> Points, ImmutableArray<int> Nets, ImmutableArray<MatrixBlockView> Blocks, ImmutableArray<MatrixPatternView> Patterns);

/// <summary>The matrix of a loom's points, with the patterns that its run's readings draw.</summary>
internal static class MatrixEndpoint
{
    internal static void MapMatrix(this RouteGroupBuilder api) =>
        api.MapGet("/runs/{id:long}/matrix", MatrixAsync).IsHeavy("Laying out the matrix").WithSummary("All points of a run's loom against each other, with the patterns that its readings draw");

    private static async Task<Results<Ok<MatrixView>, ProblemHttpResult>> MatrixAsync(long id, RunLedger ledger, DiagnosisCache diagnoses, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        var (loom, nets) = (open.Run.Loom, WireGraph.Topology(open.Run.Loom));
        ImmutableArray<ProbePoint> points = [.. loom.ProbePoints()];
        var place = points.Select((p, i) => (p, i)).ToDictionary(x => x.p, x => x.i);
        var blocks = points.Select((p, i) => (p.Connector, i)).GroupBy(x => x.Connector, StringComparer.Ordinal).Select(g => new MatrixBlockView(g.Key, g.First().i, g.Count()));
        var patterns = MatrixPattern.Of(open.Run, await diagnoses.OfAsync(id, open.Run, cancel)).Select(p => new MatrixPatternView(
            p.Name, p.Fault.Connector, p.Sentence, p.Steps, [.. p.Cells.Where(c => place.ContainsKey(c.A) && place.ContainsKey(c.B)).SelectMany(c => new[] { place[c.A], place[c.B] })]));
        return TypedResults.Ok(new MatrixView([.. points.Select(p => p.ToString())], [.. points.Select(p => nets.NetOf(p)?.Number ?? -1)], [.. blocks], [.. patterns]));
    }
}
