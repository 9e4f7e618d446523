using Npgsql;
using WiseLoom.Core.Looms;

namespace WiseLoom.Store;

/// <summary>A revision without its document.</summary>
/// <param name="BaseRevisionId">The revision it was reworked from; null when it was brought in as a file.</param>
/// <param name="RunId">Its newest run at the bench; null before the first.</param>
public sealed record RevisionEntry(long Id, long JobId, string Name, string Revision, string By, DateTimeOffset At, long? BaseRevisionId, long? RunId);

/// <summary>Loom documents, one immutable row for each revision.</summary>
public sealed class LoomStore(NpgsqlDataSource source)
{
    /// <summary>Stores a document that has been read without problems.</summary>
    /// <returns>The revision's number.</returns>
    public Task<long> AddAsync(long jobId, Loom loom, string document, Guid importedBy, CancellationToken cancel) =>
        new Sql(source, """
            insert into loom_revisions (job_id, name, revision, document, imported_by)
            values (@job, @name, @revision, @document, @by) returning id
            """)
            .With("job", jobId).With("name", loom.Name).With("revision", loom.Revision).WithJson("document", document).With("by", importedBy)
            .ScalarAsync<long>(cancel);

    /// <summary>Revisions of a job, newest first. The newest is the released one; the others are superseded.</summary>
    public Task<List<RevisionEntry>> OfJobAsync(long jobId, CancellationToken cancel) =>
        new Sql(source, SelectEntry + " where v.job_id = @job order by v.id desc").With("job", jobId).ListAsync(ReadEntry, cancel);

    /// <summary>The newest revision of every job, to choose from.</summary>
    public Task<List<RevisionEntry>> NewestAsync(CancellationToken cancel) =>
        new Sql(source, SelectEntry + " where v.id = (select max(id) from loom_revisions where job_id = v.job_id) order by v.job_id desc limit 500").ListAsync(ReadEntry, cancel);

    public Task<RevisionEntry?> EntryAsync(long revisionId, CancellationToken cancel) =>
        new Sql(source, SelectEntry + " where v.id = @id").With("id", revisionId).FirstAsync(ReadEntry, cancel);

    /// <summary>The stored document, unknown fields and all; null when there is no such revision.</summary>
    public Task<string?> DocumentAsync(long revisionId, CancellationToken cancel) =>
        new Sql(source, "select document::text from loom_revisions where id = @id").With("id", revisionId).FirstAsync(r => r.GetString(0), cancel);

    private const string SelectEntry = """
        select v.id, v.job_id, v.name, v.revision, p.name, v.imported_at, v.base_revision_id,
               (select r.id from runs r where r.revision_id = v.id order by r.id desc limit 1)
        from loom_revisions v join people p on p.id = v.imported_by
        """;

    private static RevisionEntry ReadEntry(NpgsqlDataReader row) => new(
        row.GetInt64(0), row.GetInt64(1), row.GetString(2), row.GetString(3), row.GetString(4), row.GetFieldValue<DateTimeOffset>(5), row.ValueOrNull<long>(6), row.ValueOrNull<long>(7));
}
