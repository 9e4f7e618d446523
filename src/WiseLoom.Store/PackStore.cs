using Npgsql;

namespace WiseLoom.Store;

/// <summary>A frozen pack without its contents.</summary>
/// <param name="Share">Token of its open share link; null when none is out.</param>
public sealed record PackEntry(long Id, long JobId, int Version, string Changes, string SignedBy, DateTimeOffset SignedAt, bool HasPdf, string? Share);

/// <summary>A pack to be frozen.</summary>
/// <param name="Pdf">Null when no browser was there to print it.</param>
public sealed record NewPack(long JobId, long RunId, int Version, string Changes, string ModelJson, string Html, byte[]? Pdf, Guid SignedBy, DateTimeOffset SignedAt);

/// <summary>Handover packs and their share links.</summary>
public sealed class PackStore(NpgsqlDataSource source)
{
    private const string Select = """
        select k.id, k.job_id, k.version, k.changes, p.name, k.signed_at, k.pdf is not null,
               (select s.token from shares s where s.pack_id = k.id and s.withdrawn_at is null order by s.made_at desc limit 1)
        from packs k join people p on p.id = k.signed_by
        """;

    /// <summary>Freezes a pack.</summary>
    /// <returns>Its id; null when a pack of that version was frozen by somebody else in the meantime.</returns>
    public async Task<long?> AddAsync(NewPack pack, CancellationToken cancel) =>
        (await new Sql(source, """
            insert into packs (job_id, run_id, version, changes, model, html, pdf, signed_by, signed_at)
            values (@job, @run, @version, @changes, @model, @html, @pdf, @by, @at)
            on conflict (job_id, version) do nothing returning id
            """)
            .With("job", pack.JobId).With("run", pack.RunId).With("version", pack.Version).With("changes", pack.Changes)
            .WithJson("model", pack.ModelJson).With("html", pack.Html).With("pdf", pack.Pdf, NpgsqlTypes.NpgsqlDbType.Bytea)
            .With("by", pack.SignedBy).With("at", pack.SignedAt.ToUniversalTime())
            .ListAsync(row => (long?)row.GetInt64(0), cancel).ConfigureAwait(false)).FirstOrDefault();

    public Task<List<PackEntry>> OfJobAsync(long jobId, CancellationToken cancel) =>
        new Sql(source, Select + " where k.job_id = @job order by k.version desc").With("job", jobId).ListAsync(Read, cancel);

    /// <summary>Whether a pack was signed for this run.</summary>
    public Task<bool> MadeFromRunAsync(long runId, CancellationToken cancel) =>
        new Sql(source, "select exists (select from packs where run_id = @run)").With("run", runId).ScalarAsync<bool>(cancel);

    public Task<PackEntry?> FindAsync(long id, CancellationToken cancel) =>
        new Sql(source, Select + " where k.id = @id").With("id", id).FirstAsync(Read, cancel);

    public Task<string?> HtmlAsync(long id, CancellationToken cancel) =>
        new Sql(source, "select html from packs where id = @id").With("id", id).FirstAsync(row => row.GetString(0), cancel);

    public Task<string?> JsonAsync(long id, CancellationToken cancel) =>
        new Sql(source, "select model::text from packs where id = @id").With("id", id).FirstAsync(row => row.GetString(0), cancel);

    public Task<byte[]?> PdfAsync(long id, CancellationToken cancel) =>
        new Sql(source, "select pdf from packs where id = @id and pdf is not null").With("id", id).FirstAsync(row => row.GetFieldValue<byte[]>(0), cancel);

    public Task ShareAsync(long packId, string token, Guid madeBy, CancellationToken cancel) =>
        new Sql(source, "insert into shares (token, pack_id, made_by) values (@token, @pack, @by)")
            .With("token", token).With("pack", packId).With("by", madeBy).RunAsync(cancel);

    /// <summary>Withdraws every link of a pack that is out.</summary>
    public Task WithdrawAsync(long packId, CancellationToken cancel) =>
        new Sql(source, "update shares set withdrawn_at = now() where pack_id = @pack and withdrawn_at is null").With("pack", packId).RunAsync(cancel);

    /// <summary>The pack a link leads to; null when the token is unknown or withdrawn.</summary>
    public Task<PackEntry?> BySharedTokenAsync(string token, CancellationToken cancel) =>
        new Sql(source, Select + " where k.id = (select pack_id from shares where token = @token and withdrawn_at is null)")
            .With("token", token).FirstAsync(Read, cancel);

    private static PackEntry Read(NpgsqlDataReader row) => new(
        row.GetInt64(0),
        row.GetInt64(1),
        row.GetInt32(2),
        row.GetString(3),
        row.GetString(4),
        row.GetFieldValue<DateTimeOffset>(5),
        row.GetBoolean(6),
        row.TextOrNull(7));
}
