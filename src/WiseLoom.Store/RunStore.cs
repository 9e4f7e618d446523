using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Npgsql;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Store;

/// <summary>A run without its plan and events.</summary>
/// <param name="PlanHash">Under which its plan is kept.</param>
public sealed record RunHead(long Id, long JobId, long RevisionId, ShopMeter Meter, string PlanHash, string StartedBy, DateTimeOffset StartedAt, bool SetAside, RunSummary? Summary);

/// <summary>A run that another takes the place of.</summary>
/// <param name="LastEvent">Number of its last event as it was looked at: what comes after it keeps the other from being started.</param>
public sealed record Replaced(long Id, long LastEvent);

/// <summary>A run to be started.</summary>
/// <param name="Replaces">The job's current run as it was looked at, which is set aside by it; null where there is none.</param>
/// <param name="Events">What it starts with, numbered from 1.</param>
public sealed record NewRun(
    long JobId, long RevisionId, long MeterId, TestPlan Plan, Hand By, DateTimeOffset At, Replaced? Replaces, IReadOnlyList<Happened> Events, RunSummary Summary);

/// <summary>What came of adding events to a run.</summary>
public enum Appended
{
    /// <summary>They are stored for good.</summary>
    Stored,

    /// <summary>Somebody else's event came first: look at what is new, and decide again.</summary>
    Overtaken,

    /// <summary>One of their keys is an event of another run.</summary>
    KeyTaken,
}

/// <summary>When a step was read.</summary>
/// <param name="At">By the clock of whoever did it.</param>
public sealed record ReadingTime(long Run, string PlanHash, int Step, DateTimeOffset At);

/// <summary>Runs and their events.</summary>
public sealed class RunStore(NpgsqlDataSource source)
{
    private const string SelectHead = $"""
        select r.id, r.job_id, r.revision_id, r.plan_hash, p.name, r.started_at, r.set_aside, r.summary, {ShopMeter.Columns}
        from runs r join meters m on m.id = r.meter_id join people p on p.id = r.started_by
        """;

    // The run's own row is the lock: whoever comes second waits for it, and then finds that its number is taken.
    private const string Append = """
        with head as (update runs set last_event = @last, summary = @summary where id = @run and last_event = @expected returning id, job_id),
             added as (insert into run_events (run_id, number, key, body, made_by, made_at)
                       select head.id, e.number, e.key, e.body::jsonb, e.by, e.at
                       from head, unnest(@numbers, @keys, @bodies, @bys, @ats) as e (number, key, body, by, at))
        select pg_notify('wise_loom_job', job_id || ' ' || id || ' ' || @last)::text from head
        """;

    /// <summary>A run by its number; null when there is none.</summary>
    public Task<RunHead?> FindAsync(long id, CancellationToken cancel) =>
        new Sql(source, SelectHead + " where r.id = @id").With("id", id).FirstAsync(ReadHead, cancel);

    /// <summary>The job's current run, whichever revision it is on; null before the first.</summary>
    public Task<RunHead?> CurrentOfAsync(long jobId, CancellationToken cancel) =>
        new Sql(source, SelectHead + " where r.job_id = @job and not r.set_aside").With("job", jobId).FirstAsync(ReadHead, cancel);

    /// <summary>Most runs of one job: whoever opens one works out what all before it left.</summary>
    public const int MostOfJob = 200;

    /// <summary>The run that a run took the place of; null for a job's first.</summary>
    public async Task<long?> BeforeAsync(long runId, CancellationToken cancel) =>
        (await new Sql(source, "select b.id from runs b join runs r on r.job_id = b.job_id where r.id = @run and b.id < r.id order by b.id desc limit 1").With("run", runId)
            .ListAsync(row => (long?)row.GetInt64(0), cancel).ConfigureAwait(false)).FirstOrDefault();

    /// <summary>How many runs a job has, those that were set aside included.</summary>
    public Task<long> CountAsync(long jobId, CancellationToken cancel) => new Sql(source, "select count(*) from runs where job_id = @job").With("job", jobId).ScalarAsync<long>(cancel);

    /// <summary>A plan by its hash; null when no run has it.</summary>
    public async Task<TestPlan?> PlanAsync(string hash, CancellationToken cancel) =>
        await new Sql(source, "select body::text from plans where hash = @hash").With("hash", hash).FirstAsync(row => row.GetString(0), cancel).ConfigureAwait(false) is { } body
            ? JsonSerializer.Deserialize<TestPlan>(body, CoreJson.Options)
            : null;

    /// <summary>When a person took which step in their latest runs with a meter.</summary>
    /// <returns>Of the meter's latest eight runs, at most 4,000 readings.</returns>
    public Task<List<ReadingTime>> TimesAsync(Guid person, long meterId, CancellationToken cancel) =>
        new Sql(source, """
            select r.id, r.plan_hash, (e.body ->> 'step')::int, e.made_at
            from (select id, plan_hash from runs where meter_id = @meter order by id desc limit 8) r join run_events e on e.run_id = r.id
            where e.kind = 'reading' and e.made_by = @person order by r.id desc, e.number desc limit 4000
            """)
            .With("meter", meterId).With("person", person)
            .ListAsync(row => new ReadingTime(row.GetInt64(0), row.GetString(1), row.GetInt32(2), row.GetFieldValue<DateTimeOffset>(3)), cancel);

    /// <summary>Events of a run after one of them, in order.</summary>
    /// <param name="after">Number of the last that is known; 0 for all.</param>
    public Task<List<Happened>> EventsAsync(long runId, long after, CancellationToken cancel) =>
        new Sql(source, """
            select e.number, e.key, e.made_by, p.name, e.made_at, e.body::text
            from run_events e join people p on p.id = e.made_by where e.run_id = @run and e.number > @after order by e.number
            """)
            .With("run", runId).With("after", after)
            .ListAsync(
                row => new Happened(
                    row.GetInt64(0),
                    row.GetGuid(1),
                    new(row.GetGuid(2), row.GetString(3)),
                    row.GetFieldValue<DateTimeOffset>(4),
                    JsonSerializer.Deserialize<RunEvent>(row.GetString(5), CoreJson.Options)!),
                cancel);

    /// <summary>Adds events to a run, in one statement, when nothing came after the one that they were decided on.</summary>
    /// <param name="expected">Number of that event; the first of <paramref name="events"/> is the next one.</param>
    /// <param name="summary">What the run comes to with them.</param>
    public async Task<Appended> AppendAsync(long runId, long expected, IReadOnlyList<Happened> events, RunSummary summary, CancellationToken cancel)
    {
        try
        {
            return await Appending(new Sql(source, Append), runId, expected, events, summary).FirstAsync(row => row.GetString(0), cancel).ConfigureAwait(false) is null
                ? Appended.Overtaken
                : Appended.Stored;
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.UniqueViolation)
        {
            return Appended.KeyTaken;
        }
    }

    /// <summary>Which keys are events of other runs.</summary>
    public Task<List<Guid>> KeysOfOthersAsync(long runId, IEnumerable<Guid> keys, CancellationToken cancel) =>
        new Sql(source, "select key from run_events where key = any(@keys) and run_id <> @run").With("keys", keys.ToArray()).With("run", runId).ListAsync(row => row.GetGuid(0), cancel);

    /// <summary>Starts a run in place of the job's current one.</summary>
    /// <returns>Its number; null when the current run or the newest revision is no longer the one that was looked at.</returns>
    public async Task<long?> StartAsync(NewRun run, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(run);
        return await source.TogetherAsync<long?>(async transaction =>
        {
            await JobLock.TakeAsync(transaction, run.JobId, cancel).ConfigureAwait(false);
            var current = await new Sql(transaction, """
                select coalesce((select id from runs where job_id = @job and not set_aside), 0) = @replaces
                   and (select count(*) from runs where job_id = @job) < @most
                   and (select max(id) from loom_revisions where job_id = @job) = @revision
                """)
                .With("job", run.JobId).With("replaces", run.Replaces?.Id ?? 0).With("most", MostOfJob).With("revision", run.RevisionId).ScalarAsync<bool>(cancel).ConfigureAwait(false);
            if (!current)
            {
                return null;
            }

            if (run.Replaces is { } old && !await SetAsideAsync(transaction, old, run, cancel).ConfigureAwait(false))
            {
                return null;
            }

            var plan = JsonSerializer.Serialize(run.Plan, CoreJson.Options);
            var hash = Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(plan)));
            await new Sql(transaction, "insert into plans (hash, body) values (@hash, @body) on conflict (hash) do nothing")
                .With("hash", hash).WithJson("body", plan).RunAsync(cancel).ConfigureAwait(false);
            var id = await new Sql(transaction, """
                insert into runs (job_id, revision_id, meter_id, plan_hash, started_by, started_at, summary)
                values (@job, @revision, @meter, @hash, @by, @at, @summary) returning id
                """)
                .With("job", run.JobId).With("revision", run.RevisionId).With("meter", run.MeterId).With("hash", hash)
                .With("by", run.By.Id).With("at", run.At.ToUniversalTime()).WithJson("summary", Json(run.Summary)).ScalarAsync<long>(cancel).ConfigureAwait(false);
            if (run.Events.Count > 0)
            {
                await Appending(new Sql(transaction, Append), id, 0, run.Events, run.Summary).RunAsync(cancel).ConfigureAwait(false);
            }
            else
            {
                await new Sql(transaction, "select pg_notify('wise_loom_job', @job || ' ' || @run || ' 0')").With("job", run.JobId).With("run", id).RunAsync(cancel).ConfigureAwait(false);
            }

            return id;
        }, id => id is not null, cancel).ConfigureAwait(false);
    }

    /// <summary>Runs whose summary has not been worked out since the schema got one.</summary>
    public Task<List<RunHead>> WithoutSummaryAsync(CancellationToken cancel) =>
        new Sql(source, SelectHead + " where r.summary is null order by r.id").ListAsync(ReadHead, cancel);

    /// <summary>Fills in a summary that is missing, unless an event has done so since.</summary>
    public Task SummariseAsync(long runId, long last, RunSummary summary, CancellationToken cancel) =>
        new Sql(source, "update runs set summary = @summary where id = @run and last_event = @last and summary is null")
            .With("run", runId).With("last", last).WithJson("summary", Json(summary)).RunAsync(cancel);

    /// <summary>The statement that adds events, with its parameters.</summary>
    internal static Sql Appending(NpgsqlTransaction transaction, long runId, long expected, IReadOnlyList<Happened> events, RunSummary summary) =>
        Appending(new Sql(transaction, Append), runId, expected, events, summary);

    private static Sql Appending(Sql sql, long runId, long expected, IReadOnlyList<Happened> events, RunSummary summary) => sql
        .With("run", runId).With("expected", expected).With("last", events[^1].Number).WithJson("summary", Json(summary))
        .With("numbers", events.Select(e => e.Number).ToArray()).With("keys", events.Select(e => e.Key).ToArray())
        .With("bodies", events.Select(e => JsonSerializer.Serialize(e.What, CoreJson.Options)).ToArray())
        .With("bys", events.Select(e => e.By.Id).ToArray()).With("ats", events.Select(e => e.At.ToUniversalTime()).ToArray());

    private static async Task<bool> SetAsideAsync(NpgsqlTransaction transaction, Replaced old, NewRun run, CancellationToken cancel) =>
        await new Sql(transaction, """
            with head as (update runs set set_aside = true, last_event = last_event + 1 where id = @old and last_event = @last returning id, last_event)
            insert into run_events (run_id, number, key, body, made_by, made_at)
            select id, last_event, @key, @body, @by, @at from head
            """)
            .With("old", old.Id).With("last", old.LastEvent).With("key", Guid.CreateVersion7()).WithJson("body", JsonSerializer.Serialize<RunEvent>(new RunSetAside(), CoreJson.Options))
            .With("by", run.By.Id).With("at", run.At.ToUniversalTime()).RunAsync(cancel).ConfigureAwait(false) == 1;

    private static string Json(RunSummary summary) => JsonSerializer.Serialize(summary, CoreJson.Options);

    private static RunHead ReadHead(NpgsqlDataReader row) => new(
        row.GetInt64(0),
        row.GetInt64(1),
        row.GetInt64(2),
        ShopMeter.Read(row, 8),
        row.GetString(3),
        row.GetString(4),
        row.GetFieldValue<DateTimeOffset>(5),
        row.GetBoolean(6),
        row.SummaryOrNull(7));
}

/// <summary>Run summaries in columns.</summary>
internal static class SummaryColumn
{
    internal static RunSummary? SummaryOrNull(this NpgsqlDataReader row, int column) =>
        row.TextOrNull(column) is { } json ? JsonSerializer.Deserialize<RunSummary>(json, CoreJson.Options) : null;
}
