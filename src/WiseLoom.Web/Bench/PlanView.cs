using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;
using WiseLoom.Core.Runs;

namespace WiseLoom.Web.Bench;

/// <summary>A pair in which the meter would miss a poor joint.</summary>
/// <param name="Misses">The smallest added resistance that is surely noticed, in words.</param>
/// <param name="UnderLoad">What a test under load notices there, in words; null when the pair gets none.</param>
internal sealed record WeakPairView(string Black, string Red, string? Circuit, string Limits, string Misses, string? UnderLoad);

/// <summary>A device that may be plugged in at the bench.</summary>
internal sealed record PluggableView(string Ref, string Title);

/// <summary>What a run would be, before it is started.</summary>
/// <param name="Time">Planned time for all steps, in words.</param>
/// <param name="Least">Time below which no plan can go, in words.</param>
/// <param name="InPinOrder">Time for the same proof down the pinout, in words.</param>
/// <param name="Pace">What the hands are taken to need, in words.</param>
/// <param name="Kinds">How many steps of each kind it has beside joined and apart, in words; empty when none.</param>
/// <param name="Sight">What the meter can see and what not, in words.</param>
/// <param name="WeakPairs">The weakest first; as many as a page takes.</param>
/// <param name="Carry">What an earlier revision's run has proven already; null when there is none.</param>
internal sealed record PlanView(
    int Steps, string Time, string Least, string InPinOrder, string Pace, int LoadSteps, string Kinds, string Sight, int Weak, ImmutableArray<WeakPairView> WeakPairs, ImmutableArray<string> Unproven, CarryView? Carry)
{
    private const int MostPairs = 300;

    /// <summary>What speaks against measuring this loom with the meter, in words; null when nothing does.</summary>
    public string? Against { get; init; }

    /// <summary>Devices that a meter finds when they are plugged in.</summary>
    public ImmutableArray<PluggableView> Devices { get; init; } = [];

    private static string InWords(string kind) => kind switch { LoadStep.Word => "under load", FittedStep.Word => "through devices", DiodeStep.Word => "diode directions", PairStep.Word => "twisted pairs", PullStep.Word => "crimp samples", _ => "looks" };

    internal static PlanView Of(TestPlan plan, LearnedCost hands, CarriedOver? proof)
    {
        var sight = MeterSight.Of(plan);
        var under = plan.Steps.OfType<LoadStep>().ToDictionary(s => (s.Black, s.Red), s => s.Noticed);
        return new(
            plan.Steps.Length,
            Say.Duration(plan.Seconds),
            Say.Duration(plan.LowerBoundSeconds),
            Say.Duration(plan.PinOrderSeconds),
            hands.InWords(),
            sight.UnderLoad,
            string.Join(", ", plan.Steps.Where(s => s.Phase != StepPhase.Bare).GroupBy(s => s.Kind).Select(g => $"{g.Count()} {InWords(g.Key)}")),
            sight.Sentence(),
            sight.Weakest.Length,
            [.. sight.Weakest.Take(MostPairs).Select(s => new WeakPairView(
                s.Black.ToString(),
                s.Red!.Value.ToString(),
                s.Circuit,
                s.Passes(),
                s.NoticedOhms is { } ohms ? Say.Ohms(ohms) : "anything",
                under.TryGetValue((s.Black, s.Red), out var noticed) && noticed is { } load ? Say.Ohms(load) : null))],
            plan.LeftOpen,
            proof is null ? null : new(proof.From, proof.Steps.Count, proof.Reasons));
    }
}
