using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Planning;
using WiseLoom.Web.Http;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Bench;

/// <summary>A step that a meter on the network is asked to measure.</summary>
internal static class MeasuredStep
{
    /// <summary>Finds it.</summary>
    /// <returns>What is wrong; null when the meter can measure it.</returns>
    internal static ProblemHttpResult? Of(OpenRun open, int number, out PlanStep? step)
    {
        step = open.Run.Plan.Step(number);
        return step is null ? Refusal.Field("/step", $"The plan has steps 1 to {open.Run.Plan.Steps.Length}.")
            : step.ByInstrument ? null
            : Refusal.Field("/step", "This step is read by eye: type what the meter or the gauge shows.");
    }
}
