using Npgsql;
using WiseLoom.Core.Electrical;

namespace WiseLoom.Store;

/// <summary>A meter of the shop.</summary>
/// <param name="Profile"><c>bench-four-wire</c> or <c>hand-two-wire</c>.</param>
/// <param name="Host">Where it answers; null for a meter that is read by eye.</param>
public sealed record ShopMeter(long Id, string Name, string Profile, string? Host, int? Port)
{
    /// <summary>What it can and cannot tell.</summary>
    public Meter Describe() => (Profile == "hand-two-wire" ? Meter.HandTwoWire : Meter.BenchFourWire) with { Name = Name };
}

/// <summary>The shop's meters.</summary>
public sealed class MeterStore(NpgsqlDataSource source)
{
    /// <summary>Any number of the database's advisory locks that stands for meters.</summary>
    private const int MeterLocks = 7112;

    /// <summary>How long one waits for a meter that others use.</summary>
    public static TimeSpan Patience { get; } = TimeSpan.FromSeconds(20);

    /// <summary>Holds a meter for one question, whichever process the next one comes from. The hold ends with what is returned, or with the process.</summary>
    /// <returns>Null when others kept it for longer than <see cref="Patience"/>.</returns>
    public async Task<IAsyncDisposable?> HoldAsync(long id, CancellationToken cancel)
    {
        var connection = await source.OpenConnectionAsync(cancel).ConfigureAwait(false);
        try
        {
            var transaction = await connection.BeginTransactionAsync(cancel).ConfigureAwait(false);
            await new Sql(transaction, "select set_config('lock_timeout', @patience, true)")
                .With("patience", $"{Patience.TotalMilliseconds:0}ms").RunAsync(cancel).ConfigureAwait(false);
            await new Sql(transaction, "select pg_advisory_xact_lock(@locks, @meter)")
                .With("locks", MeterLocks).With("meter", checked((int)id)).RunAsync(cancel).ConfigureAwait(false);

            // Giving the connection back ends the transaction, and with it the lock.
            return connection;
        }
        catch (PostgresException e) when (e.SqlState == PostgresErrorCodes.LockNotAvailable)
        {
            await connection.DisposeAsync().ConfigureAwait(false);
            return null;
        }
        catch
        {
            await connection.DisposeAsync().ConfigureAwait(false);
            throw;
        }
    }

    public Task<List<ShopMeter>> AllAsync(CancellationToken cancel) =>
        new Sql(source, "select id, name, profile, host, port from meters order by id").ListAsync(Read, cancel);

    public Task<ShopMeter?> FindAsync(long id, CancellationToken cancel) =>
        new Sql(source, "select id, name, profile, host, port from meters where id = @id").With("id", id).FirstAsync(Read, cancel);

    /// <summary>Adds a meter, or gives the one of that name a new address.</summary>
    public Task<long> PutAsync(string name, string profile, string? host, int? port, CancellationToken cancel) =>
        new Sql(source, """
            insert into meters (name, profile, host, port) values (@name, @profile, @host, @port)
            on conflict (name) do update set host = excluded.host, port = excluded.port
            returning id
            """)
            .With("name", name).With("profile", profile)
            .With("host", host, NpgsqlTypes.NpgsqlDbType.Text).With("port", port, NpgsqlTypes.NpgsqlDbType.Integer)
            .ScalarAsync<long>(cancel);

    private static ShopMeter Read(NpgsqlDataReader row) => new(row.GetInt64(0), row.GetString(1), row.GetString(2), row.TextOrNull(3), row.ValueOrNull<int>(4));
}
