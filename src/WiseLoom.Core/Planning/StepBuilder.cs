using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning.Order;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Planning;

/// <summary>Makes steps of pairs, one after another: each with its limits, its time and what the meter sees there.</summary>
internal sealed class StepBuilder(ExpectationTable table, Survey survey, PlanTerms terms)
{
    private readonly ImmutableArray<PlanStep>.Builder steps = ImmutableArray.CreateBuilder<PlanStep>();
    private int underLoad;

    /// <summary>Where the probes stand after the last step; null before the first.</summary>
    internal ProbePair? Stand { get; private set; }

    /// <summary>What the steps under load take at least: a touch each but for the first, and the load put on once; seconds.</summary>
    internal double LoadAtLeast => underLoad == 0 ? 0 : terms.Cost.Refit + ((underLoad - 1) * terms.Cost.Touch);

    /// <summary>What comes after the bare loom and the load.</summary>
    /// <returns>What it takes at least, and what of it no step shows.</returns>
    internal (double AtLeast, ImmutableArray<string> UnseenDiodes) Beyond(Loom loom)
    {
        var beyond = new BeyondSteps(loom, survey, terms, steps.Count + 1);
        steps.AddRange(beyond.Make(Stand));
        return (beyond.AtLeast, [.. beyond.UnseenDiodes]);
    }

    /// <summary>What all of them take, seconds.</summary>
    internal double Seconds => steps.Sum(s => s.Seconds);

    /// <summary>All steps so far.</summary>
    internal ImmutableArray<PlanStep> Steps() => steps.ToImmutable();

    /// <summary>A pair of bare metal: joined within a net, apart between two, or against all others.</summary>
    internal void Bare(ProbePair pair)
    {
        var (black, seconds) = (pair.Black!.Value, terms.Cost.Between(Stand, pair));
        var net = survey.NetOf(black);
        var circuit = survey.Circuit(net);
        Stand = pair;
        if (pair.Red is { } red && table.Between(black, red) is { } expected)
        {
            var limits = new Limits(expected.Min, expected.Max);
            steps.Add(new ContinuityStep(steps.Count + 1, black, red, expected, limits, seconds, Judgement.SurelyNoticedOhms(expected.Nominal, limits, terms.Meter), circuit));
            return;
        }

        steps.Add(new IsolationStep(steps.Count + 1, black, pair.Red, Limits.Apart, seconds, circuit));
    }

    /// <summary>Pairs of feeds and grounds in which the meter would miss a poor joint.</summary>
    internal List<ProbePair> Missed() =>
        [.. steps.OfType<ContinuityStep>().Where(s => LoadTest.IsNeeded(survey.Role(survey.NetOf(s.Black)), s.NoticedOhms)).Select(s => s.Probes)];

    /// <summary>Pairs under load, one after another; the load is put on before the first.</summary>
    internal void UnderLoad(ImmutableArray<ProbePair> pairs, LoadInHand load)
    {
        var refit = terms.Cost.Refit;
        foreach (var pair in BareOrder.Colour([Stand!.Value, .. pairs]).Skip(1))
        {
            var (black, red) = (pair.Black!.Value, pair.Red!.Value);
            var expected = table.Between(black, red)!.Value;
            var seconds = terms.Cost.Between(Stand, pair) + refit;
            steps.Add(new LoadStep(steps.Count + 1, black, red, expected, new(expected.Min, expected.Max), seconds, survey.Circuit(survey.NetOf(black)), LoadTest.Of(expected, survey.SupplyVolts, load)));
            (Stand, refit) = (pair, 0);
            underLoad++;
        }
    }

    /// <summary>What the steps under load would take in the order of the pinout, seconds.</summary>
    internal double LoadInPinOrder(BareOrder bare)
    {
        if (underLoad == 0)
        {
            return 0;
        }

        var pairs = steps.OfType<LoadStep>().OrderBy(s => survey.Rank(s.Black)).ThenBy(s => survey.Rank(s.Red!.Value)).Select(s => s.Probes);
        return terms.Cost.Refit + BareOrder.Sum(pairs, terms.Cost, bare.LastInPinOrder);
    }
}
