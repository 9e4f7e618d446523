using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Web.Bench;

/// <summary>One part of what a step should read.</summary>
internal sealed record PartView(string Wire, string From, string To, string Section, double LengthMm, string Own, string Share, string Adds);

/// <param name="LoadTest">How to test the pair under load, where this meter would miss a poor joint; null where it need not be.</param>
internal sealed record ReasonView(string Sentence, ImmutableArray<PartView> Parts, string? LoadTest);

/// <summary>How a step's limits came about, part by part.</summary>
internal static class LimitExplanation
{
    internal static ReasonView Of(Loom loom, TestPlan plan, PlanStep step)
    {
        if (step.Because() is { } because)
        {
            return new(because, [], null);
        }

        var graph = WireGraph.Of(loom, plan.AmbientC, plan.Copper);
        if (step.Red is not { } red || step.Explained is not { } expected || graph.NetOf(step.Black) is not { } net)
        {
            return new($"No metal joins these places in the drawing, so the meter must show {step.Passes()}.", [], null);
        }

        var wires = loom.Wires.ToDictionary(w => w.Id, StringComparer.Ordinal);
        var parts = net.Explain(step.Black, red);
        var shared = parts.Any(p => p.Share < 0.999);
        var sentence = string.Create(
            CultureInfo.InvariantCulture,
            $"At {plan.AmbientC:0} °C the copper and contacts on the way add up to {Say.Ohms(expected.Nominal)}{(shared ? ", with current sharing parallel ways" : "")}. Copper, length, contact and temperature tolerances make that {step.Limits.InWords()}{(step is LoadStep { Load: var test } ? $", which {Say.Amps(test.Amps)} turn into {step.Passes()}" : "")}.");
        return new(sentence, [.. parts.Select(p => Part(wires[p.Label], p))], UnderLoad(plan, step));
    }

    /// <summary>What is said of a test under load: on its own step, and on the step that it completes.</summary>
    private static string? UnderLoad(TestPlan plan, PlanStep step) => step is LoadStep own
        ? own.Load.Worth()
        : plan.Steps.OfType<LoadStep>().FirstOrDefault(s => s.Black == step.Black && s.Red == step.Red) is { } other
            ? $"This meter would miss a poor joint here, so step {other.Number} tests the same pair under load. {other.Load.Worth()}"
            : null;

    private static PartView Part(Wire wire, Contribution part) => new(
        wire.Id,
        wire.From.Text,
        wire.To.Text,
        wire.Section.ToString(),
        wire.LengthMm,
        Say.Ohms(part.Own.Nominal),
        string.Create(CultureInfo.InvariantCulture, $"{part.Share * 100:0} %"),
        Say.Ohms(part.Ohms));
}
