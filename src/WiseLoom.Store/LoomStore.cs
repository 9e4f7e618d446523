using Npgsql;
using WiseLoom.Core.Looms;

namespace WiseLoom.Store;

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

    /// <summary>The stored document, unknown fields and all; null when there is no such revision.</summary>
    public Task<string?> DocumentAsync(long revisionId, CancellationToken cancel) =>
        new Sql(source, "select document::text from loom_revisions where id = @id").With("id", revisionId).FirstAsync(r => r.GetString(0), cancel);
}
