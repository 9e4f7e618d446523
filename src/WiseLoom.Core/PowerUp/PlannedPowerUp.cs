using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Sightings;
using WiseLoom.Core.States;

namespace WiseLoom.Core.PowerUp;

/// <summary>A power-up's plan and answers as a run keeps them.</summary>
public static class PlannedPowerUp
{
    /// <summary>The terms of a plan.</summary>
    /// <param name="required">Stages that the shop asks for, whether or not this school has them.</param>
    /// <param name="secondsDry">The longest first run without coolant, seconds.</param>
    /// <param name="asked">The school that the shop asks for; null where it leaves that open.</param>
    public static PowerUpTerms Terms(PowerUpPlan plan, double ambientC, ImmutableArray<int> required, double secondsDry, School? asked = null)
    {
        ArgumentNullException.ThrowIfNull(plan);
        return new(
            BenchFile.WordOf(plan.School), plan.Fit, ambientC, required, secondsDry,
            [.. plan.Checks.Select(c => new PlannedCheck(c.Id, c.Stage, c.Do, c.Fingerprint(), c.Touches, !c.Cautions.IsEmpty))])
        {
            Vacant = [.. plan.Stages.Where(s => s.IsVacant).Select(s => s.Number)],
            AskedSchool = asked is { } school && school > plan.School && !required.IsEmpty ? BenchFile.WordOf(school) : "",
        };
    }

    /// <summary>The terms that a shop's template asks for as soon as a loom is on the bench; null when it asks for no stage, or none can be planned.</summary>
    public static PowerUpTerms? Asked(Loom loom, PowerUpTemplate template)
    {
        ArgumentNullException.ThrowIfNull(template);
        return template.Required.IsEmpty || PowerUpPlan.Refused(loom, BenchFit.AsDrawn) is not null ? null
            : Terms(PowerUpPlan.Of(loom, BenchFit.AsDrawn, loom.AmbientC, BenchFile.FindSchool(template.School) ?? School.Bench), loom.AmbientC, template.Required, template.SecondsDry);
    }

    /// <summary>The event of an answer.</summary>
    /// <param name="loom">The loom with what is fitted.</param>
    /// <param name="besides">What it tells of the loom besides what was judged.</param>
    /// <param name="note">What was found or written beside it; empty for nothing.</param>
    /// <param name="cautionsSeen">Whether the cautions were seen.</param>
    /// <param name="seen">Number of the last event that its person had seen.</param>
    public static CheckAnswered Answered(Loom loom, double ambientC, PowerUpCheck check, JudgedAnswer judged, IEnumerable<Sighting> besides, string? note, bool cautionsSeen, long seen)
    {
        ArgumentNullException.ThrowIfNull(check);
        ArgumentNullException.ThrowIfNull(judged);
        // What passed was as expected: nothing has to be worked out. What a figure's range lets pass, or not, the diagnosis may see otherwise.
        return new(
            check.Id, judged.Said, check.Expect.InWords(), judged.Passed, cautionsSeen,
            [.. judged.Sightings.Concat(besides).Select(s => new CheckSighting(s, judged.Passed || s.IsAsDrawn(loom, ambientC, Meter.HandTwoWire)))],
            string.IsNullOrWhiteSpace(note) ? null : note.Trim(), seen);
    }
}
