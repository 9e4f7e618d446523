using Npgsql;
using WiseLoom.Core.Looms;

namespace WiseLoom.Store;

/// <summary>A loom that is being written.</summary>
/// <param name="BaseRevisionId">The revision it was begun from; null for a new loom.</param>
/// <param name="Closed">Null while it is open; <c>released</c> or <c>put-away</c>.</param>
public sealed record Draft(long Id, long JobId, long? BaseRevisionId, string Document, int Version, string ChangedBy, DateTimeOffset ChangedAt, string? Closed);

/// <summary>Drafts of looms; a job has at most one open.</summary>
public sealed class DraftStore(NpgsqlDataSource source)
{
    private const string Select = """
        select d.id, d.job_id, d.base_revision_id, d.document, d.version, p.name, d.changed_at, d.closed
        from drafts d join people p on p.id = d.changed_by
        """;

    public Task<Draft?> FindAsync(long id, CancellationToken cancel) => new Sql(source, Select + " where d.id = @id").With("id", id).FirstAsync(Read, cancel);

    /// <summary>The version a draft is at; null when there is none of this id.</summary>
    public async Task<int?> VersionAsync(long id, CancellationToken cancel) =>
        (await new Sql(source, "select version from drafts where id = @id").With("id", id).ListAsync(row => (int?)row.GetInt32(0), cancel).ConfigureAwait(false)).FirstOrDefault();

    /// <summary>The job's open draft; null when there is none.</summary>
    public Task<Draft?> OpenOfAsync(long jobId, CancellationToken cancel) =>
        new Sql(source, Select + " where d.job_id = @job and d.closed is null").With("job", jobId).FirstAsync(Read, cancel);

    /// <summary>The draft that was put away last; null when there is none.</summary>
    public Task<Draft?> PutAwayOfAsync(long jobId, CancellationToken cancel) =>
        new Sql(source, Select + " where d.job_id = @job and d.closed = 'put-away' order by d.changed_at desc limit 1").With("job", jobId).FirstAsync(Read, cancel);

    /// <summary>Opens a draft.</summary>
    /// <returns>Its id; null when the job has one open already.</returns>
    public async Task<long?> OpenAsync(long jobId, long? baseRevision, string document, Guid by, CancellationToken cancel) =>
        (await new Sql(source, """
            insert into drafts (job_id, base_revision_id, document, opened_by, changed_by)
            values (@job, @base, @document, @by, @by) on conflict (job_id) where closed is null do nothing returning id
            """)
            .With("job", jobId).With("base", baseRevision, NpgsqlTypes.NpgsqlDbType.Bigint).With("document", document).With("by", by)
            .ListAsync(row => (long?)row.GetInt64(0), cancel).ConfigureAwait(false)).FirstOrDefault();

    /// <summary>Stores what a draft says now, when nobody else has since.</summary>
    /// <param name="document">The file, UTF-8.</param>
    /// <returns>False when it is no longer at <paramref name="version"/>, or closed.</returns>
    public async Task<bool> WriteAsync(long id, int version, byte[] document, Guid by, CancellationToken cancel) =>
        await new Sql(source, """
            update drafts set document = @document, version = version + 1, changed_by = @by, changed_at = now()
            where id = @id and version = @version and closed is null
            """)
            .With("id", id).With("version", version).With("document", document, NpgsqlTypes.NpgsqlDbType.Text).With("by", by).RunAsync(cancel).ConfigureAwait(false) == 1;

    /// <summary>Puts an open draft away, or takes it out again.</summary>
    /// <returns>False when it is not in that state, or another draft is open.</returns>
    public async Task<bool> PutAwayAsync(long id, bool away, Guid by, CancellationToken cancel)
    {
        try
        {
            return await new Sql(source, away
                    ? "update drafts set closed = 'put-away', changed_by = @by, changed_at = now() where id = @id and closed is null"
                    : "update drafts set closed = null, changed_by = @by, changed_at = now() where id = @id and closed = 'put-away'")
                .With("id", id).With("by", by).RunAsync(cancel).ConfigureAwait(false) == 1;
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.UniqueViolation)
        {
            return false;
        }
    }

    /// <summary>Makes a draft the job's newest revision, in one step.</summary>
    public async Task<RevisionStored> ReleaseAsync(long id, int version, Loom loom, Guid by, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(loom);
        try
        {
            return await ReleasedAsync(id, version, loom, by, cancel).ConfigureAwait(false) is { } revision ? new RevisionStored.As(revision) : new RevisionStored.Overtaken();
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.UniqueViolation)
        {
            return new RevisionStored.NameTaken();
        }
    }

    private async Task<long?> ReleasedAsync(long id, int version, Loom loom, Guid by, CancellationToken cancel) =>
        (await new Sql(source, """
            with open as (select d.job_id, d.document, d.base_revision_id from drafts d join jobs j on j.id = d.job_id
                          where d.id = @id and d.version = @version and d.closed is null for no key update),
                 released as (insert into loom_revisions (job_id, name, revision, document, imported_by, base_revision_id)
                              select job_id, @name, @revision, document::jsonb, @by, base_revision_id from open returning id),
                 shut as (update drafts d set closed = 'released', revision_id = released.id, changed_by = @by, changed_at = now() from released where d.id = @id)
            select id from released
            """)
            .With("id", id).With("version", version).With("name", loom.Name).With("revision", loom.Revision).With("by", by)
            .ListAsync(row => (long?)row.GetInt64(0), cancel).ConfigureAwait(false)).FirstOrDefault();

    private static Draft Read(NpgsqlDataReader row) => new(
        row.GetInt64(0), row.GetInt64(1), row.ValueOrNull<long>(2), row.GetString(3), row.GetInt32(4), row.GetString(5), row.GetFieldValue<DateTimeOffset>(6), row.TextOrNull(7));
}
