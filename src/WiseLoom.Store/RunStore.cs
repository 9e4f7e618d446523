using System.Text.Json;
using Npgsql;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;

namespace WiseLoom.Store;

/// <summary>A run at the bench with the plan it was started with.</summary>
public sealed record Run(long Id, long JobId, long RevisionId, ShopMeter Meter, TestPlan Plan, string StartedBy, DateTimeOffset StartedAt);

/// <summary>A reading as the client sends it.</summary>
/// <param name="Key">Made by the client; sending it twice changes nothing.</param>
/// <param name="FromMeter">Taken by the instrument, not typed.</param>
public sealed record NewReading(Guid Key, int Step, Reading Reading, Verdict Verdict, bool FromMeter, DateTimeOffset TakenAt);

/// <summary>A stored reading.</summary>
public sealed record StoredReading(Guid Key, long Order, int Step, Reading Reading, Verdict Verdict, bool FromMeter, string TakenBy, DateTimeOffset TakenAt, string Meter);

/// <summary>A stored skip.</summary>
public sealed record StoredSkip(long Order, int Step, string Reason, string SkippedBy, DateTimeOffset SkippedAt);

/// <summary>A step that an earlier revision's run proved.</summary>
public sealed record StoredCarried(int Step, long FromRun, int FromStep, string Words);

/// <summary>Runs, their readings and skips.</summary>
public sealed class RunStore(NpgsqlDataSource source)
{
    private const string SelectRun = """
        select r.id, r.job_id, r.revision_id, m.id, m.name, m.profile, m.host, m.port, r.plan, p.name, r.started_at
        from runs r join meters m on m.id = r.meter_id join people p on p.id = r.started_by
        """;

    private const string SelectReading = """
        select d.key, d.event_order, d.step, d.ohm, d.volt, d.verdict, d.source, p.name, d.taken_at, m.name
        from readings d join people p on p.id = d.taken_by join meters m on m.id = d.meter_id
        """;

    public Task<long> StartAsync(long jobId, long revisionId, long meterId, TestPlan plan, Guid startedBy, CancellationToken cancel) =>
        new Sql(source, """
            insert into runs (job_id, revision_id, meter_id, plan, started_by)
            values (@job, @revision, @meter, @plan, @by) returning id
            """)
            .With("job", jobId).With("revision", revisionId).With("meter", meterId)
            .WithJson("plan", JsonSerializer.Serialize(plan, PlanJson.Options)).With("by", startedBy)
            .ScalarAsync<long>(cancel);

    public Task<Run?> FindAsync(long id, CancellationToken cancel) =>
        new Sql(source, SelectRun + " where r.id = @id").With("id", id).FirstAsync(ReadRun, cancel);

    /// <summary>Stores one reading, or finds that it is stored already.</summary>
    /// <returns>The stored row, which is the first one that came with this key; null when the key belongs to another run or step.</returns>
    public async Task<StoredReading?> AddReadingAsync(long runId, long meterId, NewReading reading, Guid takenBy, CancellationToken cancel)
    {
        await new Sql(source, """
            insert into readings (key, run_id, step, ohm, volt, verdict, source, meter_id, taken_by, taken_at)
            values (@key, @run, @step, @ohm, @volt, @verdict, @source, @meter, @by, @at)
            on conflict (key) do nothing
            """)
            .With("key", reading.Key).With("run", runId).With("step", reading.Step)
            .With("ohm", reading.Reading.Ohms, NpgsqlTypes.NpgsqlDbType.Double)
            .With("volt", reading.Reading.Volts, NpgsqlTypes.NpgsqlDbType.Double)
            .With("verdict", Words.Of(reading.Verdict)).With("source", reading.FromMeter ? "meter" : "typed")
            .With("meter", meterId).With("by", takenBy).With("at", reading.TakenAt.ToUniversalTime())
            .RunAsync(cancel).ConfigureAwait(false);
        return await new Sql(source, SelectReading + " where d.key = @key and d.run_id = @run and d.step = @step")
            .With("key", reading.Key).With("run", runId).With("step", reading.Step).FirstAsync(ReadReading, cancel).ConfigureAwait(false);
    }

    /// <summary>All readings of a run, in the order in which they were stored.</summary>
    public Task<List<StoredReading>> ReadingsAsync(long runId, CancellationToken cancel) =>
        new Sql(source, SelectReading + " where d.run_id = @run order by d.event_order").With("run", runId).ListAsync(ReadReading, cancel);

    /// <summary>Leaves a step out; doing so twice with one key changes nothing.</summary>
    public Task SkipAsync(long runId, Guid key, int step, string reason, Guid skippedBy, CancellationToken cancel) =>
        new Sql(source, "insert into skips (key, run_id, step, reason, skipped_by) values (@key, @run, @step, @reason, @by) on conflict (key) do nothing")
            .With("key", key).With("run", runId).With("step", step).With("reason", reason).With("by", skippedBy).RunAsync(cancel);

    public Task<List<StoredSkip>> SkipsAsync(long runId, CancellationToken cancel) =>
        new Sql(source, """
            select s.event_order, s.step, s.reason, p.name, s.skipped_at
            from skips s join people p on p.id = s.skipped_by where s.run_id = @run order by s.event_order
            """)
            .With("run", runId)
            .ListAsync(row => new StoredSkip(row.GetInt64(0), row.GetInt32(1), row.GetString(2), row.GetString(3), row.GetFieldValue<DateTimeOffset>(4)), cancel);

    /// <summary>Notes the steps that an earlier run has proven for this one.</summary>
    public async Task CarryAsync(long runId, IEnumerable<StoredCarried> steps, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(steps);
        var all = steps.ToList();
        await new Sql(source, """
            insert into carried_steps (run_id, step, from_run_id, from_step, words)
            select @run, * from unnest(@steps, @runs, @fromSteps, @words) on conflict do nothing
            """)
            .With("run", runId).With("steps", all.ConvertAll(c => c.Step).ToArray()).With("runs", all.ConvertAll(c => c.FromRun).ToArray())
            .With("fromSteps", all.ConvertAll(c => c.FromStep).ToArray()).With("words", all.ConvertAll(c => c.Words).ToArray())
            .RunAsync(cancel).ConfigureAwait(false);
    }

    public Task<List<StoredCarried>> CarriedAsync(long runId, CancellationToken cancel) =>
        new Sql(source, "select step, from_run_id, from_step, words from carried_steps where run_id = @run order by step").With("run", runId)
            .ListAsync(row => new StoredCarried(row.GetInt32(0), row.GetInt64(1), row.GetInt32(2), row.GetString(3)), cancel);

    /// <summary>Remembers where a person stands, so that coming back leads to the same step.</summary>
    public Task StandAtAsync(long runId, Guid person, int step, CancellationToken cancel) =>
        new Sql(source, """
            insert into run_positions (run_id, person, step) values (@run, @person, @step)
            on conflict (run_id, person) do update set step = excluded.step
            """)
            .With("run", runId).With("person", person).With("step", step).RunAsync(cancel);

    /// <summary>Where a person stood last; 0 when never here.</summary>
    public async Task<int> PositionAsync(long runId, Guid person, CancellationToken cancel) =>
        (await new Sql(source, "select step from run_positions where run_id = @run and person = @person")
            .With("run", runId).With("person", person).ListAsync(row => row.GetInt32(0), cancel).ConfigureAwait(false)).FirstOrDefault();

    private static Run ReadRun(NpgsqlDataReader row) => new(
        row.GetInt64(0),
        row.GetInt64(1),
        row.GetInt64(2),
        new ShopMeter(row.GetInt64(3), row.GetString(4), row.GetString(5), row.TextOrNull(6), row.ValueOrNull<int>(7)),
        JsonSerializer.Deserialize<TestPlan>(row.GetString(8), PlanJson.Options)!,
        row.GetString(9),
        row.GetFieldValue<DateTimeOffset>(10));

    private static StoredReading ReadReading(NpgsqlDataReader row) => new(
        row.GetGuid(0),
        row.GetInt64(1),
        row.GetInt32(2),
        new Reading(row.DoubleOrNull(3), row.DoubleOrNull(4)),
        Words.Verdict(row.GetString(5)),
        row.GetString(6) == "meter",
        row.GetString(7),
        row.GetFieldValue<DateTimeOffset>(8),
        row.GetString(9));
}
