using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A figure that failing readings draw in the matrix of points: contacts of one connector that stand in other cavities than drawn.</summary>
/// <param name="Name">What it is, in a few words.</param>
/// <param name="Sentence">What was seen, and why this explains it.</param>
/// <param name="Steps">Failing steps that it explains; at least two.</param>
/// <param name="Cells">Where metal is found if it is so, and was not drawn: off the diagonal for an exchange, a second diagonal for a run one place along, an anti-diagonal for a mirrored plug.</param>
public sealed record MatrixPattern(string Name, CavityFault Fault, string Sentence, ImmutableArray<int> Steps, ImmutableArray<(ProbePoint A, ProbePoint B)> Cells)
{
    /// <summary>Most patterns that are named, cells that are outlined for one, and suppositions that are held against the readings of one connector.</summary>
    private const int Most = 20, MostCells = 400, MostSupposed = 4000;

    /// <summary>Patterns that explain failing readings and speak against none, the one that explains most first; what one explains is not explained again.</summary>
    /// <remarks>Only whether metal joins two places is looked at. A contact that stands elsewhere takes its net along, so the places p and q are
    /// joined exactly when the nets of the contacts that stand there are the same. The work is bounded: for each connector with a failing step, at most 4,000 suppositions
    /// are held against the readings at it.</remarks>
    public static ImmutableArray<MatrixPattern> Of(BenchRun run)
    {
        ArgumentNullException.ThrowIfNull(run);
        var nets = WireGraph.Topology(run.Loom);
        var seen = run.Plan.Steps.Select(s => Observed.Of(s, run, nets)).OfType<Observed>().ToList();
        var at = seen.SelectMany(o => new[] { (o.A.Connector, o), (o.B.Connector, o) }).Distinct().ToLookup(x => x.Connector, x => x.o, StringComparer.Ordinal);
        var found = new List<(CavityFault Fault, ImmutableArray<int> Steps)>();
        foreach (var housing in run.Loom.Connectors.Where(c => at[c.Ref].Any(o => o.IsWrong)))
        {
            var readings = at[housing.Ref].ToList();
            found.AddRange(Supposed(housing, readings, nets).Take(MostSupposed)
                .Select(f => (Fault: f, Steps: Explained(f, run.Loom, readings, nets))).Where(x => x.Steps.Length >= 2).OrderByDescending(x => x.Steps.Length).ThenBy(x => x.Fault.Moved(run.Loom).Count).Take(Most));
        }

        var patterns = ImmutableArray.CreateBuilder<MatrixPattern>();
        var told = new HashSet<int>();
        foreach (var (fault, steps) in found.OrderByDescending(x => x.Steps.Length).ThenBy(x => x.Fault.Moved(run.Loom).Count))
        {
            if (patterns.Count < Most && !steps.Any(told.Contains))
            {
                told.UnionWith(steps);
                patterns.Add(new(fault.Title(run.Loom), fault, $"{steps.Length} failing steps ({string.Join(", ", steps.Take(12))}{(steps.Length > 12 ? ", …" : "")}) are explained, and no reading at {fault.Connector} speaks against it, {fault.Why(run.Loom)}", steps, Outline(fault, run.Loom, nets)));
            }
        }

        return patterns.ToImmutable();
    }

    /// <summary>Steps whose failing reading a supposition explains; empty when any reading speaks against it.</summary>
    private static ImmutableArray<int> Explained(CavityFault fault, Loom loom, List<Observed> readings, WireGraph nets)
    {
        // What stands in a cavity: its own contact, that of another, or none.
        var moved = fault.Moved(loom);
        var into = moved.ToDictionary(m => m.Value, m => m.Key, StringComparer.Ordinal);
        int Net(ProbePoint p)
        {
            var own = p.Connector != fault.Connector ? p
                : into.TryGetValue(p.Cavity, out var from) ? p with { Cavity = from }
                : moved.ContainsKey(p.Cavity) ? (ProbePoint?)null : p;
            return own is { } contact && nets.NetOf(contact) is { } net ? net.Number : -1;
        }

        var explained = ImmutableArray.CreateBuilder<int>();
        foreach (var reading in readings)
        {
            var (a, b) = (Net(reading.A), Net(reading.B));
            if ((a >= 0 && a == b) != reading.IsJoined)
            {
                return [];
            }

            if (reading.IsWrong)
            {
                explained.Add(reading.Step);
            }
        }

        return explained.ToImmutable();
    }

    private static IEnumerable<CavityFault> Supposed(Connector housing, List<Observed> readings, WireGraph nets)
    {
        yield return new MirroredFault(housing.Ref);
        bool Wired(string? cavity) => cavity is not null && nets.NetOf(new(housing.Ref, cavity)) is not null;
        foreach (var row in housing.Family.Rows)
        {
            foreach (var by in new[] { 1, -1 })
            {
                // The run ends where its head found an empty cavity, and may begin anywhere behind that.
                for (var head = 0; head < row.Length; head++)
                {
                    if (row[head] is null || Wired(row[head]))
                    {
                        continue;
                    }

                    var run = new List<string>();
                    for (var i = head - by; i >= 0 && i < row.Length && Wired(row[i]); i -= by)
                    {
                        run.Insert(by > 0 ? 0 : run.Count, row[i]!);
                        if (run.Count >= 2)
                        {
                            yield return new ShiftFault(housing.Ref, [.. run], by);
                        }
                    }
                }
            }
        }

        var wrong = readings.Where(r => r.IsWrong).SelectMany(r => new[] { r.A, r.B }).Where(p => p.Connector == housing.Ref).Select(p => p.Cavity).Distinct().ToList();
        foreach (var one in wrong)
        {
            foreach (var other in housing.Family.Cavities.Where(c => c != one && Wired(c)))
            {
                yield return SwapFault.Of(housing.Ref, one, other);
            }
        }
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

    /// <summary>Whether metal was found between two places, and whether that is as drawn.</summary>
    private sealed record Observed(int Step, ProbePoint A, ProbePoint B, bool IsJoined, bool IsWrong)
    {
        /// <summary>More than this between two places is no metal, ohms.</summary>
        private const double NoMetal = 1e5;

        internal static Observed? Of(PlanStep step, BenchRun run, WireGraph nets)
        {
            if (step.Phase != StepPhase.Bare || step.Red is not { } red || run[step.Number] is not { Reading: { } taken, State: StepState.Pass or StepState.Fail or StepState.CantTell })
            {
                return null;
            }

            var joined = taken.Reading.Ohms is { } ohms && ohms < NoMetal;
            var drawn = nets.NetOf(step.Black) is { } net && nets.NetOf(red)?.Number == net.Number;
            return new(step.Number, step.Black, red, joined, joined != drawn);
        }
    }
}
