using System.Collections.Immutable;
using System.Text.Json;
using Npgsql;
using WiseLoom.Core;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Runs;

namespace WiseLoom.Store;

/// <summary>A fault of any job, as the log of the shop lists it.</summary>
/// <param name="Key">Of the event by which it was logged.</param>
/// <param name="Number">Within its run.</param>
public sealed record ShopFault(Guid Key, long Run, int Number, bool SetAside, long Job, string Machine, string Customer, string Revision, string Seen, string LoggedBy, DateTimeOffset LoggedAt, CauseFound? Cause, FixDone? Fix, LoggedInShop Counted);

/// <summary>Faults of all jobs: searched, counted, and what they say of how often each kind comes.</summary>
public sealed class FaultLogStore(NpgsqlDataSource source)
{
    /// <summary>Faults that a report counts, the newest first.</summary>
    public const int MostCounted = 20_000;

    private const string Faults = """
        select f.key, f.run_id, (f.body ->> 'fault')::int, r.set_aside, j.id, j.machine, j.customer, v.revision, f.body ->> 'words', who.name, f.made_at,
               c.body ->> 'cause', x.body ->> 'fix', v.name, place.ref,
               (select n ->> 'family' from jsonb_array_elements(v.document -> 'connectors') n where n ->> 'ref' = place.ref limit 1), builder.name
        from run_events f
        join runs r on r.id = f.run_id join jobs j on j.id = r.job_id join loom_revisions v on v.id = r.revision_id join people who on who.id = f.made_by
        left join people builder on builder.id = j.assigned
        left join lateral (select body from run_events e where e.run_id = f.run_id and e.kind = 'cause' and e.body -> 'fault' = f.body -> 'fault' order by e.number desc limit 1) c on true
        left join lateral (select body from run_events e where e.run_id = f.run_id and e.kind = 'fix' and e.body -> 'fault' = f.body -> 'fault' order by e.number desc limit 1) x on true
        left join lateral (select split_part(p, ':', 1) as ref from jsonb_array_elements_text(x.body -> 'fix' -> 'places') with ordinality t(p, n) where p like '%:%' order by n limit 1) place on true
        where f.kind = 'fault'
        """;

    /// <summary>The newest faults with some words in what was seen, found, done, or in the job.</summary>
    /// <param name="kind">Word of a kind of fault; null for all.</param>
    /// <param name="before">Key of the last one that is known; null for the newest.</param>
    public Task<List<ShopFault>> SearchAsync(string words, string? kind, Guid? before, int count, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(words);
        var like = $"%{words.Trim().Replace("\\", "\\\\", StringComparison.Ordinal).Replace("%", "\\%", StringComparison.Ordinal).Replace("_", "\\_", StringComparison.Ordinal)}%";
        return new Sql(source, $"""
            {Faults}
            and (@like = '%%' or concat_ws(' ', f.body ->> 'words', c.body -> 'cause' ->> 'words', x.body -> 'fix' ->> 'did', x.body -> 'fix' ->> 'note', x.body -> 'fix' ->> 'parts', x.body -> 'fix' ->> 'places', j.machine, j.customer, v.name) ilike @like)
            and (@kind is null or c.body -> 'cause' @> jsonb_build_object('faults', jsonb_build_array(jsonb_build_object('kind', @kind))) or c.body -> 'cause' -> 'fault' ->> 'kind' = @kind)
            and (@before is null or (f.stored_at, f.key) < (select b.stored_at, b.key from run_events b where b.key = @before))
            order by f.stored_at desc, f.key desc limit @count
            """)
            .With("like", like).With("kind", kind, NpgsqlTypes.NpgsqlDbType.Text).With("before", before, NpgsqlTypes.NpgsqlDbType.Uuid).With("count", count)
            .ListAsync(Row, cancel);
    }

    /// <summary>All faults, at most <see cref="MostCounted"/> of the newest, to be counted.</summary>
    public Task<List<ShopFault>> AllAsync(CancellationToken cancel) => SearchAsync("", null, null, MostCounted, cancel);

    /// <summary>How often each kind was found in the shop.</summary>
    public async Task<FaultTally> TallyAsync(CancellationToken cancel)
    {
        var counts = await new Sql(source, """
            select kind, count(*)::int from (
                select distinct on (e.run_id, e.body -> 'fault') e.body -> 'cause' as cause from run_events e where e.kind = 'cause' order by e.run_id, e.body -> 'fault', e.number desc) last,
                lateral (select f ->> 'kind' as kind from jsonb_array_elements(coalesce(last.cause -> 'faults', jsonb_build_array(last.cause -> 'fault'))) f) k
            where kind is not null group by kind
            """).ListAsync(row => (Kind: row.GetString(0), Count: row.GetInt32(1)), cancel).ConfigureAwait(false);
        return new(counts.ToImmutableDictionary(c => c.Kind, c => c.Count, StringComparer.Ordinal));
    }

    private static ShopFault Row(NpgsqlDataReader row)
    {
        var cause = row.TextOrNull(11) is { } c ? JsonSerializer.Deserialize<CauseFound>(c, CoreJson.Options) : null;
        var fix = row.TextOrNull(12) is { } f ? JsonSerializer.Deserialize<FixDone>(f, CoreJson.Options) : null;
        return new(
            row.GetGuid(0), row.GetInt64(1), row.GetInt32(2), row.GetBoolean(3), row.GetInt64(4), row.GetString(5), row.GetString(6), row.GetString(7), row.GetString(8), row.GetString(9),
            row.GetFieldValue<DateTimeOffset>(10), cause, fix, new(row.GetString(13), row.TextOrNull(14), row.TextOrNull(15), row.TextOrNull(16), cause?.Faults ?? [], fix?.Minutes));
    }
}
