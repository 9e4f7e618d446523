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
    /// <param name="after">The job's newest revision as it was looked at; null when it had none.</param>
    public async Task<RevisionStored> ReleaseAsync(Draft draft, long? after, Loom loom, Guid by, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(draft);
        ArgumentNullException.ThrowIfNull(loom);
        return await source.TogetherAsync<RevisionStored>(async transaction =>
        {
            await JobLock.TakeAsync(transaction, draft.JobId, cancel).ConfigureAwait(false);
            if (await new Sql(transaction, "select 1 from drafts where id = @id and version = @version and closed is null for update")
                .With("id", draft.Id).With("version", draft.Version).ListAsync(row => row.GetInt32(0), cancel).ConfigureAwait(false) is [])
            {
                return new RevisionStored.DraftChanged();
            }

            var stored = await LoomStore.AddAsync(transaction, new(draft.JobId, after, loom, draft.Document, by, draft.BaseRevisionId), cancel).ConfigureAwait(false);
            if (stored is RevisionStored.As released)
            {
                await new Sql(transaction, "update drafts set closed = 'released', revision_id = @revision, changed_by = @by, changed_at = now() where id = @id")
                    .With("revision", released.Id).With("by", by).With("id", draft.Id).RunAsync(cancel).ConfigureAwait(false);
            }

            return stored;
        }, stored => stored is RevisionStored.As, cancel).ConfigureAwait(false);
    }

    private static Draft Read(NpgsqlDataReader row) => new(
        row.GetInt64(0), row.GetInt64(1), row.ValueOrNull<long>(2), row.GetString(3), row.GetInt32(4), row.GetString(5), row.GetFieldValue<DateTimeOffset>(6), row.TextOrNull(7));
}
