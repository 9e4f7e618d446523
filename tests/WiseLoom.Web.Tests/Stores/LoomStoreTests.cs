using System.Text.Json.Nodes;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests.Stores;

/// <summary>Revisions and drafts: one newest, no name twice, and nobody's work passed over.</summary>
public sealed class LoomStoreTests(Shelf shelf) : IClassFixture<Shelf>
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private LoomStore Looms => new(shelf.Source);

    private DraftStore Drafts => new(shelf.Source);

    private static string Named(string revision)
    {
        var document = JsonNode.Parse(Shelf.Document)!;
        document["loom"]!["revision"] = revision;
        return document.ToJsonString();
    }

    private Task<RevisionStored> AddAsync(long job, long? after, string revision) =>
        Looms.AddAsync(new(job, after, Shelf.Loom with { Revision = revision }, Named(revision), shelf.Mira.Id), Cancel);

    private async Task<Draft> DraftAsync(long job, long? from, string revision = "B") =>
        (await Drafts.FindAsync((await Drafts.OpenAsync(job, from, Named(revision), shelf.Mira.Id, Cancel)).ShouldNotBeNull(), Cancel))!;

    [Fact]
    public async Task Revisions_stand_newest_first_with_who_brought_them_and_their_files_whole()
    {
        var (job, first) = await shelf.JobWithLoomAsync();
        var second = (await AddAsync(job, first, "B")).ShouldBeOfType<RevisionStored.As>().Id;
        var entries = await Looms.OfJobAsync(job, Cancel);
        entries.Select(e => (e.Id, e.Revision, e.By, e.BaseRevisionId)).ShouldBe([(second, "B", "Mira Solstad", null), (first, "A", "Mira Solstad", null)]);
        JsonNode.DeepEquals(JsonNode.Parse((await Looms.DocumentAsync(second, Cancel))!), JsonNode.Parse(Named("B"))).ShouldBeTrue();
        (await Looms.EntryAsync(first, Cancel))!.Name.ShouldBe(Shelf.Loom.Name);
        (await Looms.NewestAsync(Cancel)).ShouldContain(e => e.JobId == job && e.Id == second);
        (await Looms.NewestAsync(Cancel)).ShouldNotContain(e => e.Id == first);
        (await Looms.EntryAsync(long.MaxValue, Cancel)).ShouldBeNull();
        (await Looms.DocumentAsync(long.MaxValue, Cancel)).ShouldBeNull();
    }

    [Fact]
    public async Task A_revision_follows_the_one_that_was_looked_at_and_has_a_name_of_its_own()
    {
        var (job, first) = await shelf.JobWithLoomAsync();
        (await AddAsync(job, null, "B")).ShouldBeOfType<RevisionStored.Overtaken>();
        (await AddAsync(job, first, "A")).ShouldBeOfType<RevisionStored.NameTaken>();
        (await AddAsync(job, first, "B")).ShouldBeOfType<RevisionStored.As>();
        (await AddAsync(job, first, "C")).ShouldBeOfType<RevisionStored.Overtaken>();
        (await AddAsync(await shelf.JobAsync(), null, "A")).ShouldBeOfType<RevisionStored.As>("names are a job's own");
    }

    [Fact]
    public async Task Of_many_that_come_in_at_once_one_is_the_newest()
    {
        var (job, first) = await shelf.JobWithLoomAsync();
        var answers = await Task.WhenAll(Enumerable.Range(0, 8).Select(n => AddAsync(job, first, $"R{n % 2}")));
        answers.OfType<RevisionStored.As>().ShouldHaveSingleItem();
        answers.OfType<RevisionStored.Overtaken>().Count().ShouldBe(7);
    }

    [Fact]
    public async Task A_draft_is_written_by_one_at_a_time_and_not_once_it_is_closed()
    {
        var (job, first) = await shelf.JobWithLoomAsync();
        var draft = await DraftAsync(job, first);
        (draft.JobId, draft.BaseRevisionId, draft.Version, draft.ChangedBy, draft.Closed).ShouldBe((job, first, 1, "Mira Solstad", null));
        (await Drafts.OpenAsync(job, first, "{}", shelf.Ada.Id, Cancel)).ShouldBeNull("one open draft a job");
        var answers = await Task.WhenAll(Enumerable.Range(0, 6).Select(n => Drafts.WriteAsync(draft.Id, 1, System.Text.Encoding.UTF8.GetBytes(Named($"N{n}")), shelf.Ada.Id, Cancel)));
        answers.Count(stored => stored).ShouldBe(1);
        var now = (await Drafts.OpenOfAsync(job, Cancel))!;
        (now.Version, now.ChangedBy, now.Document).ShouldBe((2, "Ada Quill", Named($"N{Array.IndexOf(answers, true)}")));
        (await Drafts.VersionAsync(draft.Id, Cancel)).ShouldBe(2);
        (await Drafts.VersionAsync(long.MaxValue, Cancel)).ShouldBeNull();

        (await Drafts.PutAwayAsync(draft.Id, true, shelf.Mira.Id, Cancel)).ShouldBeTrue();
        (await Drafts.WriteAsync(draft.Id, 2, System.Text.Encoding.UTF8.GetBytes(Named("Z")), shelf.Mira.Id, Cancel)).ShouldBeFalse();
        (await Drafts.ReleaseAsync(now, first, Shelf.Loom with { Revision = "Z" }, shelf.Mira.Id, Cancel)).ShouldBeOfType<RevisionStored.DraftChanged>();
    }

    [Fact]
    public async Task A_draft_put_away_comes_out_again_unless_another_is_open()
    {
        var job = await shelf.JobAsync();
        var first = await DraftAsync(job, null);
        (await Drafts.PutAwayAsync(first.Id, false, shelf.Mira.Id, Cancel)).ShouldBeFalse("it is open");
        (await Drafts.PutAwayAsync(first.Id, true, shelf.Mira.Id, Cancel)).ShouldBeTrue();
        (await Drafts.PutAwayOfAsync(job, Cancel))!.Id.ShouldBe(first.Id);
        var second = await DraftAsync(job, null, "C");
        (await Drafts.PutAwayAsync(first.Id, false, shelf.Mira.Id, Cancel)).ShouldBeFalse("another is open");
        (await Drafts.PutAwayAsync(second.Id, true, shelf.Mira.Id, Cancel)).ShouldBeTrue();
        (await Drafts.PutAwayAsync(first.Id, false, shelf.Mira.Id, Cancel)).ShouldBeTrue();
        (await Drafts.OpenOfAsync(job, Cancel))!.Document.ShouldBe(first.Document);
    }

    [Fact]
    public async Task A_release_is_the_text_that_was_read_after_the_revision_that_was_seen_and_only_once()
    {
        var (job, first) = await shelf.JobWithLoomAsync();
        var draft = await DraftAsync(job, first);
        var loom = Shelf.Loom with { Revision = "B" };
        (await Drafts.ReleaseAsync(draft, null, loom, shelf.Ada.Id, Cancel)).ShouldBeOfType<RevisionStored.Overtaken>();
        (await Drafts.ReleaseAsync(draft, first, Shelf.Loom, shelf.Ada.Id, Cancel)).ShouldBeOfType<RevisionStored.NameTaken>();
        (await Drafts.OpenOfAsync(job, Cancel)).ShouldNotBeNull("what was refused left the draft open");

        await Drafts.WriteAsync(draft.Id, 1, System.Text.Encoding.UTF8.GetBytes(Named("B2")), shelf.Mira.Id, Cancel);
        (await Drafts.ReleaseAsync(draft, first, loom, shelf.Ada.Id, Cancel)).ShouldBeOfType<RevisionStored.DraftChanged>("somebody wrote after it was read");
        var read = (await Drafts.FindAsync(draft.Id, Cancel))!;
        var answers = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Drafts.ReleaseAsync(read, first, Shelf.Loom with { Revision = "B2" }, shelf.Ada.Id, Cancel)));
        var released = answers.OfType<RevisionStored.As>().ShouldHaveSingleItem().Id;
        (await Looms.EntryAsync(released, Cancel))!.BaseRevisionId.ShouldBe(first);
        (await Drafts.FindAsync(draft.Id, Cancel))!.Closed.ShouldBe("released");
        (await Drafts.PutAwayAsync(draft.Id, false, shelf.Mira.Id, Cancel)).ShouldBeFalse("released is released");
    }
}
