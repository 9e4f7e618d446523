using System.Globalization;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Puts what was seen and what would explain it into one sentence.</summary>
internal static class Sentences
{
    internal static string For(Loom loom, Fault fault, PlanStep step, int explains, int of)
    {
        var also = of > 1 ? string.Create(CultureInfo.InvariantCulture, $" It accounts for {explains} of {of} failing readings.") : "";
        return $"{step.Complaint()}: {fault.Why(loom)}{also}";
    }
}
