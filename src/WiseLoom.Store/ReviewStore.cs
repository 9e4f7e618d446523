using System.Security.Cryptography;
using System.Text;
using Npgsql;
using WiseLoom.Core.Shop;

namespace WiseLoom.Store;

/// <summary>A question to the customer.</summary>
/// <param name="Choices">What may be chosen, each with what it changes; none for free words.</param>
public sealed record Question(long Id, string Asks, IReadOnlyList<string> Choices, string AskedBy, DateTimeOffset AskedAt);

/// <summary>A link that lets a customer say something of a draft.</summary>
public sealed record Review(long Id, long JobId, DateTimeOffset MadeAt, DateTimeOffset ExpiresAt);

/// <summary>Something that was said, with the loom it was said of.</summary>
public sealed record ReviewSaid(ReviewWord Word, long RevisionId, DateTimeOffset SaidAt);

/// <summary>How a word that came in fared.</summary>
public enum WordStored
{
    /// <summary>It is kept, now or before.</summary>
    Kept,

    /// <summary>The link is withdrawn, expired or never was.</summary>
    Closed,

    /// <summary>Its key stands for other words already.</summary>
    KeyUsed,

    /// <summary>Too much was said in this minute, or through this link.</summary>
    TooMuch,
}

/// <summary>Questions to customers, and what they say through a link before a loom is boxed. Tokens are kept as hashes alone.</summary>
public sealed class ReviewStore(NpgsqlDataSource source)
{
    private const string Open = "withdrawn_at is null and expires_at > now()";

    /// <summary>Opens a link; one that was out is withdrawn.</summary>
    public Task OpenAsync(long job, string token, Guid by, CancellationToken cancel) => source.TogetherAsync(async transaction =>
    {
        await JobLock.TakeAsync(transaction, job, cancel).ConfigureAwait(false);
        await new Sql(transaction, "update reviews set withdrawn_at = now() where job_id = @job and withdrawn_at is null").With("job", job).RunAsync(cancel).ConfigureAwait(false);
        await new Sql(transaction, "insert into reviews (job_id, token_hash, made_by, expires_at) values (@job, @hash, @by, now() + make_interval(days => @days))")
            .With("job", job).With("hash", Hash(token)).With("by", by).With("days", ReviewWord.DaysOpen).RunAsync(cancel).ConfigureAwait(false);
        await JobNews.TellAsync(transaction, job, cancel).ConfigureAwait(false);
    }, cancel);

    /// <summary>Withdraws the link of a job.</summary>
    public Task WithdrawAsync(long job, CancellationToken cancel) =>
        new Sql(source, "update reviews set withdrawn_at = now() where job_id = @job and withdrawn_at is null").With("job", job).RunAsync(cancel);

    /// <summary>The review that a token opens; null for one that is withdrawn, expired or unknown.</summary>
    public Task<Review?> ByTokenAsync(string token, CancellationToken cancel) =>
        new Sql(source, $"select id, job_id, made_at, expires_at from reviews where token_hash = @hash and {Open}").With("hash", Hash(token)).FirstAsync(Read, cancel);

    /// <summary>The open review of a job; null when none is.</summary>
    public Task<Review?> OfJobAsync(long job, CancellationToken cancel) =>
        new Sql(source, $"select id, job_id, made_at, expires_at from reviews where job_id = @job and {Open}").With("job", job).FirstAsync(Read, cancel);

    /// <summary>Everything that was said of a job, through whichever link, the first first.</summary>
    public Task<List<ReviewSaid>> SaidAsync(long job, CancellationToken cancel) =>
        new Sql(source, """
            select w.kind, w.name, w.subject, w.words, w.revision_id, w.said_at from review_words w join reviews r on r.id = w.review_id where r.job_id = @job order by w.id
            """)
            .With("job", job).ListAsync(row => new ReviewSaid(new(row.GetString(0), row.GetString(1), row.GetString(2), row.GetString(3)), row.GetInt64(4), row.GetFieldValue<DateTimeOffset>(5)), cancel);

    /// <summary>Keeps a word for ever; the same key again keeps nothing more.</summary>
    public Task<WordStored> SayAsync(long review, Guid key, ReviewWord word, long revision, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(word);
        return source.TogetherAsync(async transaction =>
        {
            // The review's row is the lock: it is not withdrawn in between, and a flood is counted one by one.
            var job = (await new Sql(transaction, $"select job_id from reviews where id = @id and {Open} for update").With("id", review).ListAsync(row => row.GetInt64(0), cancel).ConfigureAwait(false)).FirstOrDefault();
            if (job == 0)
            {
                return WordStored.Closed;
            }

            if ((await new Sql(transaction, "select kind, name, subject, words from review_words where review_id = @id and key = @key").With("id", review).With("key", key)
                .ListAsync(row => new ReviewWord(row.GetString(0), row.GetString(1), row.GetString(2), row.GetString(3)), cancel).ConfigureAwait(false)).FirstOrDefault() is { } before)
            {
                return before == word ? WordStored.Kept : WordStored.KeyUsed;
            }

            if (await new Sql(transaction, "select count(*) >= @most or count(*) filter (where said_at > now() - interval '1 minute') >= @minute from review_words where review_id = @id")
                .With("id", review).With("most", ReviewWord.MostWords).With("minute", ReviewWord.MostInAMinute).ScalarAsync<bool>(cancel).ConfigureAwait(false))
            {
                return WordStored.TooMuch;
            }

            await new Sql(transaction, "insert into review_words (review_id, key, kind, name, subject, words, revision_id) values (@id, @key, @kind, @name, @subject, @words, @revision)")
                .With("id", review).With("key", key).With("kind", word.Kind).With("name", word.Name).With("subject", word.Subject).With("words", word.Words).With("revision", revision).RunAsync(cancel).ConfigureAwait(false);
            await JobNews.TellAsync(transaction, job, cancel).ConfigureAwait(false);
            return WordStored.Kept;
        }, stored => stored == WordStored.Kept, cancel);
    }

    /// <summary>Questions to the customer of a job.</summary>
    public Task<List<Question>> QuestionsAsync(long job, CancellationToken cancel) =>
        new Sql(source, "select q.id, q.asks, q.choices, p.name, q.asked_at from questions q join people p on p.id = q.asked_by where q.job_id = @job order by q.id limit 100")
            .With("job", job).ListAsync(row => new Question(row.GetInt64(0), row.GetString(1), row.GetFieldValue<string[]>(2), row.GetString(3), row.GetFieldValue<DateTimeOffset>(4)), cancel);

    /// <summary>Asks a question; the same key again asks nothing more.</summary>
    public Task AskAsync(long job, Guid key, string asks, IReadOnlyList<string> choices, Guid by, CancellationToken cancel) => source.TogetherAsync(async transaction =>
    {
        await new Sql(transaction, "insert into questions (key, job_id, asks, choices, asked_by) values (@key, @job, @asks, @choices, @by) on conflict (key) do nothing")
            .With("key", key).With("job", job).With("asks", asks).With("choices", choices.ToArray()).With("by", by).RunAsync(cancel).ConfigureAwait(false);
        await JobNews.TellAsync(transaction, job, cancel).ConfigureAwait(false);
    }, cancel);

    private static byte[] Hash(string token) => SHA256.HashData(Encoding.UTF8.GetBytes(token));

    private static Review Read(NpgsqlDataReader row) => new(row.GetInt64(0), row.GetInt64(1), row.GetFieldValue<DateTimeOffset>(2), row.GetFieldValue<DateTimeOffset>(3));
}
