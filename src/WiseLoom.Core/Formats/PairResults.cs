using System.Collections.Frozen;
using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Formats;

/// <summary>What is known of two places.</summary>
/// <param name="Must">What a reading between them must be, in words; empty where the plan does not ask.</param>
/// <param name="Reads">What was read, in words; empty for nothing.</param>
/// <param name="State">Null where no step is about them.</param>
public sealed record PairResult(string Must, string Reads, StepState? State)
{
    /// <summary>Nothing is known.</summary>
    public static PairResult Nothing { get; } = new("", "", null);

    /// <summary>The verdict in a word or two; empty for none.</summary>
    public string Verdict => State switch
    {
        StepState.Pass => "pass",
        StepState.Fail => "fail",
        StepState.CantTell => "can't tell",
        StepState.Skipped => "left out",
        StepState.Retest => "to be measured again",
        StepState.NotTested => "not tested",
        _ => "",
    };
}

/// <summary>A run's results by pairs of places, for tables that other people lay out.</summary>
public sealed class PairResults
{
    private readonly WireGraph nets;
    private readonly FrozenDictionary<(ProbePoint, ProbePoint), PairResult> joined;
    private readonly ILookup<(int, int), PairResult> apart;
    private readonly ILookup<int, PairResult> ofNet;

    /// <param name="run">Null where nothing was measured yet.</param>
    public PairResults(Loom loom, BenchRun? run)
    {
        nets = WireGraph.Topology(loom);
        var results = (run?.Plan.Steps ?? []).Where(s => s is { IsProbed: true, Unit: ReadingUnit.Ohm }).Select(s => (Step: s, Result: Of(s, run![s.Number]))).ToList();
        joined = results.Where(r => r.Step is { IsJoined: true, Red: not null }).GroupBy(r => Key(r.Step.Black, r.Step.Red!.Value)).ToFrozenDictionary(g => g.Key, g => Worst(g.Select(r => r.Result))!);
        apart = results.Where(r => !r.Step.IsJoined).Select(r => (Nets: Between(r.Step.Black, r.Step.Red), r.Result)).Where(r => r.Nets is not null).ToLookup(r => r.Nets!.Value, r => r.Result);
        ofNet = results.Where(r => r.Step.IsJoined && nets.NetOf(r.Step.Black) is not null).ToLookup(r => nets.NetOf(r.Step.Black)!.Number, r => r.Result);
    }

    /// <summary>Whether the loom joins two places.</summary>
    public bool AreJoined(ProbePoint one, ProbePoint other) => nets.NetOf(one) is { } net && nets.NetOf(other)?.Number == net.Number;

    /// <summary>What is known of two places: of the very pair, else of the circuit that joins them, or of the two circuits that must be apart.</summary>
    public PairResult Of(ProbePoint one, ProbePoint other)
    {
        if (joined.TryGetValue(Key(one, other), out var known))
        {
            return known;
        }

        // The pair itself was not measured: the circuit's verdict stands for it, and no single reading does.
        return AreJoined(one, other) ? Of(one)
            : Between(one, other) is { } both ? Worst(apart[both]) ?? (Worst(apart[(-2, both.Item1)].Concat(apart[(-2, both.Item2)])) is { } all ? all with { Reads = "" } : PairResult.Nothing)
            : PairResult.Nothing;
    }

    /// <summary>The worst that is known of the circuit of a place; no reading, since several were taken.</summary>
    public PairResult Of(ProbePoint place) => nets.NetOf(place) is { } net && Worst(ofNet[net.Number]) is { } worst ? new("", "", worst.State) : PairResult.Nothing;

    private static PairResult Of(PlanStep step, StepStanding standing) =>
        new(step.Limits.InWords(), standing.Reading is { } taken ? (step.AsPair(taken.Reading) ?? taken.Reading).InWords() : "", standing.State);

    private static PairResult? Worst(IEnumerable<PairResult> of) => of.MaxBy(r => r.State switch
    {
        StepState.Fail => 5,
        StepState.Retest => 4,
        StepState.CantTell => 3,
        StepState.NotTested => 2,
        StepState.Skipped => 1,
        _ => 0,
    });

    /// <summary>Numbers of two nets that must be apart, the smaller first; −2 for all others.</summary>
    private (int, int)? Between(ProbePoint one, ProbePoint? other) =>
        nets.NetOf(one) is not { } first ? null
            : other is not { } place ? (-2, first.Number)
            : nets.NetOf(place) is { } second && second.Number != first.Number ? (Math.Min(first.Number, second.Number), Math.Max(first.Number, second.Number)) : null;

    private static (ProbePoint, ProbePoint) Key(ProbePoint one, ProbePoint other) => other < one ? (other, one) : (one, other);
}
