using System.Collections.Immutable;
using System.Text.Json;
using Npgsql;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Planning;

namespace WiseLoom.Store;

/// <summary>The fault log: rows that are only added.</summary>
public sealed class FaultStore(NpgsqlDataSource source)
{
    /// <summary>Logs a fault; the same key twice finds the first.</summary>
    /// <returns>The fault's id.</returns>
    public async Task<long> AddAsync(long runId, Guid key, int step, string seen, Guid? readingKey, IEnumerable<Cause> ranked, Guid loggedBy, CancellationToken cancel)
    {
        var connection = await source.OpenConnectionAsync(cancel).ConfigureAwait(false);
        await using (connection.ConfigureAwait(false))
        {
            var transaction = await connection.BeginTransactionAsync(cancel).ConfigureAwait(false);
            await using (transaction.ConfigureAwait(false))
            {
                // The run's row is locked so that two faults logged at once get two numbers.
                await new Sql(transaction, "select id from runs where id = @run for update").With("run", runId).RunAsync(cancel).ConfigureAwait(false);
                await new Sql(transaction, """
                    insert into faults (key, run_id, number, step, seen, reading_key, ranked, logged_by)
                    select @key, @run, coalesce(max(number), 0) + 1, @step, @seen, @reading, @ranked, @by from faults where run_id = @run
                    on conflict (key) do nothing
                    """)
                    .With("key", key).With("run", runId).With("step", step).With("seen", seen)
                    .With("reading", readingKey, NpgsqlTypes.NpgsqlDbType.Uuid)
                    .WithJson("ranked", JsonSerializer.Serialize(ranked, PlanJson.Options)).With("by", loggedBy)
                    .RunAsync(cancel).ConfigureAwait(false);
                var id = await new Sql(transaction, "select id from faults where key = @key").With("key", key).ScalarAsync<long>(cancel).ConfigureAwait(false);
                await transaction.CommitAsync(cancel).ConfigureAwait(false);
                return id;
            }
        }
    }

    public Task AddCauseAsync(long faultId, Guid key, CauseFound cause, Guid by, CancellationToken cancel) =>
        AddEventAsync(faultId, key, "cause", JsonSerializer.Serialize(cause, PlanJson.Options), by, cancel);

    public Task AddFixAsync(long faultId, Guid key, FixDone fix, Guid by, CancellationToken cancel) =>
        AddEventAsync(faultId, key, "fix", JsonSerializer.Serialize(fix, PlanJson.Options), by, cancel);

    /// <summary>The run a fault belongs to; null when there is no such fault.</summary>
    public async Task<long?> RunOfAsync(long faultId, CancellationToken cancel) =>
        (await new Sql(source, "select run_id from faults where id = @id").With("id", faultId).ListAsync(row => (long?)row.GetInt64(0), cancel).ConfigureAwait(false)).FirstOrDefault();

    /// <summary>The faults of a run, each with its last cause and last fix.</summary>
    public Task<List<LoggedFault>> OfRunAsync(long runId, CancellationToken cancel) =>
        new Sql(source, """
            select f.id, f.number, f.step, f.seen, f.ranked, p.name, f.logged_at, c.body, x.body, coalesce(x.event_order, 0), x.name
            from faults f
            join people p on p.id = f.logged_by
            left join lateral (select body from fault_events where fault_id = f.id and kind = 'cause' order by event_order desc limit 1) c on true
            left join lateral (select e.body, e.event_order, q.name from fault_events e join people q on q.id = e.made_by
                               where e.fault_id = f.id and e.kind = 'fix' order by e.event_order desc limit 1) x on true
            where f.run_id = @run order by f.number
            """).With("run", runId).ListAsync(Read, cancel);

    private Task<int> AddEventAsync(long faultId, Guid key, string kind, string body, Guid by, CancellationToken cancel) =>
        new Sql(source, "insert into fault_events (key, fault_id, kind, body, made_by) values (@key, @fault, @kind, @body, @by) on conflict (key) do nothing")
            .With("key", key).With("fault", faultId).With("kind", kind).WithJson("body", body).With("by", by).RunAsync(cancel);

    private static LoggedFault Read(NpgsqlDataReader row) => new(
        row.GetInt64(0),
        row.GetInt32(1),
        row.GetInt32(2),
        row.GetString(3),
        JsonSerializer.Deserialize<ImmutableArray<Cause>>(row.GetString(4), PlanJson.Options),
        row.GetString(5),
        row.GetFieldValue<DateTimeOffset>(6),
        row.TextOrNull(7) is { } cause ? JsonSerializer.Deserialize<CauseFound>(cause, PlanJson.Options) : null,
        row.TextOrNull(8) is { } fix ? JsonSerializer.Deserialize<FixDone>(fix, PlanJson.Options) : null,
        row.GetInt64(9),
        row.TextOrNull(10));
}
