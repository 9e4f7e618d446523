using WiseLoom.Store;

namespace WiseLoom.Web.Tests.Stores;

/// <summary>Jobs, and what belongs to each by now.</summary>
public sealed class JobStoreTests(Shelf shelf) : IClassFixture<Shelf>
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private JobStore Jobs => new(shelf.Source);

    [Fact]
    public async Task What_was_said_of_a_job_comes_back_and_a_change_on_an_old_version_is_refused()
    {
        var id = await Jobs.AddAsync(new("Hollow Lane Orchards", "Tower fan", new DateOnly(2031, 4, 1), shelf.Ada.Id, "a pump seal"), shelf.Mira.Id, Cancel);
        var job = (await Jobs.FindAsync(id, Cancel))!;
        (job.Customer, job.Machine, job.Promised, job.Assigned, job.AssignedName, job.WaitingFor, job.Version).ShouldBe(
            ("Hollow Lane Orchards", "Tower fan", new DateOnly(2031, 4, 1), shelf.Ada.Id, "Ada Quill", "a pump seal", 1));
        (job.RevisionId, job.LoomName, job.RunId, job.Run, job.PackVersion).ShouldBe((null, null, null, null, null));

        (await Jobs.UpdateAsync(id, 1, new("Hollow Lane", "Tower fan 2", null, null, null), Cancel)).ShouldBeTrue();
        (await Jobs.UpdateAsync(id, 1, new("Lost", "Lost", null, null, null), Cancel)).ShouldBeFalse();
        job = (await Jobs.FindAsync(id, Cancel))!;
        (job.Customer, job.Machine, job.Promised, job.Assigned, job.AssignedName, job.WaitingFor, job.Version).ShouldBe(("Hollow Lane", "Tower fan 2", null, null, null, null, 2));
        (await Jobs.FindAsync(long.MaxValue, Cancel)).ShouldBeNull();
    }

    [Fact]
    public async Task Of_two_who_change_a_job_at_once_one_is_told()
    {
        var id = await shelf.JobAsync();
        var answers = await Task.WhenAll(Enumerable.Range(0, 8).Select(n => Jobs.UpdateAsync(id, 1, new($"Customer {n}", "Fan", null, null, null), Cancel)));
        answers.Count(stored => stored).ShouldBe(1);
        (await Jobs.FindAsync(id, Cancel))!.Customer.ShouldBe($"Customer {Array.IndexOf(answers, true)}");
    }

    [Fact]
    public async Task Page_after_page_each_job_comes_once_the_newest_first()
    {
        var made = new List<long>();
        for (var i = 0; i < 7; i++)
        {
            made.Add(await shelf.JobAsync($"Fan {i}"));
        }

        var seen = new List<long>();
        long? before = null;
        do
        {
            var page = await Jobs.ListAsync(before, 3, Cancel);
            page.Count.ShouldBeLessThanOrEqualTo(3);
            seen.AddRange(page.Select(j => j.Id));
            before = page.Count == 3 ? page[^1].Id : null;
        }
        while (before is not null);

        seen.ShouldBeUnique();
        seen.ShouldBe(seen.OrderDescending());
        made.ShouldBeSubsetOf(seen);
    }

    [Fact]
    public async Task A_job_stands_with_its_newest_revision_and_the_run_on_that_one()
    {
        var (id, revision, run) = await shelf.JobWithRunAsync();
        var job = (await Jobs.FindAsync(id, Cancel))!;
        (job.RevisionId, job.LoomName, job.Revision, job.RunId, job.Run).ShouldBe((revision, Shelf.Loom.Name, "A", run, Shelf.Summary()));
        var next = (await new LoomStore(shelf.Source).AddAsync(new(id, revision, Shelf.Loom with { Revision = "B" }, Shelf.Document, shelf.Mira.Id), Cancel)).ShouldBeOfType<RevisionStored.As>().Id;
        job = (await Jobs.FindAsync(id, Cancel))!;
        (job.RevisionId, job.Revision, job.RunId, job.Run).ShouldBe((next, "B", null, null), "a run on the old revision says nothing of the new one");
    }
}
