using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Bench;

/// <summary>Puts a step and where it stands into the form of the touch card.</summary>
internal static class StepViews
{
    internal static StepView Of(PlanStep s, OpenRun open)
    {
        var (run, stands) = (open.Run, open.Run[s.Number]);
        var ruler = s.Ruler();
        return new(
            s.Number,
            s.Kind,
            s.IsJoined,
            s.MustBe,
            s.Sign,
            s.Black.ToString(),
            s.Red?.ToString(),
            s.Circuit,
            s.Unit,
            s.Passes(),
            ruler.From,
            ruler.To,
            [.. s.Bands(run.Plan.Meter).Select(b => new BandView(b.From, b.To, b.Verdict))],
            s.NoticedInWords(),
            open.Head.Meter.Host is not null && s.ByInstrument,
            s.Setup(),
            stands.State,
            stands is { By: { } by, Reading: { } taken } ? ReadingView.Of(by, taken) : null,
            LateReading.InWords(stands.Late, run),
            stands is { State: StepState.Skipped, By.What: StepSkipped skipped } ? skipped.Reason : null,
            stands is { State: StepState.Pass, By.What: ProofCarried carried } ? carried.Words : null);
    }
}
