using System.Globalization;
using WiseLoom.Core.Runs;

namespace WiseLoom.Web.Bench;

/// <summary>Why a reading that was kept does not count, in words.</summary>
internal static class LateReading
{
    /// <returns>Null when it counts, or is no reading.</returns>
    internal static string? InWords(Happened? happened, BenchRun run)
    {
        if (happened is not { What: ReadingTaken taken } || taken.Bearing == Bearing.Stands)
        {
            return null;
        }

        var what = string.Create(CultureInfo.InvariantCulture, $"{happened.By.Name} read {taken.Reading.InWords()}, {happened.At.UtcDateTime:HH:mm} UTC");
        return taken.Bearing == Bearing.Overtaken && taken.Moved is null && run[taken.Step].Reading is { BrokeMoved: true } ? $"{what}, while the loom lay still. It broke when it was moved: move it again (W), or mend it."
            : taken.Bearing == Bearing.Doubtful ? $"{what}, with a meter that was not right: it is kept and proves nothing. Measure again."
            : taken.Bearing == Bearing.BeforeFix ? $"{what}, before knowing {(run.Care.DriftedAt == run[taken.Step].AgainAt ? "that the meter was not right" : "of the fix")}: it is kept and does not prove it. Measure again."
            : $"{what}, without knowing of {(run[taken.Step].By is { } by && by.By.Id != happened.By.Id ? $"{by.By.Name}’s" : "their own newer")} reading: it is kept, and the other stands.";
    }
}
