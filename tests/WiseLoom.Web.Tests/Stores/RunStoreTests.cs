using WiseLoom.Core.Runs;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests.Stores;

/// <summary>Runs in the database: numbered without a gap, whoever comes first, and back as they went in.</summary>
public sealed class RunStoreTests(Shelf shelf) : IClassFixture<Shelf>
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private RunStore Runs => new(shelf.Source);

    private PresenceStore Presence => new(shelf.Source);

    [Fact]
    public async Task Every_kind_of_event_comes_back_as_it_went_in()
    {
        var (_, _, run) = await shelf.JobWithRunAsync();
        RunEvent[] what =
        [
            new ReadingTaken(1, new(1.25), Core.Electrical.Verdict.Fail, false, "Bench meter", 0, Bearing.Stands),
            new ReadingTaken(2, Core.Electrical.Reading.OverRange, Core.Electrical.Verdict.Fail, true, "Bench meter", 1, Bearing.Stands),
            new StepSkipped(3, "No plug; “later”"),
            new ProofCarried(2, 7, 4, "carried over from revision A"),
            new FaultLogged(1, 1, "reads 1.25 Ω", Guid.CreateVersion7(), []),
            new CauseNamed(1, new([new Core.Faults.ResistiveFault("W1", 1.2)], "Poor crimp")),
            new ProbeTaken([new("A", "1"), new("A", "2")], null, null, true, true, "Bench meter", 3),
            new SightingTaken(new Core.Sightings.VoltsSeen(Core.Devices.KeyPosition.On, ["no oil pressure"], [], new("A", "1"), 12.5), false, 4),
            new SightingTaken(new Core.Sightings.DeviceAlone("pump", null), true, 5),
            new FaultLogged(2, 0, "the pump does not run", null, []) { Sighted = ["device pump"] },
            new FixMade(1, new("re-crimp", ["A:1", "B:1"], 12.5, "two terminals", "was loose\nbefore", [1, 2])),
            new PackSigned(3),
            new RunSetAside(),
        ];
        Happened[] events = [.. what.Select((e, i) => new Happened(i + 1, Guid.CreateVersion7(), i % 2 == 0 ? shelf.Mira : shelf.Ada, Shelf.Noon.AddSeconds(i), e))];
        (await Runs.AppendAsync(run, 0, events, Shelf.Summary(), Cancel)).ShouldBe(Appended.Stored);
        (await Runs.EventsAsync(run, 0, Cancel)).ShouldBeEquivalentTo(events.ToList());
        (await Runs.EventsAsync(run, 11, Cancel)).Select(e => e.Number).ShouldBe([12, 13]);
        (await Runs.EventsAsync(run, 13, Cancel)).ShouldBeEmpty();
    }

    [Fact]
    public async Task Of_many_who_add_to_the_same_place_one_is_stored_and_the_others_are_told()
    {
        var (_, _, run) = await shelf.JobWithRunAsync();
        for (var last = 0; last < 5; last++)
        {
            var answers = await Task.WhenAll(Enumerable.Range(0, 8).Select(_ =>
                Runs.AppendAsync(run, last, [shelf.Reading(last + 1, 1)], Shelf.Summary(), Cancel)));
            answers.Count(a => a == Appended.Stored).ShouldBe(1);
            answers.Count(a => a == Appended.Overtaken).ShouldBe(7);
        }

        (await Runs.EventsAsync(run, 0, Cancel)).Select(e => e.Number).ShouldBe([1, 2, 3, 4, 5]);
    }

    [Fact]
    public async Task A_key_of_another_run_stores_nothing_of_its_batch_and_leaves_the_summary()
    {
        var (_, _, first) = await shelf.JobWithRunAsync();
        var (_, _, second) = await shelf.JobWithRunAsync();
        var key = Guid.CreateVersion7();
        (await Runs.AppendAsync(first, 0, [shelf.Reading(1, 1, key)], Shelf.Summary(shelf.Reading(1, 1)), Cancel)).ShouldBe(Appended.Stored);
        (await Runs.AppendAsync(second, 0, [shelf.Reading(1, 1), shelf.Reading(2, 2, key)], Shelf.Summary(shelf.Reading(1, 1), shelf.Reading(2, 2)), Cancel)).ShouldBe(Appended.KeyTaken);
        (await Runs.EventsAsync(second, 0, Cancel)).ShouldBeEmpty();
        (await Runs.FindAsync(second, Cancel))!.Summary!.Done.ShouldBe(0);
        (await Runs.KeysOfOthersAsync(second, [key, Guid.CreateVersion7()], Cancel)).ShouldBe([key]);
        (await Runs.KeysOfOthersAsync(first, [key], Cancel)).ShouldBeEmpty();
        (await Runs.AppendAsync(second, 0, [shelf.Reading(1, 1)], Shelf.Summary(shelf.Reading(1, 1)), Cancel)).ShouldBe(Appended.Stored, "the run was not harmed");
    }

    [Fact]
    public async Task Of_many_who_start_one_is_the_current_run_and_the_one_before_says_that_it_was_set_aside()
    {
        var (job, revision, first) = await shelf.JobWithRunAsync();
        await Runs.AppendAsync(first, 0, [shelf.Reading(1, 1)], Shelf.Summary(shelf.Reading(1, 1)), Cancel);
        var started = await Task.WhenAll(Enumerable.Range(0, 6).Select(_ => Runs.StartAsync(shelf.Start(job, revision, first, 1), Cancel)));
        var second = started.Where(s => s is not null).ShouldHaveSingleItem()!.Value;
        (await Runs.StartAsync(shelf.Start(job, revision, second, 5), Cancel)).ShouldBeNull("something was added to it since it was looked at");
        (await Runs.BeforeAsync(second, Cancel)).ShouldBe(first);
        (await Runs.BeforeAsync(first, Cancel)).ShouldBeNull();
        (await Runs.CountAsync(job, Cancel)).ShouldBe(2);
        (await Runs.CurrentOfAsync(job, Cancel))!.Id.ShouldBe(second);
        (await Runs.FindAsync(first, Cancel))!.SetAside.ShouldBeTrue();
        (await Runs.EventsAsync(first, 1, Cancel)).ShouldHaveSingleItem().What.ShouldBe(new RunSetAside());
        (await Runs.AppendAsync(first, 1, [shelf.Reading(2, 2)], Shelf.Summary(), Cancel)).ShouldBe(Appended.Overtaken, "a late reading finds the event that set it aside");
    }

    [Fact]
    public async Task A_run_starts_only_on_the_newest_revision()
    {
        var (job, old) = await shelf.JobWithLoomAsync();
        await new LoomStore(shelf.Source).AddAsync(new(job, old, Shelf.Loom with { Revision = "B" }, Shelf.Document, shelf.Mira.Id), Cancel);
        (await Runs.StartAsync(shelf.Start(job, old, null), Cancel)).ShouldBeNull();
        (await Runs.CurrentOfAsync(job, Cancel)).ShouldBeNull();
    }

    [Fact]
    public async Task The_same_plan_of_two_runs_is_kept_once_and_comes_back_whole()
    {
        var (_, _, first) = await shelf.JobWithRunAsync();
        var (_, _, second) = await shelf.JobWithRunAsync();
        var hash = (await Runs.FindAsync(first, Cancel))!.PlanHash;
        (await Runs.FindAsync(second, Cancel))!.PlanHash.ShouldBe(hash);
        (await Runs.PlanAsync(hash, Cancel)).ShouldBeEquivalentTo(Shelf.Plan);
        (await Runs.PlanAsync("none", Cancel)).ShouldBeNull();
    }

    [Fact]
    public async Task Each_person_comes_back_to_the_own_step()
    {
        var (_, _, run) = await shelf.JobWithRunAsync();
        (await Presence.PositionAsync(run, shelf.Mira.Id, Cancel)).ShouldBe(0);
        await Presence.StandAtAsync(run, shelf.Mira.Id, 2, Cancel);
        await Presence.StandAtAsync(run, shelf.Ada.Id, 1, Cancel);
        await Presence.StandAtAsync(run, shelf.Mira.Id, 3, Cancel);
        (await Presence.PositionAsync(run, shelf.Mira.Id, Cancel), await Presence.PositionAsync(run, shelf.Ada.Id, Cancel)).ShouldBe((3, 1));
    }

    [Fact]
    public async Task A_missing_summary_is_filled_in_unless_an_event_has_done_so()
    {
        var (_, _, run) = await shelf.JobWithRunAsync();
        await using (var empty = shelf.Source.CreateCommand($"update runs set summary = null where id = {run}"))
        {
            await empty.ExecuteNonQueryAsync(Cancel);
        }

        (await Runs.WithoutSummaryAsync(Cancel)).ShouldContain(r => r.Id == run);
        await Runs.SummariseAsync(run, 5, Shelf.Summary(), Cancel);
        (await Runs.FindAsync(run, Cancel))!.Summary.ShouldBeNull("it was worked out for another last event");
        await Runs.SummariseAsync(run, 0, Shelf.Summary(), Cancel);
        (await Runs.FindAsync(run, Cancel))!.Summary.ShouldBe(Shelf.Summary());
    }
}
