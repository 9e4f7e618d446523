using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Web.Bench;

/// <summary>How a step's limits came about, part by part.</summary>
internal static class LimitReason
{
    internal static ReasonView Of(Loom loom, TestPlan plan, PlanStep step)
    {
        var graph = WireGraph.Of(loom, plan.AmbientC, plan.Copper);
        if (step.Red is not { } red || step.Expected is not { } expected || graph.NetOf(step.Black) is not { } net)
        {
            return new($"No metal joins these places in the drawing, so the meter must show {Say.Passes(step)}.", [], null);
        }

        var wires = loom.Wires.ToDictionary(w => w.Id, StringComparer.Ordinal);
        var parts = net.Explain(step.Black, red);
        var shared = parts.Any(p => p.Share < 0.999);
        var sentence = string.Create(
            CultureInfo.InvariantCulture,
            $"At {plan.AmbientC:0} °C the copper and contacts on the way add up to {Say.Ohms(expected.Nominal)}{(shared ? ", with current sharing parallel ways" : "")}. Copper, length, contact and temperature tolerances make that {Say.Limits(step.Limits)}{(step.Load is { } test ? $", which {Say.Amps(test.Amps)} turn into {Say.Passes(step)}" : "")}.");
        return new(sentence, [.. parts.Select(p => Part(wires[p.Label], p))], UnderLoad(plan, step));
    }

    /// <summary>What is said of a test under load: on its own step, and on the step that it completes.</summary>
    private static string? UnderLoad(TestPlan plan, PlanStep step) => step.Load is { } own
        ? own.Worth()
        : plan.Steps.FirstOrDefault(s => s.Load is not null && s.Black == step.Black && s.Red == step.Red) is { } other
            ? $"This meter would miss a poor joint here, so step {other.Number} tests the same pair under load. {other.Load!.Worth()}"
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
