using System.Collections.Immutable;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Runs;

/// <summary>What a fix could have changed, and so must be measured again.</summary>
public static class Retest
{
    /// <summary>Steps that a fix at some places touches.</summary>
    /// <param name="places">Cavities such as <c>ECU:17</c>, wire ids and splice refs that hands were on.</param>
    /// <param name="failing">Numbers of the steps that showed the fault; always part of the answer.</param>
    /// <returns>Numbers, rising; each kind of step says by itself whether the fix reaches it.</returns>
    public static ImmutableArray<int> Of(Loom loom, TestPlan plan, IReadOnlyCollection<string> places, IEnumerable<int> failing)
    {
        ArgumentNullException.ThrowIfNull(plan);
        var reach = new FixReach(loom, plan, places);
        var forced = failing.ToHashSet();
        return [.. plan.Steps.Where(s => forced.Contains(s.Number) || s.ChangedBy(reach)).Select(s => s.Number)];
    }
}
