using System.Security.Cryptography;
using System.Text;
using Npgsql;
using WiseLoom.Core.Runs;

namespace WiseLoom.Store;

/// <summary>A frozen pack without its contents.</summary>
/// <param name="SharedUntil">When its open share link ends; null when none is out. The link itself is kept as a hash alone.</param>
/// <param name="Run">What its run comes to by now.</param>
/// <param name="Hash">SHA-256 of the HTML as it was signed, hexadecimal.</param>
/// <param name="Newer">The revision that the loom has become since; null while it is the one of the pack.</param>
public sealed record PackEntry(long Id, long JobId, int Version, string Changes, string SignedBy, DateTimeOffset SignedAt, bool HasPdf, DateTimeOffset? SharedUntil, RunSummary? Run, string Hash, string? Newer);

/// <summary>A pack to be frozen.</summary>
/// <param name="RevisionId">The loom it is about; it must be the job's newest.</param>
/// <param name="Signature">The event that the signature is; its number is the one after the last event that the pack was made from.</param>
/// <param name="Summary">What the run comes to with it.</param>
/// <param name="Pdf">Null when no browser was there to print it.</param>
public sealed record NewPack(
    long JobId, long RunId, long RevisionId, Happened Signature, RunSummary Summary, int Version, string Changes, string ModelJson, string Html, byte[]? Pdf);

/// <summary>Handover packs and their share links.</summary>
public sealed class PackStore(NpgsqlDataSource source)
{
    private const string Select = """
        select k.id, k.job_id, k.version, k.changes, p.name, k.signed_at, k.pdf is not null, s.expires_at, r.summary, k.html_hash,
               (select v.revision from loom_revisions v where v.job_id = k.job_id and v.id > r.revision_id order by v.id desc limit 1)
        from packs k join people p on p.id = k.signed_by join runs r on r.id = k.run_id
        left join shares s on s.pack_id = k.id and s.withdrawn_at is null and s.expires_at > now()
        """;

    /// <summary>Freezes a pack and adds its signature to the run, when nothing has happened since the event that it was made from.</summary>
    /// <returns>Its id; null when something has: in the run, or a newer loom, or another pack of that version.</returns>
    public async Task<long?> SignAsync(NewPack pack, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(pack);
        return await source.TogetherAsync<long?>(async transaction =>
        {
            await JobLock.TakeAsync(transaction, pack.JobId, cancel).ConfigureAwait(false);
            var newest = await new Sql(transaction, "select (select max(id) from loom_revisions where job_id = @job) = @revision")
                .With("job", pack.JobId).With("revision", pack.RevisionId).ScalarAsync<bool>(cancel).ConfigureAwait(false);
            if (!newest || await RunStore.Appending(transaction, pack.RunId, pack.Signature.Number - 1, [pack.Signature], pack.Summary)
                .FirstAsync(row => row.GetString(0), cancel).ConfigureAwait(false) is null)
            {
                return null;
            }

            return (await new Sql(transaction, """
                insert into packs (job_id, run_id, event, version, changes, model, html, html_hash, pdf, signed_by, signed_at)
                values (@job, @run, @event, @version, @changes, @model, @html, @hash, @pdf, @by, @at)
                on conflict (job_id, version) do nothing returning id
                """)
                .With("job", pack.JobId).With("run", pack.RunId).With("event", pack.Signature.Number).With("version", pack.Version).With("changes", pack.Changes)
                .WithJson("model", pack.ModelJson).With("html", pack.Html).With("hash", Hash(pack.Html)).With("pdf", pack.Pdf, NpgsqlTypes.NpgsqlDbType.Bytea)
                .With("by", pack.Signature.By.Id).With("at", pack.Signature.At.ToUniversalTime())
                .ListAsync(row => (long?)row.GetInt64(0), cancel).ConfigureAwait(false)).FirstOrDefault();
        }, id => id is not null, cancel).ConfigureAwait(false);
    }

    public Task<List<PackEntry>> OfJobAsync(long jobId, CancellationToken cancel) =>
        new Sql(source, Select + " where k.job_id = @job order by k.version desc").With("job", jobId).ListAsync(Read, cancel);

    public Task<PackEntry?> FindAsync(long id, CancellationToken cancel) =>
        new Sql(source, Select + " where k.id = @id").With("id", id).FirstAsync(Read, cancel);

    public Task<string?> HtmlAsync(long id, CancellationToken cancel) =>
        new Sql(source, "select html from packs where id = @id").With("id", id).FirstAsync(row => row.GetString(0), cancel);

    public Task<string?> JsonAsync(long id, CancellationToken cancel) =>
        new Sql(source, "select model::text from packs where id = @id").With("id", id).FirstAsync(row => row.GetString(0), cancel);

    public Task<byte[]?> PdfAsync(long id, CancellationToken cancel) =>
        new Sql(source, "select pdf from packs where id = @id and pdf is not null").With("id", id).FirstAsync(row => row.GetFieldValue<byte[]>(0), cancel);

    /// <summary>The loom's revision that a job's newest pack is about; null before the first.</summary>
    public async Task<long?> NewestRevisionAsync(long jobId, CancellationToken cancel) =>
        (await new Sql(source, "select r.revision_id from packs k join runs r on r.id = k.run_id where k.job_id = @job order by k.version desc limit 1").With("job", jobId)
            .ListAsync(row => (long?)row.GetInt64(0), cancel).ConfigureAwait(false)).FirstOrDefault();

    /// <summary>Opens a link to a pack; one that was out is withdrawn.</summary>
    /// <param name="days">For how many days it leads there.</param>
    public Task ShareAsync(long packId, string token, Guid madeBy, int days, CancellationToken cancel) => source.TogetherAsync(async transaction =>
    {
        // The pack's row is the lock: of several who open one at once, the last one's is out.
        await new Sql(transaction, "select id from packs where id = @pack for no key update").With("pack", packId).ListAsync(row => row.GetInt64(0), cancel).ConfigureAwait(false);
        await new Sql(transaction, "update shares set withdrawn_at = now() where pack_id = @pack and withdrawn_at is null").With("pack", packId).RunAsync(cancel).ConfigureAwait(false);
        await new Sql(transaction, "insert into shares (token_hash, pack_id, made_by, expires_at) values (@hash, @pack, @by, now() + make_interval(days => @days))")
            .With("hash", TokenHash(token)).With("pack", packId).With("by", madeBy).With("days", days).RunAsync(cancel).ConfigureAwait(false);
    }, cancel);

    /// <summary>Has the open link of a pack lead there for so many days from now; nothing where none is out.</summary>
    public Task RenewAsync(long packId, int days, CancellationToken cancel) =>
        new Sql(source, "update shares set expires_at = now() + make_interval(days => @days) where pack_id = @pack and withdrawn_at is null and expires_at > now()")
            .With("pack", packId).With("days", days).RunAsync(cancel);

    /// <summary>Withdraws every link of a pack that is out.</summary>
    public Task WithdrawAsync(long packId, CancellationToken cancel) =>
        new Sql(source, "update shares set withdrawn_at = now() where pack_id = @pack and withdrawn_at is null").With("pack", packId).RunAsync(cancel);

    /// <summary>The pack a link leads to; null when the token is unknown, withdrawn or expired.</summary>
    public Task<PackEntry?> BySharedTokenAsync(string token, CancellationToken cancel) =>
        new Sql(source, Select + " where k.id = (select pack_id from shares where token_hash = @hash and withdrawn_at is null and expires_at > now())")
            .With("hash", TokenHash(token)).FirstAsync(Read, cancel);

    /// <summary>SHA-256 of a file of text, hexadecimal.</summary>
    public static string Hash(string html) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(html)));

    private static byte[] TokenHash(string token) => SHA256.HashData(Encoding.UTF8.GetBytes(token));

    private static PackEntry Read(NpgsqlDataReader row) => new(
        row.GetInt64(0),
        row.GetInt64(1),
        row.GetInt32(2),
        row.GetString(3),
        row.GetString(4),
        row.GetFieldValue<DateTimeOffset>(5),
        row.GetBoolean(6),
        row.ValueOrNull<DateTimeOffset>(7),
        row.SummaryOrNull(8),
        row.GetString(9),
        row.TextOrNull(10));
}
