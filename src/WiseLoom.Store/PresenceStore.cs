using Npgsql;
using NpgsqlTypes;

namespace WiseLoom.Store;

/// <summary>Somebody on a run.</summary>
/// <param name="Step">Where they stood last.</param>
/// <param name="Check">The check of the power-up at which they stand; null while they are at the bench.</param>
/// <param name="SeenAt">When their page last said so.</param>
/// <param name="Takes">Refs of the connectors whose steps they do.</param>
public sealed record OnRun(Guid Person, string Name, int Step, string? Check, DateTimeOffset SeenAt, IReadOnlyList<string> Takes);

/// <summary>Who stands where in a run, and who took which connectors.</summary>
public sealed class PresenceStore(NpgsqlDataSource source)
{
    /// <summary>Somebody whose page has said nothing for so long is not there.</summary>
    public static TimeSpan Absent { get; } = TimeSpan.FromSeconds(60);

    // Others are told of a step that changed, and of somebody who comes back; a page that only says that it is still there tells nobody.
    private const string Stand = """
        with before as (select step, check_id, seen_at from run_positions where run_id = @run and person = @person),
             now as (insert into run_positions (run_id, person, step, check_id) values (@run, @person, coalesce(@step, 1), @check)
                     on conflict (run_id, person) do update set step = coalesce(@step, run_positions.step), check_id = @check, seen_at = now() returning run_id, step)
        select pg_notify('wise_loom_job', r.job_id || ' ' || r.id || ' people')::text
        from runs r join now on now.run_id = r.id
        where not exists (select from before where before.step = now.step and before.check_id is not distinct from @check and seen_at > now() - @absent)
        """;

    /// <summary>Remembers where a person stands, so that others see it and coming back leads to the same step.</summary>
    public Task StandAtAsync(long runId, Guid person, int step, CancellationToken cancel) => StandAsync(runId, person, step, null, cancel);

    /// <summary>Remembers that a person stands at a check of the power-up; their step at the bench stays.</summary>
    public Task StandAtCheckAsync(long runId, Guid person, string check, CancellationToken cancel) => StandAsync(runId, person, null, check, cancel);

    private async Task StandAsync(long runId, Guid person, int? step, string? check, CancellationToken cancel) =>
        await new Sql(source, Stand).With("run", runId).With("person", person).With("step", step, NpgsqlDbType.Integer).With("check", check, NpgsqlDbType.Text).With("absent", Absent).FirstAsync(row => row.GetString(0), cancel).ConfigureAwait(false);

    /// <summary>Where a person stood last; 0 when never here.</summary>
    public async Task<int> PositionAsync(long runId, Guid person, CancellationToken cancel) =>
        (await new Sql(source, "select step from run_positions where run_id = @run and person = @person")
            .With("run", runId).With("person", person).ListAsync(row => row.GetInt32(0), cancel).ConfigureAwait(false)).FirstOrDefault();

    /// <summary>Everybody who ever stood in a run, the latest first; at most 50.</summary>
    public Task<List<OnRun>> OfAsync(long runId, CancellationToken cancel) =>
        new Sql(source, """
            select o.person, p.name, o.step, o.check_id, o.seen_at, o.takes
            from run_positions o join people p on p.id = o.person where o.run_id = @run order by o.seen_at desc limit 50
            """)
            .With("run", runId).ListAsync(row => new OnRun(row.GetGuid(0), row.GetString(1), row.GetInt32(2), row.IsDBNull(3) ? null : row.GetString(3), row.GetFieldValue<DateTimeOffset>(4), row.GetFieldValue<string[]>(5)), cancel);

    /// <summary>Takes connectors for a person, in place of those they had.</summary>
    /// <param name="over">Whether those that others hold are taken over.</param>
    /// <returns>Name of somebody who holds one of them, and which; null when they are taken.</returns>
    public Task<(string Name, string Connector)?> TakeAsync(long runId, Guid person, IReadOnlyList<string> connectors, bool over, CancellationToken cancel) =>
        source.TogetherAsync<(string, string)?>(async transaction =>
        {
            // The run's row is the lock: two who take the same connector at once come one after the other.
            await new Sql(transaction, "select id from runs where id = @run for update").With("run", runId).RunAsync(cancel).ConfigureAwait(false);
            if (over)
            {
                await new Sql(transaction, "update run_positions set takes = array(select unnest(takes) except select unnest(@connectors)) where run_id = @run and person <> @person")
                    .With("run", runId).With("person", person).With("connectors", connectors.ToArray()).RunAsync(cancel).ConfigureAwait(false);
            }
            else if ((await new Sql(transaction, """
                select p.name, t.ref from run_positions o join people p on p.id = o.person cross join lateral unnest(o.takes) t (ref)
                where o.run_id = @run and o.person <> @person and t.ref = any(@connectors) order by t.ref limit 1
                """)
                .With("run", runId).With("person", person).With("connectors", connectors.ToArray()).ListAsync(row => (row.GetString(0), row.GetString(1)), cancel).ConfigureAwait(false)) is [var held, ..])
            {
                return held;
            }

            await new Sql(transaction, """
                insert into run_positions (run_id, person, step, takes) values (@run, @person, 1, @connectors)
                on conflict (run_id, person) do update set takes = excluded.takes, seen_at = now()
                """)
                .With("run", runId).With("person", person).With("connectors", connectors.ToArray()).RunAsync(cancel).ConfigureAwait(false);
            await new Sql(transaction, "select pg_notify('wise_loom_job', job_id || ' ' || id || ' people') from runs where id = @run").With("run", runId).RunAsync(cancel).ConfigureAwait(false);
            return null;
        }, held => held is null, cancel);
}
