using Npgsql;

namespace WiseLoom.Store;

/// <summary>What a new shop has done by now.</summary>
/// <param name="PutAway">Whether somebody put the list away.</param>
/// <param name="Accounts">Whether more than one person can come in.</param>
/// <param name="Meter">Whether a meter is entered.</param>
/// <param name="Loom">The job of the first loom; null before it.</param>
/// <param name="Measured">Whether a reading was taken.</param>
/// <param name="HandedOver">Whether a pack was signed.</param>
public sealed record FirstHour(bool PutAway, bool Accounts, bool Meter, long? Loom, bool Measured, bool HandedOver);

/// <summary>How far a new shop has come.</summary>
public sealed class FirstHourStore(NpgsqlDataSource source)
{
    public async Task<FirstHour> LookAsync(CancellationToken cancel) =>
        (await new Sql(source, """
            select exists (select from first_hour_put_away),
                   (select count(*) from (select from people where not disabled limit 2) p) > 1,
                   exists (select from meters where not retired),
                   (select min(job_id) from loom_revisions),
                   exists (select from run_events where kind = 'reading'),
                   exists (select from packs)
            """)
            .FirstAsync(row => new FirstHour(row.GetBoolean(0), row.GetBoolean(1), row.GetBoolean(2), row.ValueOrNull<long>(3), row.GetBoolean(4), row.GetBoolean(5)), cancel).ConfigureAwait(false))!;

    /// <summary>Puts the list away for good; a second time changes nothing.</summary>
    public Task PutAwayAsync(Guid by, CancellationToken cancel) =>
        new Sql(source, "insert into first_hour_put_away (by) values (@by) on conflict do nothing").With("by", by).RunAsync(cancel);
}
