using System.Text.Json;
using Npgsql;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;

namespace WiseLoom.Store;

/// <summary>The shop's limits as they stand.</summary>
/// <param name="Version">0 while nobody has changed the usual ones.</param>
/// <param name="ChangedBy">Null while nobody has.</param>
public sealed record StoredLimits(int Version, ShopLimits Limits, string? ChangedBy, DateTimeOffset? ChangedAt);

/// <summary>The figures that the shop judges by. Earlier ones are kept.</summary>
public sealed class LimitStore(NpgsqlDataSource source)
{
    public async Task<StoredLimits> LatestAsync(CancellationToken cancel) =>
        await new Sql(source, "select l.version, l.body, p.name, l.changed_at from shop_limits l join people p on p.id = l.changed_by order by l.version desc limit 1")
            .FirstAsync(row => new StoredLimits(row.GetInt32(0), JsonSerializer.Deserialize<ShopLimits>(row.GetString(1), CoreJson.Options)!, row.GetString(2), row.GetFieldValue<DateTimeOffset>(3)), cancel)
            .ConfigureAwait(false)
        ?? new(0, ShopLimits.Usual, null, null);

    /// <summary>Changes the limits when nobody else has since.</summary>
    /// <returns>False when they are no longer at <paramref name="version"/>.</returns>
    public async Task<bool> ChangeAsync(int version, ShopLimits limits, Guid changedBy, CancellationToken cancel) =>
        await new Sql(source, """
            insert into shop_limits (version, body, changed_by)
            select @version + 1, @body, @by where @version = (select coalesce(max(version), 0) from shop_limits)
            on conflict do nothing
            """)
            .With("version", version).WithJson("body", JsonSerializer.Serialize(limits, CoreJson.Options)).With("by", changedBy)
            .RunAsync(cancel).ConfigureAwait(false) == 1;
}
