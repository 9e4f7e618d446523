using System.Text.Json;
using System.Text.Json.Nodes;
using DbUp;
using Npgsql;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests;

/// <summary>A database from before runs had one record each: what was in it is in it after.</summary>
public sealed class MigrationTests(Shop shop)
{
    private const string Before = """
        insert into people (id, sign_in, name, role, password_hash) values
            ('00000000-0000-4000-8000-000000000001', 'mira', 'Mira Solstad', 'technician', 'x'), ('00000000-0000-4000-8000-000000000002', 'ada', 'Ada Quill', 'lead', 'x');
        insert into meters (name, profile) values ('Bench meter', 'bench-four-wire');
        insert into jobs (customer, machine, made_by) values ('Hollow Lane Orchards', 'Tower fan', '00000000-0000-4000-8000-000000000001');
        insert into loom_revisions (job_id, name, revision, document, imported_by) select 1, 'Small', 'A', @loom, '00000000-0000-4000-8000-000000000001' from generate_series(1, 2);
        insert into runs (job_id, revision_id, meter_id, plan, started_by, started_at) values
            (1, 1, 1, @plan, '00000000-0000-4000-8000-000000000001', '2031-03-04T08:00Z'), (1, 2, 1, @plan, '00000000-0000-4000-8000-000000000002', '2031-03-05T08:00Z');
        insert into carried_steps (run_id, step, from_run_id, from_step, words) values (2, 3, 1, 3, 'carried over from revision A');
        insert into readings (key, run_id, step, ohm, verdict, source, meter_id, taken_by, taken_at, stored_at) values
            ('00000000-0000-4000-8000-00000000000a', 1, 1, 1.2, 'fail', 'typed', 1, '00000000-0000-4000-8000-000000000001', '2031-03-04T08:01Z', '2031-03-04T08:01Z'),
            ('00000000-0000-4000-8000-00000000000b', 1, 2, 0.042, 'pass', 'meter', 1, '00000000-0000-4000-8000-000000000001', '2031-03-04T08:02Z', '2031-03-04T08:02Z');
        insert into faults (key, run_id, number, step, seen, reading_key, ranked, logged_by, logged_at) values
            ('00000000-0000-4000-8000-00000000000c', 1, 1, 1, 'reads 1.2 Ω', '00000000-0000-4000-8000-00000000000a', @ranked, '00000000-0000-4000-8000-000000000001', '2031-03-04T08:03Z');
        insert into fault_events (key, fault_id, kind, body, made_by, made_at) values
            ('00000000-0000-4000-8000-00000000000d', 1, 'cause', '{"words":"Poor crimp"}', '00000000-0000-4000-8000-000000000001', '2031-03-04T08:04Z'),
            ('00000000-0000-4000-8000-00000000000e', 1, 'fix', '{"did":"re-crimp","places":["A:1"],"minutes":5,"retests":[1,3]}', '00000000-0000-4000-8000-000000000001', '2031-03-04T08:05Z');
        insert into readings (key, run_id, step, ohm, verdict, source, meter_id, taken_by, taken_at, stored_at) values
            ('00000000-0000-4000-8000-00000000000f', 1, 1, 0.042, 'pass', 'typed', 1, '00000000-0000-4000-8000-000000000001', '2031-03-04T08:06Z', '2031-03-04T08:06Z');
        insert into skips (key, run_id, step, reason, skipped_by, skipped_at) values
            ('00000000-0000-4000-8000-000000000010', 1, 3, 'No plug', '00000000-0000-4000-8000-000000000002', '2031-03-04T08:07Z');
        insert into packs (job_id, run_id, version, changes, model, html, signed_by, signed_at) values
            (1, 1, 1, '', '{}', '<body></body>', '00000000-0000-4000-8000-000000000002', '2031-03-04T08:08Z');
        insert into shares (token, pack_id, made_by, made_at) select repeat(chr(96 + n), 40), 1, '00000000-0000-4000-8000-000000000002', '2031-03-04T09:00Z'::timestamptz + n * interval '1 minute' from generate_series(1, 3) n;
        """;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Readings_faults_fixes_skips_carried_proof_and_signatures_become_one_numbered_list_of_each_run()
    {
        var database = new NpgsqlConnectionStringBuilder(shop.Database) { Database = $"migrate_{Guid.NewGuid():n}" }.ConnectionString;
        EnsureDatabase.For.PostgresqlDatabase(database, new DbUp.Engine.Output.NoOpUpgradeLog());
        DeployChanges.To.PostgresqlDatabase(database)
            .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly, name => string.CompareOrdinal(name.Split("Migrations.")[1], "0008") < 0)
            .LogToNowhere().Build().PerformUpgrade().Successful.ShouldBeTrue();
        var loom = LoomReader.Read(ImportTests.Small).Loom!;
        var plan = Planner.Plan(loom, PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, 20, CopperTolerance.Usual));
        var written = JsonNode.Parse(JsonSerializer.Serialize(plan, CoreJson.Options))!.AsObject();
        written.Remove("copper");
        await FillAsync(database, written.ToJsonString());

        Database.Migrate(database);

        await using var source = NpgsqlDataSource.Create(database);
        var runs = new RunStore(source);
        var old = (await runs.FindAsync(1, Cancel))!;
        (await runs.PlanAsync(old.PlanHash, Cancel)).ShouldBeEquivalentTo(plan, "a plan from before the limits is one by the usual ones");
        old.SetAside.ShouldBeTrue();
        var events = await runs.EventsAsync(1, 0, Cancel);
        events.Select(e => e.Number).ShouldBe(Enumerable.Range(1, 9).Select(n => (long)n));
        events.Select(e => e.What.GetType().Name).ShouldBe(
            ["ReadingTaken", "ReadingTaken", "FaultLogged", "CauseNamed", "FixMade", "ReadingTaken", "StepSkipped", "PackSigned", "RunSetAside"]);
        events[2].What.ShouldBeOfType<FaultLogged>().Ranked.ShouldHaveSingleItem().Faults.ShouldHaveSingleItem().ShouldBe(new ResistiveFault("W1", 1.16));
        events.Select(e => e.What).OfType<ReadingTaken>().Select(r => r.Seen).ShouldBe([0, 1, 5]);
        var run = BenchRun.Begin(loom, plan).After(events);
        Enumerable.Range(1, 3).Select(n => run[n].State).ShouldBe([StepState.Pass, StepState.Pass, StepState.Skipped]);
        run.Summary().Pack.ShouldBe(1);

        var next = (await runs.CurrentOfAsync(1, Cancel))!;
        next.Id.ShouldBe(2);
        (await runs.EventsAsync(2, 0, Cancel)).ShouldHaveSingleItem().What.ShouldBe(new ProofCarried(3, 1, 3, "carried over from revision A"));
        (await runs.WithoutSummaryAsync(Cancel)).Count.ShouldBe(2);
        await runs.SummariseAsync(1, 9, run.Summary(), Cancel);
        (await new LoomStore(source).OfJobAsync(1, Cancel)).Select(r => r.Revision).ShouldBe(["A (2)", "A"]);
        (await new PackStore(source).OfJobAsync(1, Cancel)).ShouldHaveSingleItem().SharedUntil.ShouldNotBeNull();
        (await new PackStore(source).BySharedTokenAsync(new('c', 40), Cancel)).ShouldNotBeNull("the link that was out leads there still");
    }

    private static async Task FillAsync(string database, string plan)
    {
        await using var connection = new NpgsqlConnection(database);
        await connection.OpenAsync(Cancel);
        foreach (var statement in Before.Split(";\n", StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            await using var command = new NpgsqlCommand(statement, connection);
            command.Parameters.Add(new("plan", NpgsqlTypes.NpgsqlDbType.Jsonb) { Value = plan });
            command.Parameters.Add(new("loom", NpgsqlTypes.NpgsqlDbType.Jsonb) { Value = System.Text.Encoding.UTF8.GetString(ImportTests.Small) });
            command.Parameters.Add(new("ranked", NpgsqlTypes.NpgsqlDbType.Jsonb)
            {
                Value = """[{"fault":{"kind":"resistive","wire":"W1","ohm":1.16},"sentence":"x","explains":1,"of":1,"against":0,"places":["A:1"]}]""",
            });
            await command.ExecuteNonQueryAsync(Cancel);
        }
    }
}
