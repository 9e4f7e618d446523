using System.Globalization;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Says a fault in the words of the trade.</summary>
public static class Sentences
{
    /// <summary>A short name for lists: <c>Open in W12 (ECU:17 to INJ1:1)</c>.</summary>
    public static string Title(Loom loom, Fault fault) => fault.Kind switch
    {
        FaultKind.Open => $"Open in {Wire(loom, fault)}",
        FaultKind.Missing => $"{Wire(loom, fault)} is missing",
        FaultKind.Resistive => $"Too much resistance in {Wire(loom, fault)}",
        FaultKind.Short => $"{fault.A} and {fault.B} touch",
        FaultKind.Swap when fault is { Cavities: [var a, var b] } => $"{fault.Connector}: contacts {a} and {b} exchanged",
        FaultKind.Misplaced => $"{fault.Connector}: contact of cavity {fault.From} stands in {fault.To}",
        FaultKind.Shift => $"{fault.Connector}: a run of contacts stands one place along",
        FaultKind.Mirrored => $"{fault.Connector} was filled from the wrong face",
        FaultKind.Device => $"{fault.Device} is not as drawn",
        FaultKind.Intermittent => $"{Wire(loom, fault)} opens while it is moved",
        _ => fault.Kind.ToString(),
    };

    /// <summary>What was seen, and why this fault explains it.</summary>
    internal static string For(Loom loom, Fault fault, PlanStep step, int explains, int of)
    {
        var seen = step.Kind == StepKind.Apart
            ? $"{step.Black} should stand apart from {step.Red?.ToString() ?? "every other circuit"} and does not"
            : $"{step.Black} to {step.Red} is not what the copper explains";
        var also = of > 1 ? $" It accounts for {explains} of {of} failing readings." : "";
        var why = fault.Kind switch
        {
            FaultKind.Open => $"with {Wire(loom, fault)} broken nothing joins them. Look at both contacts first, then at the wire.",
            FaultKind.Resistive => string.Create(CultureInfo.InvariantCulture, $"a poor joint of about {fault.Ohm:0.###} Ω in {Wire(loom, fault)} would read exactly so. Look at the crimps at both ends."),
            FaultKind.Short => $"metal between {fault.A} and {fault.B} would read so. Look for a stray strand or crushed insulation.",
            FaultKind.Swap when fault is { Cavities: [var a, var b] } => $"if the contacts of cavities {a} and {b} in {fault.Connector} were exchanged, each circuit would end in the other's place.",
            FaultKind.Misplaced => $"if the contact of cavity {fault.From} in {fault.Connector} stood one over, in {fault.To}, nothing would be where the probe looks.",
            _ => "the model predicts this reading.",
        };
        return $"{seen}: {why}{also}";
    }

    private static string Wire(Loom loom, Fault fault) =>
        loom.Wires.FirstOrDefault(w => w.Id == fault.Wire) is { } wire ? $"{wire.Id} ({wire.From} to {wire.To})" : fault.Wire ?? "a wire";
}
