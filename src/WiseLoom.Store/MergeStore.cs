using System.Collections.Immutable;
using System.Text.Json;
using Npgsql;
using WiseLoom.Core.Pinouts;
using WiseLoom.Core.Planning;

namespace WiseLoom.Store;

/// <summary>One side of a merge: a sheet, or plugs of a loom revision.</summary>
/// <param name="Connectors">Refs of the plugs taken from a revision; empty for a sheet.</param>
public sealed record MergeSide(long? Sheet, long? Revision, ImmutableArray<string> Connectors);

/// <summary>A merge with what was decided so far.</summary>
/// <param name="Work">What to do; empty until the loom was made.</param>
public sealed record StoredMerge(
    long Id, string Title, long JobId, MergeSide Left, MergeSide Right, MergeDecisions Decisions, int Version, ImmutableArray<WorkItem> Work, long? DraftId, string MadeBy, DateTimeOffset MadeAt);

/// <summary>Who ticked an item of a work list last.</summary>
public sealed record WorkTick(string Item, bool Done, string By, DateTimeOffset At);

/// <summary>Merges of pinouts and their work lists.</summary>
public sealed class MergeStore(NpgsqlDataSource source)
{
    private const string Select = """
        select m.id, m.title, m.job_id, m.left_side::text, m.right_side::text, m.decisions::text, m.version, m.work::text, m.draft_id, p.name, m.made_at
        from merges m join people p on p.id = m.made_by
        """;

    public Task<List<StoredMerge>> AllAsync(CancellationToken cancel) => new Sql(source, Select + " order by m.id desc limit 200").ListAsync(Read, cancel);

    public Task<StoredMerge?> FindAsync(long id, CancellationToken cancel) => new Sql(source, Select + " where m.id = @id").With("id", id).FirstAsync(Read, cancel);

    public Task<long> AddAsync(string title, long jobId, MergeSide left, MergeSide right, Guid by, CancellationToken cancel) =>
        new Sql(source, """
            insert into merges (title, job_id, left_side, right_side, decisions, made_by) values (@title, @job, @left, @right, @decisions, @by) returning id
            """)
            .With("title", title).With("job", jobId).WithJson("left", Json(left)).WithJson("right", Json(right)).WithJson("decisions", Json(MergeDecisions.None)).With("by", by)
            .ScalarAsync<long>(cancel);

    /// <summary>Stores decisions when nobody else has since.</summary>
    public async Task<bool> DecideAsync(long id, int version, MergeDecisions decisions, CancellationToken cancel) =>
        await new Sql(source, "update merges set decisions = @decisions, version = version + 1 where id = @id and version = @version")
            .With("id", id).With("version", version).WithJson("decisions", Json(decisions)).RunAsync(cancel).ConfigureAwait(false) == 1;

    /// <summary>Keeps the work list that came of making the loom.</summary>
    public Task MadeAsync(long id, ImmutableArray<WorkItem> work, long draft, CancellationToken cancel) =>
        new Sql(source, "update merges set work = @work, draft_id = @draft, version = version + 1 where id = @id").With("id", id).WithJson("work", Json(work)).With("draft", draft).RunAsync(cancel);

    public Task TickAsync(long id, Guid key, string item, bool done, Guid by, CancellationToken cancel) =>
        new Sql(source, "insert into merge_ticks (key, merge_id, item, done, made_by) values (@key, @merge, @item, @done, @by) on conflict (key) do nothing")
            .With("key", key).With("merge", id).With("item", item).With("done", done).With("by", by).RunAsync(cancel);

    /// <summary>The last tick of each item.</summary>
    public Task<List<WorkTick>> TicksAsync(long id, CancellationToken cancel) =>
        new Sql(source, """
            select distinct on (t.item) t.item, t.done, p.name, t.made_at
            from merge_ticks t join people p on p.id = t.made_by where t.merge_id = @merge order by t.item, t.event_order desc
            """).With("merge", id)
            .ListAsync(row => new WorkTick(row.GetString(0), row.GetBoolean(1), row.GetString(2), row.GetFieldValue<DateTimeOffset>(3)), cancel);

    private static string Json<T>(T value) => JsonSerializer.Serialize(value, CoreJson.Options);

    private static StoredMerge Read(NpgsqlDataReader row) => new(
        row.GetInt64(0),
        row.GetString(1),
        row.GetInt64(2),
        JsonSerializer.Deserialize<MergeSide>(row.GetString(3), CoreJson.Options)!,
        JsonSerializer.Deserialize<MergeSide>(row.GetString(4), CoreJson.Options)!,
        JsonSerializer.Deserialize<MergeDecisions>(row.GetString(5), CoreJson.Options)!,
        row.GetInt32(6),
        row.TextOrNull(7) is { } work ? JsonSerializer.Deserialize<ImmutableArray<WorkItem>>(work, CoreJson.Options) : [],
        row.ValueOrNull<long>(8),
        row.GetString(9),
        row.GetFieldValue<DateTimeOffset>(10));
}
