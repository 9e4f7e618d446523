using Npgsql;
using WiseLoom.Core.Runs;

namespace WiseLoom.Store;

/// <summary>A job of the shop, with what belongs to it by now.</summary>
/// <param name="WaitingFor">What holds it, as somebody wrote it; null when nothing does.</param>
/// <param name="Version">Rises with each change; the ETag.</param>
/// <param name="RevisionId">Its newest loom revision; null before the first import.</param>
/// <param name="RunId">Its current run at the bench, when that is on the newest revision; null otherwise.</param>
/// <param name="Run">What that run comes to.</param>
/// <param name="PackVersion">Its newest pack; null before the first.</param>
/// <param name="Language">Code of the language of its papers for the customer.</param>
public sealed record Job(
    long Id,
    string Customer,
    string Machine,
    DateOnly? Promised,
    Guid? Assigned,
    string? AssignedName,
    string? WaitingFor,
    int Version,
    long? RevisionId,
    string? LoomName,
    string? Revision,
    long? RunId,
    RunSummary? Run,
    int? PackVersion,
    string Language);

/// <summary>What can be said about a job by hand.</summary>
/// <param name="Language">Code of the language of its papers for the customer; null for as it is, English at first.</param>
public sealed record JobFields(string Customer, string Machine, DateOnly? Promised, Guid? Assigned, string? WaitingFor, string? Language = null);

/// <summary>The shop's jobs.</summary>
public sealed class JobStore(NpgsqlDataSource source)
{
    private const string Select = """
        select j.id, j.customer, j.machine, j.promised, j.assigned, p.name, j.waiting_for, j.version,
               v.id, v.name, v.revision, r.id, r.summary, k.version, j.language
        from jobs j
        left join people p on p.id = j.assigned
        left join lateral (select id, name, revision from loom_revisions where job_id = j.id order by id desc limit 1) v on true
        left join runs r on r.job_id = j.id and not r.set_aside and r.revision_id = v.id
        left join lateral (select version from packs where job_id = j.id order by version desc limit 1) k on true
        """;

    /// <summary>Jobs, newest first.</summary>
    /// <param name="before">Cursor: only jobs with a smaller number; null for the first page.</param>
    public Task<List<Job>> ListAsync(long? before, int most, CancellationToken cancel) =>
        new Sql(source, Select + " where j.id < @before order by j.id desc limit @most")
            .With("before", before ?? long.MaxValue).With("most", most).ListAsync(Read, cancel);

    public Task<Job?> FindAsync(long id, CancellationToken cancel) =>
        new Sql(source, Select + " where j.id = @id").With("id", id).FirstAsync(Read, cancel);

    public Task<long> AddAsync(JobFields job, Guid madeBy, CancellationToken cancel) =>
        Fields(new(source, """
            insert into jobs (customer, machine, promised, assigned, waiting_for, made_by, language)
            values (@customer, @machine, @promised, @assigned, @waitingFor, @madeBy, coalesce(@language, 'en')) returning id
            """), job).With("madeBy", madeBy).ScalarAsync<long>(cancel);

    /// <summary>Changes a job when nobody else has since.</summary>
    /// <returns>False when the job is no longer at <paramref name="version"/>.</returns>
    public async Task<bool> UpdateAsync(long id, int version, JobFields job, CancellationToken cancel) =>
        await Fields(new(source, """
            update jobs set customer = @customer, machine = @machine, promised = @promised, assigned = @assigned,
                   waiting_for = @waitingFor, language = coalesce(@language, language), version = version + 1
            where id = @id and version = @version
            """), job).With("id", id).With("version", version).RunAsync(cancel).ConfigureAwait(false) == 1;

    private static Sql Fields(Sql sql, JobFields job) => sql
        .With("customer", job.Customer).With("machine", job.Machine)
        .With("promised", job.Promised, NpgsqlTypes.NpgsqlDbType.Date)
        .With("assigned", job.Assigned, NpgsqlTypes.NpgsqlDbType.Uuid)
        .With("waitingFor", job.WaitingFor, NpgsqlTypes.NpgsqlDbType.Text)
        .With("language", job.Language, NpgsqlTypes.NpgsqlDbType.Text);

    private static Job Read(NpgsqlDataReader row) => new(
        row.GetInt64(0),
        row.GetString(1),
        row.GetString(2),
        row.ValueOrNull<DateOnly>(3),
        row.ValueOrNull<Guid>(4),
        row.TextOrNull(5),
        row.TextOrNull(6),
        row.GetInt32(7),
        row.ValueOrNull<long>(8),
        row.TextOrNull(9),
        row.TextOrNull(10),
        row.ValueOrNull<long>(11),
        row.SummaryOrNull(12),
        row.ValueOrNull<int>(13),
        row.GetString(14));
}
