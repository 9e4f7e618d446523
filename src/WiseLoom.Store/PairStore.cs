using System.Text.Json;
using Npgsql;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Store;

/// <summary>A reading of one pair, in whichever run.</summary>
/// <param name="Step">As that run's plan had it.</param>
/// <param name="AmbientC">Temperature that the run was judged at.</param>
public sealed record PairReading(long Job, string Machine, string Revision, long Run, string Meter, double AmbientC, PlanStep Step, Happened Event);

/// <summary>What the shop has ever read between two places.</summary>
public sealed class PairStore(NpgsqlDataSource source)
{
    /// <summary>So many runs are looked into: this loom's own first, then the newest.</summary>
    public const int MostRuns = 200;

    /// <summary>So many of the last readings of one run are given.</summary>
    public const int MostOfEach = 20;

    /// <summary>So many readings are given: this loom's own first, then the newest.</summary>
    public const int MostReadings = 2000;

    /// <summary>Readings of a pair that must be joined, in all runs of a job and of all other jobs whose loom has the same name.</summary>
    /// <returns>This job's first, each from the newest; at most <see cref="MostReadings"/>, out of <see cref="MostRuns"/> runs.</returns>
    public Task<List<PairReading>> OfAsync(long job, ProbePoint a, ProbePoint b, CancellationToken cancel) =>
        new Sql(source, """
            with same as (select distinct name from loom_revisions where job_id = @job),
                 looked as (select r.id, r.job_id, r.plan_hash, r.meter_id, v.revision
                            from runs r join loom_revisions v on v.id = r.revision_id where v.name in (select name from same) order by r.job_id = @job desc, r.id desc limit @runs)
            select j.id, j.machine, l.revision, l.id, m.name, (p.body ->> 'ambientC')::double precision, s.step::text,
                   e.number, e.key, e.made_by, who.name, e.made_at, e.body::text
            from looked l
            join plans p on p.hash = l.plan_hash
            cross join lateral (select x as step from jsonb_array_elements(p.body -> 'steps') x
                                where x ->> 'kind' = 'continuity' and ((x -> 'black' = @a and x -> 'red' = @b) or (x -> 'black' = @b and x -> 'red' = @a)) limit 1) s
            join jobs j on j.id = l.job_id join meters m on m.id = l.meter_id
            cross join lateral (select * from run_events x where x.run_id = l.id and x.kind = 'reading' and (x.body -> 'step') = (s.step -> 'number')
                                order by x.number desc limit @each) e
            join people who on who.id = e.made_by
            order by l.job_id = @job desc, e.made_at desc, e.number desc limit @readings
            """)
            .With("job", job).WithJson("a", JsonSerializer.Serialize(a, CoreJson.Options)).WithJson("b", JsonSerializer.Serialize(b, CoreJson.Options)).With("runs", MostRuns).With("each", MostOfEach).With("readings", MostReadings)
            .ListAsync(
                row => new PairReading(
                    row.GetInt64(0), row.GetString(1), row.GetString(2), row.GetInt64(3), row.GetString(4), row.GetDouble(5),
                    JsonSerializer.Deserialize<PlanStep>(row.GetString(6), CoreJson.Options)!,
                    new(row.GetInt64(7), row.GetGuid(8), new(row.GetGuid(9), row.GetString(10)), row.GetFieldValue<DateTimeOffset>(11), JsonSerializer.Deserialize<RunEvent>(row.GetString(12), CoreJson.Options)!)),
                cancel);
}
