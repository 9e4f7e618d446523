using System.Collections.Immutable;
using Npgsql;
using WiseLoom.Core.Pinouts;
using WiseLoom.Core.Shop;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests.Stores;

/// <summary>What a shop has beside its jobs: people, meters, families, limits, sheets, merges.</summary>
public sealed class ShopStoreTests(Shelf shelf) : IClassFixture<Shelf>
{
    private static readonly SheetLine Line = new("X1", "1", "Fan relay", "output", "RD", "1.0", "");

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static Sheet Sheet(string title, params SheetLine[] lines) => new(title, [new("X1", "Fan plug", "round-2")], [.. lines]);

    [Fact]
    public async Task A_person_is_found_by_the_sign_in_in_any_case_and_a_taken_name_stays_whose_it_is()
    {
        var people = new PeopleStore(shelf.Source);
        (await people.BySignInAsync("MIRA", Cancel)).ShouldBe(new Person(shelf.Mira.Id, "mira", "Mira Solstad", "technician", "x"));
        await people.AddAsync(new(Guid.CreateVersion7(), "mira", "Somebody else", "lead", "y"), Cancel);
        (await people.BySignInAsync("mira", Cancel))!.Role.ShouldBe("technician");
        (await people.BySignInAsync("nobody", Cancel)).ShouldBeNull();
        (await people.AllAsync(Cancel)).Select(p => p.Name).ShouldBe(["Ada Quill", "Mira Solstad"]);
    }

    [Theory]
    [InlineData("Mira", "Mira", "technician")]
    [InlineData("x", "Too short", "technician")]
    [InlineData("newcomer", "", "technician")]
    [InlineData("newcomer", "Newcomer", "owner")]
    public async Task The_database_itself_refuses_people_that_cannot_be(string signIn, string name, string role) =>
        (await Should.ThrowAsync<PostgresException>(() => new PeopleStore(shelf.Source).AddAsync(new(Guid.CreateVersion7(), signIn, name, role, "x"), Cancel)))
            .SqlState.ShouldBe(PostgresErrorCodes.CheckViolation);

    [Fact]
    public async Task A_meter_that_is_put_again_keeps_its_number_and_gets_the_new_address()
    {
        var meters = new MeterStore(shelf.Source);
        var id = await meters.PutAsync("Hand meter", "hand-two-wire", null, null, Cancel);
        (await meters.PutAsync("Hand meter", "hand-two-wire", "127.0.0.1", 5025, Cancel)).ShouldBe(id);
        (await meters.FindAsync(id, Cancel)).ShouldBe(new ShopMeter(id, "Hand meter", "hand-two-wire", "127.0.0.1", 5025));
        (await meters.AllAsync(Cancel)).Count(m => m.Name == "Hand meter").ShouldBe(1);
        (await meters.FindAsync(long.MaxValue, Cancel)).ShouldBeNull();
        (await meters.FindAsync(id, Cancel))!.Describe().Name.ShouldBe("Hand meter");
        (await Should.ThrowAsync<PostgresException>(() => meters.PutAsync("No port", "hand-two-wire", "127.0.0.1", null, Cancel))).SqlState.ShouldBe(PostgresErrorCodes.CheckViolation);
    }

    [Fact]
    public async Task A_meter_is_held_by_one_and_another_meter_does_not_wait()
    {
        var meters = new MeterStore(shelf.Source);
        static ShopMeter At(long id, string? port = null) => new(id, $"Meter {id}", "hand-two-wire", null, null) { Serial = port is null ? null : new(port) };
        var (first, other) = (At(1), At(2));
        Task<IAsyncDisposable?> waiting;
        await using (await meters.HoldAsync(first, Cancel))
        {
            waiting = meters.HoldAsync(first, Cancel);
            await using (await meters.HoldAsync(other, Cancel))
            {
                waiting.IsCompleted.ShouldBeFalse();
            }
        }

        await using var next = (await waiting).ShouldNotBeNull();
        using var gone = CancellationTokenSource.CreateLinkedTokenSource(Cancel);
        var impatient = meters.HoldAsync(first, gone.Token);
        await gone.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(() => impatient);

        // Two that are entered at one port, the second by a link to it, wait for each other.
        var link = Path.Combine(Path.GetTempPath(), $"port-{Guid.NewGuid():n}");
        File.CreateSymbolicLink(link, "/dev/null");
        await using (await meters.HoldAsync(At(3, "/dev/null"), Cancel))
        {
            waiting = meters.HoldAsync(At(4, link), Cancel);
            await using (await meters.HoldAsync(At(5, "/dev/ttyUSB-none"), Cancel))
            {
                waiting.IsCompleted.ShouldBeFalse();
            }
        }

        await using var linked = (await waiting).ShouldNotBeNull();
        File.Delete(link);
    }

    [Fact]
    public async Task A_family_is_added_once_and_changed_by_one_at_a_time()
    {
        var library = new LibraryStore(shelf.Source);
        (await library.AddFamilyAsync("round-9", """{"id":"round-9"}""", shelf.Ada.Id, Cancel)).ShouldBeTrue();
        (await library.AddFamilyAsync("round-9", """{"id":"round-9","lost":true}""", shelf.Ada.Id, Cancel)).ShouldBeFalse();
        var answers = await Task.WhenAll(Enumerable.Range(0, 5).Select(n => library.ChangeFamilyAsync("round-9", 1, $$"""{"id": "round-9", "n": {{n}}}""", shelf.Ada.Id, Cancel)));
        answers.Count(stored => stored).ShouldBe(1);
        (await library.FamilyAsync("round-9", Cancel)).ShouldBe(new StoredFamily("round-9", $$"""{"n": {{Array.IndexOf(answers, true)}}, "id": "round-9"}""", 2));
        (await library.FamiliesAsync(Cancel)).ShouldContain(f => f.Id == "round-9");
        (await library.FamilyAsync("none", Cancel)).ShouldBeNull();
    }

    [Fact]
    public async Task Device_types_and_synonyms_are_kept_the_synonyms_by_version()
    {
        var library = new LibraryStore(shelf.Source);
        await library.AddDeviceTypeAsync("pump", """{"id":"pump"}""", Cancel);
        await library.AddDeviceTypeAsync("pump", """{"id":"pump","lost":true}""", Cancel);
        (await library.DeviceTypesAsync(Cancel)).ShouldBe(["""{"id": "pump"}"""]);
        var before = await library.SynonymsAsync(Cancel);
        (await library.ChangeSynonymsAsync(before.Version, """[["fan", "blower"]]""", Cancel)).ShouldBeTrue();
        (await library.ChangeSynonymsAsync(before.Version, """[["lost"]]""", Cancel)).ShouldBeFalse();
        (await library.SynonymsAsync(Cancel)).ShouldBe(new StoredSynonyms("""[["fan", "blower"]]""", before.Version + 1));
    }

    [Fact]
    public async Task Limits_begin_with_the_usual_ones_and_of_many_changes_of_one_version_one_is_kept()
    {
        var limits = new LimitStore(shelf.Source);
        var before = await limits.LatestAsync(Cancel);
        (before.Version, before.Limits.Copper, before.ChangedBy).ShouldBe((0, ShopLimits.Usual.Copper, null));
        var answers = await Task.WhenAll(Enumerable.Range(1, 6).Select(n =>
            limits.ChangeAsync(0, ShopLimits.Usual with { Copper = ShopLimits.Usual.Copper with { LengthMm = n } }, shelf.Ada.Id, Cancel)));
        answers.Count(stored => stored).ShouldBe(1);
        var now = await limits.LatestAsync(Cancel);
        (now.Version, now.Limits.Copper.LengthMm, now.ChangedBy).ShouldBe((1, Array.IndexOf(answers, true) + 1, "Ada Quill"));
        now.Limits.Cable.Table.ShouldBe(ShopLimits.Usual.Cable.Table);
        (await limits.ChangeAsync(1, ShopLimits.Usual, shelf.Ada.Id, Cancel)).ShouldBeTrue();
    }

    [Fact]
    public async Task A_sheet_keeps_what_it_said_before_and_who_vouched_for_which_line()
    {
        var sheets = new SheetStore(shelf.Source);
        var id = await sheets.AddAsync(Sheet("Fan controller", Line), "traced", "from the loom on the bench", shelf.Mira.Id, Cancel);
        await sheets.ConfirmAsync(id, Guid.CreateVersion7(), Line, "loom", shelf.Ada.Id, Cancel);
        var key = Guid.CreateVersion7();
        await sheets.ConfirmAsync(id, key, Line, "running", shelf.Mira.Id, Cancel);
        await sheets.ConfirmAsync(id, key, Line, "running", shelf.Mira.Id, Cancel);
        (await sheets.ChangeAsync(id, 1, Sheet("Fan controller 2", Line with { Function = "Pump relay" }), "supplier-sheet", "", shelf.Ada.Id, Cancel)).ShouldBeTrue();
        (await sheets.ChangeAsync(id, 1, Sheet("Lost"), "traced", "", shelf.Ada.Id, Cancel)).ShouldBeFalse();

        var now = (await sheets.FindAsync(id, Cancel))!;
        (now.Sheet.Title, now.Sheet.Lines[0].Function, now.Source, now.Version, now.ChangedBy).ShouldBe(("Fan controller 2", "Pump relay", "supplier-sheet", 2, "Ada Quill"));
        (await sheets.ConfirmationsAsync(id, Cancel)).Select(c => (c.Function, c.How, c.By)).ShouldBe([("Fan relay", "loom", "Ada Quill"), ("Fan relay", "running", "Mira Solstad")]);
        (await sheets.AllAsync(Cancel)).ShouldContain(s => s.Id == id);
        await using var old = shelf.Source.CreateCommand($"select title from sheet_versions where sheet_id = {id} and version = 1");
        (await old.ExecuteScalarAsync(Cancel)).ShouldBe("Fan controller");
    }

    [Fact]
    public async Task The_last_decision_about_a_loose_wire_holds()
    {
        var sheets = new SheetStore(shelf.Source);
        var id = await sheets.AddAsync(Sheet("Loose", Line), "traced", "", shelf.Mira.Id, Cancel);
        var key = Guid.CreateVersion7();
        await sheets.DecideAsync(id, key, "X1", "1", "keep-insulated", "spare 1", 150, "", shelf.Mira.Id, Cancel);
        await sheets.DecideAsync(id, Guid.CreateVersion7(), "X1", "1", "cut-back", "", 0, "no longer there", shelf.Ada.Id, Cancel);
        await sheets.DecideAsync(id, key, "X1", "1", "keep-insulated", "sent twice", 150, "", shelf.Mira.Id, Cancel);
        var row = (await sheets.LooseAsync(id, "X1", Cancel)).ShouldHaveSingleItem();
        (row.Decision, row.Note, row.By).ShouldBe(("cut-back", "no longer there", "Ada Quill"));
        (await sheets.LooseAsync(id, "X2", Cancel)).ShouldBeEmpty();
    }

    [Fact]
    public async Task A_merge_keeps_its_sides_decisions_work_and_ticks()
    {
        var (merges, job) = (new MergeStore(shelf.Source), await shelf.JobAsync());
        var id = await merges.AddAsync("Fan to pump", job, new(1, null, []), new(null, 2, ["C1", "C2"]), shelf.Mira.Id, Cancel);
        var begun = (await merges.FindAsync(id, Cancel))!;
        (begun.Title, begun.JobId, begun.Left.Sheet, begun.Version, begun.DraftId, begun.MadeBy).ShouldBe(("Fan to pump", job, 1, 1, null, "Mira Solstad"));
        begun.Right.Connectors.ShouldBe(["C1", "C2"]);
        begun.Decisions.ShouldBeEquivalentTo(MergeDecisions.None);
        begun.Work.ShouldBeEmpty();

        (await merges.DecideAsync(id, 1, MergeDecisions.None with { UsualMm = 250 }, Cancel)).ShouldBeTrue();
        (await merges.DecideAsync(id, 1, MergeDecisions.None with { UsualMm = 1 }, Cancel)).ShouldBeFalse();
        var draft = (await new DraftStore(shelf.Source).OpenAsync(job, null, "{}", shelf.Mira.Id, Cancel)).ShouldNotBeNull();
        ImmutableArray<WorkItem> work = [new("w1", default, "join", "Join A and B"), new("w2", default, "cap", "Cap C")];
        await merges.MadeAsync(id, work, draft, Cancel);
        var made = (await merges.FindAsync(id, Cancel))!;
        (made.Decisions.UsualMm, made.Version, made.DraftId).ShouldBe((250, 3, draft));
        made.Work.ShouldBe(work);

        var key = Guid.CreateVersion7();
        await merges.TickAsync(id, key, "w1", true, shelf.Mira.Id, Cancel);
        await merges.TickAsync(id, Guid.CreateVersion7(), "w1", false, shelf.Ada.Id, Cancel);
        await merges.TickAsync(id, key, "w1", true, shelf.Mira.Id, Cancel);
        await merges.TickAsync(id, Guid.CreateVersion7(), "w2", true, shelf.Ada.Id, Cancel);
        (await merges.TicksAsync(id, Cancel)).Select(t => (t.Item, t.Done, t.By)).ShouldBe([("w1", false, "Ada Quill"), ("w2", true, "Ada Quill")]);
    }

    [Fact]
    public void Keys_of_cookies_are_kept_once_by_their_name()
    {
        var keys = new CookieKeyStore(shelf.Source);
        keys.Add("key-2", "<b/>");
        keys.Add("key-1", "<a/>");
        keys.Add("key-1", "<lost/>");
        keys.All().ShouldBe(["<a/>", "<b/>"]);
    }

    [Fact]
    public async Task A_database_that_is_brought_up_again_by_many_at_once_stays_as_it_is()
    {
        var id = await shelf.JobAsync("Kept fan");
        await using var where = await shelf.Source.OpenConnectionAsync(Cancel);
        var server = Environment.GetEnvironmentVariable("WISELOOM_TEST_DB")!;
        var connection = new NpgsqlConnectionStringBuilder(server) { Database = where.Database }.ConnectionString;
        await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Task.Run(() => Database.Migrate(connection), Cancel)));
        (await new JobStore(shelf.Source).FindAsync(id, Cancel))!.Machine.ShouldBe("Kept fan");
    }
}
