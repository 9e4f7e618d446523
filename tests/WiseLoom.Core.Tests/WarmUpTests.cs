using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

public sealed class WarmUpTests
{
    [Fact]
    public void It_plays_cases_that_measure_more_and_ends()
    {
        var played = WarmUp.Play(TestContext.Current.CancellationToken).ToList();

        Assert.Contains(played, c => c.Hidden.Count == 1 && c.Extra > 0);
        Assert.Contains(played, c => c.Hidden.Count == 2 && c.Extra > 0);
        Assert.True(played.Count(c => c.Found) >= played.Count * 3 / 4, string.Join('\n', played.Where(c => !c.Found).Select(c => c.Sentence)));
    }

    [Fact]
    public void Who_stops_meanwhile_does_not_wait_for_it()
    {
        using var stopped = new CancellationTokenSource();
        stopped.Cancel();

        Assert.Throws<OperationCanceledException>(() => WarmUp.Diagnosis(stopped.Token));
    }
}
