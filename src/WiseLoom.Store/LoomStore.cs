using Npgsql;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Looms;

namespace WiseLoom.Store;

/// <summary>A revision without its document.</summary>
/// <param name="BaseRevisionId">The revision it was reworked from; null when it was brought in as a file.</param>
/// <param name="RunId">Its newest run at the bench; null before the first.</param>
/// <param name="Run">What that run comes to.</param>
public sealed record RevisionEntry(long Id, long JobId, string Name, string Revision, string By, DateTimeOffset At, long? BaseRevisionId, long? RunId, RunSummary? Run);

/// <summary>What came of storing a revision.</summary>
public abstract record RevisionStored
{
    /// <summary>It is the job's newest.</summary>
    public sealed record As(long Id) : RevisionStored;

    /// <summary>The job has a newer loom than the one that was looked at.</summary>
    public sealed record Overtaken : RevisionStored;

    /// <summary>The job has a revision of this name.</summary>
    public sealed record NameTaken : RevisionStored;

    /// <summary>The draft that was to become one was written, released or put away meanwhile.</summary>
    public sealed record DraftChanged : RevisionStored;
}

/// <summary>A revision to be stored.</summary>
/// <param name="After">The job's newest revision as it was looked at; null when it had none.</param>
/// <param name="Document">The file of <paramref name="Loom"/>, read without problems.</param>
/// <param name="BaseRevisionId">The revision it was reworked from; null when it was brought in as a file.</param>
public sealed record NewRevision(long JobId, long? After, Loom Loom, string Document, Guid By, long? BaseRevisionId = null);

/// <summary>Loom documents, one immutable row for each revision.</summary>
public sealed class LoomStore(NpgsqlDataSource source)
{
    /// <summary>Stores a document as the job's newest revision.</summary>
    public async Task<RevisionStored> AddAsync(NewRevision revision, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(revision);
        return await source.TogetherAsync(async transaction =>
        {
            await JobLock.TakeAsync(transaction, revision.JobId, cancel).ConfigureAwait(false);
            return await AddAsync(transaction, revision, cancel).ConfigureAwait(false);
        }, stored => stored is RevisionStored.As, cancel).ConfigureAwait(false);
    }

    /// <summary>The same, for one who holds the job.</summary>
    internal static async Task<RevisionStored> AddAsync(NpgsqlTransaction transaction, NewRevision revision, CancellationToken cancel)
    {
        if (await NewestAsync(transaction, revision.JobId, cancel).ConfigureAwait(false) != (revision.After ?? 0))
        {
            return new RevisionStored.Overtaken();
        }

        var id = (await new Sql(transaction, """
            insert into loom_revisions (job_id, name, revision, document, imported_by, base_revision_id)
            values (@job, @name, @revision, @document, @by, @base) on conflict (job_id, revision) do nothing returning id
            """)
            .With("job", revision.JobId).With("name", revision.Loom.Name).With("revision", revision.Loom.Revision).WithJson("document", revision.Document)
            .With("by", revision.By).With("base", revision.BaseRevisionId, NpgsqlTypes.NpgsqlDbType.Bigint)
            .ListAsync(row => (long?)row.GetInt64(0), cancel).ConfigureAwait(false)).FirstOrDefault();
        return id is { } stored ? new RevisionStored.As(stored) : new RevisionStored.NameTaken();
    }

    private static Task<long> NewestAsync(NpgsqlTransaction transaction, long jobId, CancellationToken cancel) =>
        new Sql(transaction, "select coalesce(max(id), 0) from loom_revisions where job_id = @job").With("job", jobId).ScalarAsync<long>(cancel);

    /// <summary>Revisions of a job, newest first. The newest is the released one; the others are superseded.</summary>
    public Task<List<RevisionEntry>> OfJobAsync(long jobId, CancellationToken cancel) =>
        new Sql(source, SelectEntry + " where v.job_id = @job order by v.id desc").With("job", jobId).ListAsync(ReadEntry, cancel);

    /// <summary>The newest revision of every job, to choose from.</summary>
    public Task<List<RevisionEntry>> NewestAsync(CancellationToken cancel) =>
        new Sql(source, SelectEntry + " where v.id = (select max(id) from loom_revisions where job_id = v.job_id) order by v.job_id desc limit 500").ListAsync(ReadEntry, cancel);

    /// <summary>Revisions of all jobs, the newest first, to copy from.</summary>
    public Task<List<RevisionEntry>> AllAsync(CancellationToken cancel) => new Sql(source, SelectEntry + " order by v.id desc limit 500").ListAsync(ReadEntry, cancel);

    public Task<RevisionEntry?> EntryAsync(long revisionId, CancellationToken cancel) =>
        new Sql(source, SelectEntry + " where v.id = @id").With("id", revisionId).FirstAsync(ReadEntry, cancel);

    /// <summary>The stored document, unknown fields and all; null when there is no such revision.</summary>
    public Task<string?> DocumentAsync(long revisionId, CancellationToken cancel) =>
        new Sql(source, "select document::text from loom_revisions where id = @id").With("id", revisionId).FirstAsync(r => r.GetString(0), cancel);

    private const string SelectEntry = """
        select v.id, v.job_id, v.name, v.revision, p.name, v.imported_at, v.base_revision_id, r.id, r.summary
        from loom_revisions v join people p on p.id = v.imported_by
        left join lateral (select id, summary from runs where revision_id = v.id order by id desc limit 1) r on true
        """;

    private static RevisionEntry ReadEntry(NpgsqlDataReader row) => new(
        row.GetInt64(0), row.GetInt64(1), row.GetString(2), row.GetString(3), row.GetString(4), row.GetFieldValue<DateTimeOffset>(5), row.ValueOrNull<long>(6), row.ValueOrNull<long>(7), row.SummaryOrNull(8));
}
