using WiseLoom.Core.Runs;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests.Stores;

/// <summary>Packs are frozen over a stated last event, and links lead to one while they are out.</summary>
public sealed class PackStoreTests(Shelf shelf) : IClassFixture<Shelf>
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private PackStore Packs => new(shelf.Source);

    private RunStore Runs => new(shelf.Source);

    private NewPack Pack(long job, long run, long revision, long number, int version = 1, byte[]? pdf = null) => new(
        job, run, revision, new(number, Guid.CreateVersion7(), shelf.Ada, Shelf.Noon, new PackSigned(version)), Shelf.Summary(), version, $"changes of {version}", """{"pack":1}""", "<body>ü</body>", pdf);

    private async Task<long> SignedAsync(byte[]? pdf = null)
    {
        var (job, revision, run) = await shelf.JobWithRunAsync();
        return (await Packs.SignAsync(Pack(job, run, revision, 1, pdf: pdf), Cancel)).ShouldNotBeNull();
    }

    [Fact]
    public async Task A_pack_comes_back_as_it_was_signed()
    {
        var (job, revision, run) = await shelf.JobWithRunAsync();
        var id = (await Packs.SignAsync(Pack(job, run, revision, 1, pdf: [1, 2, 3]), Cancel)).ShouldNotBeNull();
        var pack = (await Packs.OfJobAsync(job, Cancel)).ShouldHaveSingleItem();
        (pack.Id, pack.JobId, pack.Version, pack.Changes, pack.SignedBy, pack.SignedAt, pack.HasPdf, pack.SharedUntil).ShouldBe(
            (id, job, 1, "changes of 1", "Ada Quill", Shelf.Noon, true, null));
        (await Packs.HtmlAsync(id, Cancel)).ShouldBe("<body>ü</body>");
        (await Packs.JsonAsync(id, Cancel)).ShouldBe("""{"pack": 1}""");
        (await Packs.PdfAsync(id, Cancel)).ShouldBe([1, 2, 3]);
        (await Runs.EventsAsync(run, 0, Cancel)).ShouldHaveSingleItem().What.ShouldBe(new PackSigned(1));
        (await new JobStore(shelf.Source).FindAsync(job, Cancel))!.PackVersion.ShouldBe(1);
    }

    [Fact]
    public async Task A_pack_without_a_print_has_none()
    {
        var id = await SignedAsync();
        (await Packs.FindAsync(id, Cancel))!.HasPdf.ShouldBeFalse();
        (await Packs.PdfAsync(id, Cancel)).ShouldBeNull();
        (await Packs.FindAsync(long.MaxValue, Cancel)).ShouldBeNull();
        (await Packs.HtmlAsync(long.MaxValue, Cancel)).ShouldBeNull();
        (await Packs.JsonAsync(long.MaxValue, Cancel)).ShouldBeNull();
    }

    [Fact]
    public async Task A_reading_that_came_first_keeps_a_pack_from_being_signed()
    {
        var (job, revision, run) = await shelf.JobWithRunAsync();
        await Runs.AppendAsync(run, 0, [shelf.Reading(1, 1)], Shelf.Summary(), Cancel);
        (await Packs.SignAsync(Pack(job, run, revision, 1), Cancel)).ShouldBeNull();
        (await Packs.OfJobAsync(job, Cancel)).ShouldBeEmpty();
        (await Packs.SignAsync(Pack(job, run, revision, 2), Cancel)).ShouldNotBeNull();
    }

    [Fact]
    public async Task A_newer_loom_keeps_a_pack_from_being_signed()
    {
        var (job, revision, run) = await shelf.JobWithRunAsync();
        await new LoomStore(shelf.Source).AddAsync(new(job, revision, Shelf.Loom with { Revision = "B" }, Shelf.Document, shelf.Mira.Id), Cancel);
        (await Packs.SignAsync(Pack(job, run, revision, 1), Cancel)).ShouldBeNull();
        (await Runs.EventsAsync(run, 0, Cancel)).ShouldBeEmpty();
    }

    [Fact]
    public async Task Of_readings_and_signatures_at_once_each_place_in_the_run_is_taken_by_one()
    {
        for (var round = 0; round < 10; round++)
        {
            var (job, revision, run) = await shelf.JobWithRunAsync();
            var sign = Enumerable.Range(0, 3).Select(async _ => await Packs.SignAsync(Pack(job, run, revision, 1), Cancel) is not null);
            var read = Enumerable.Range(0, 3).Select(async _ => await Runs.AppendAsync(run, 0, [shelf.Reading(1, 1)], Shelf.Summary(), Cancel) == Appended.Stored);
            (await Task.WhenAll(sign.Concat(read))).Count(done => done).ShouldBe(1);
            var first = (await Runs.EventsAsync(run, 0, Cancel)).ShouldHaveSingleItem();
            (await Packs.OfJobAsync(job, Cancel)).Count.ShouldBe(first.What is PackSigned ? 1 : 0);
        }
    }

    [Fact]
    public async Task A_version_of_a_pack_is_signed_once_and_what_failed_leaves_no_signature()
    {
        var (job, revision, run) = await shelf.JobWithRunAsync();
        (await Packs.SignAsync(Pack(job, run, revision, 1), Cancel)).ShouldNotBeNull();
        (await Packs.SignAsync(Pack(job, run, revision, 2), Cancel)).ShouldBeNull("version 1 stands");
        (await Runs.EventsAsync(run, 0, Cancel)).Count.ShouldBe(1);
        (await Packs.SignAsync(Pack(job, run, revision, 2, version: 2), Cancel)).ShouldNotBeNull();
        (await Packs.OfJobAsync(job, Cancel)).Select(p => p.Version).ShouldBe([2, 1]);
    }

    [Fact]
    public async Task One_link_is_out_at_a_time_and_leads_nowhere_once_withdrawn()
    {
        var id = await SignedAsync();
        var (first, second) = (new string('a', 40), new string('b', 40));
        await Packs.ShareAsync(id, first, shelf.Ada.Id, 730, Cancel);
        (await Packs.BySharedTokenAsync(first, Cancel))!.Id.ShouldBe(id);
        ((await Packs.FindAsync(id, Cancel))!.SharedUntil!.Value - DateTimeOffset.UtcNow).TotalDays.ShouldBe(730, 0.1);
        await Task.WhenAll(Enumerable.Range(0, 4).Select(n => Packs.ShareAsync(id, $"{second[1..]}{n}", shelf.Ada.Id, 1, Cancel)));
        (await Packs.BySharedTokenAsync(first, Cancel)).ShouldBeNull();
        var open = new List<int>();
        for (var n = 0; n < 4; n++)
        {
            if (await Packs.BySharedTokenAsync($"{second[1..]}{n}", Cancel) is not null)
            {
                open.Add(n);
            }
        }

        open.ShouldHaveSingleItem("of four at once one is out");
        await Packs.RenewAsync(id, 10, Cancel);
        ((await Packs.FindAsync(id, Cancel))!.SharedUntil!.Value - DateTimeOffset.UtcNow).TotalDays.ShouldBe(10, 0.1);
        await Packs.RenewAsync(id, -1, Cancel);
        (await Packs.BySharedTokenAsync($"{second[1..]}{open[0]}", Cancel)).ShouldBeNull("it has expired");
        (await Packs.FindAsync(id, Cancel))!.SharedUntil.ShouldBeNull();
        await Packs.WithdrawAsync(id, Cancel);
        await Packs.RenewAsync(id, 10, Cancel);
        (await Packs.FindAsync(id, Cancel))!.SharedUntil.ShouldBeNull("what is withdrawn is not renewed");
        await Packs.ShareAsync(id, second, shelf.Ada.Id, 730, Cancel);
        (await Packs.BySharedTokenAsync(second, Cancel))!.Id.ShouldBe(id);
        (await Packs.BySharedTokenAsync(first, Cancel)).ShouldBeNull("a withdrawn link does not come back");
    }
}
