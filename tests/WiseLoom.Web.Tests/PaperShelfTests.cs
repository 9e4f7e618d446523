using WiseLoom.Core.Looms;
using WiseLoom.Core.Units;
using WiseLoom.Web.Handover;

namespace WiseLoom.Web.Tests;

/// <summary>Papers for customers are worked out once, and no longer than somebody waits for them.</summary>
public sealed class PaperShelfTests
{
    private static readonly Loom Launch = LoomReader.Read(File.ReadAllBytes(Path.Combine(Shop.DemoFolder, "work-launch.json"))).Loom!;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task The_work_of_callers_who_hang_up_stops_and_is_begun_anew_for_the_next()
    {
        using var shelf = new PaperShelf();
        using var gone = new CancellationTokenSource();
        var callers = Enumerable.Range(0, 6).Select(_ => shelf.OfAsync(1, Launch, Language.English, gone.Token)).ToList();
        await gone.CancelAsync();
        foreach (var caller in callers)
        {
            await Should.ThrowAsync<OperationCanceledException>(caller);
        }

        var papers = await shelf.OfAsync(1, Launch, Language.English, Cancel);
        papers.ShouldNotBeNull();
        (await shelf.OfAsync(1, Launch, Language.English, Cancel)).ShouldBeSameAs(papers);
        shelf.Soon(1, Launch, Language.English).ShouldBeSameAs(papers);
    }

    [Fact]
    public async Task One_who_waits_on_gets_the_papers_though_others_hang_up()
    {
        using var shelf = new PaperShelf();
        using var gone = new CancellationTokenSource();
        var leaves = shelf.OfAsync(1, Launch, Language.English, gone.Token);
        var stays = shelf.OfAsync(1, Launch, Language.English, Cancel);
        await gone.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(leaves);
        (await stays).ShouldNotBeNull();
    }
}
