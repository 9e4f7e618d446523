using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Npgsql;
using NpgsqlTypes;

namespace WiseLoom.Store;

/// <summary>What a meter showed when it was last held against something that is known.</summary>
/// <param name="Check">Which of the three checks.</param>
public sealed record LastCheck(DateTimeOffset At, string By, bool Passed, string Check);

/// <summary>The shop's meters.</summary>
public sealed class MeterStore(NpgsqlDataSource source)
{
    /// <summary>Any numbers of the database's advisory locks that stand for meters on the network and for serial ports.</summary>
    private const int MeterLocks = 7112, PortLocks = 7113;

    /// <summary>How long one waits for a meter that others use.</summary>
    public static TimeSpan Patience { get; } = TimeSpan.FromSeconds(20);

    /// <summary>Holds a meter for one question, whichever process the next one comes from; of two meters at one serial port, both. The hold ends with what is returned, or with the process.</summary>
    /// <returns>Null when others kept it for longer than <see cref="Patience"/>.</returns>
    public async Task<IAsyncDisposable?> HoldAsync(ShopMeter meter, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(meter);
        var (locks, number) = meter.Serial is { } serial ? (PortLocks, Number(Device(serial.Port))) : (MeterLocks, checked((int)meter.Id));
        var connection = await source.OpenConnectionAsync(cancel).ConfigureAwait(false);
        try
        {
            var transaction = await connection.BeginTransactionAsync(cancel).ConfigureAwait(false);
            await new Sql(transaction, "select set_config('lock_timeout', @patience, true)")
                .With("patience", $"{Patience.TotalMilliseconds:0}ms").RunAsync(cancel).ConfigureAwait(false);
            await new Sql(transaction, "select pg_advisory_xact_lock(@locks, @meter)")
                .With("locks", locks).With("meter", number).RunAsync(cancel).ConfigureAwait(false);

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

    /// <summary>All that have not been retired.</summary>
    public async Task<List<ShopMeter>> AllAsync(CancellationToken cancel) => [.. (await WithPastAsync(cancel).ConfigureAwait(false)).Select(m => m.Meter).Where(m => !m.Retired)];

    /// <summary>All there ever were, each with what its last check said.</summary>
    public Task<List<(ShopMeter Meter, LastCheck? Check)>> WithPastAsync(CancellationToken cancel) =>
        new Sql(source, $"""
            select {ShopMeter.Columns}, c.made_at, c.name, c.passed, c.kind
            from meters m left join lateral (
                select e.made_at, p.name, (e.body ->> 'passed')::boolean as passed, e.body ->> 'check' as kind
                from runs r join run_events e on e.run_id = r.id join people p on p.id = e.made_by
                where r.meter_id = m.id and e.kind = 'check' order by e.made_at desc limit 1) c on true
            order by m.id
            """)
            .ListAsync(row => (ShopMeter.Read(row, 0), row.IsDBNull(12) ? null : new LastCheck(row.GetFieldValue<DateTimeOffset>(12), row.GetString(13), row.GetBoolean(14), row.GetString(15))), cancel);

    /// <summary>A meter by its number, retired or not; null when there is none.</summary>
    public Task<ShopMeter?> FindAsync(long id, CancellationToken cancel) =>
        new Sql(source, $"select {ShopMeter.Columns} from meters m where m.id = @id").With("id", id).FirstAsync(row => ShopMeter.Read(row, 0), cancel);

    /// <summary>Adds a meter.</summary>
    /// <returns>Its number; null when one has that name already.</returns>
    public async Task<long?> AddAsync(ShopMeter meter, CancellationToken cancel)
    {
        var id = await Filled(meter, """
            insert into meters (name, profile, figures, host, port, serial, matrix, calibrated, calibration_due, retired)
            values (@name, @profile, @figures, @host, @port, @serial, @matrix, @calibrated, @due, @retired)
            on conflict (name) do nothing returning id
            """).ListAsync(row => row.GetInt64(0), cancel).ConfigureAwait(false);
        return id.Count == 0 ? null : id[0];
    }

    /// <summary>Changes a meter, when it is still as it was looked at.</summary>
    /// <exception cref="PostgresException">Another has that name.</exception>
    public async Task<bool> ChangeAsync(ShopMeter meter, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(meter);
        return await Filled(meter, """
            update meters set name = @name, profile = @profile, figures = @figures, host = @host, port = @port, serial = @serial, matrix = @matrix,
                   calibrated = @calibrated, calibration_due = @due, retired = @retired, version = version + 1
            where id = @id and version = @version
            """).With("id", meter.Id).With("version", meter.Version).RunAsync(cancel).ConfigureAwait(false) == 1;
    }

    /// <summary>Adds a meter, calibrated on a day for a year, or gives the one of that name a new address.</summary>
    public Task<long> PutAsync(string name, string profile, string? host, int? port, CancellationToken cancel, DateOnly? calibrated = null) =>
        new Sql(source, """
            insert into meters (name, profile, host, port, matrix, calibrated, calibration_due)
            values (@name, @profile, @host, @port, @host is not null, @calibrated, @calibrated + 365)
            on conflict (name) do update set host = excluded.host, port = excluded.port, serial = null
            returning id
            """)
            .With("name", name).With("profile", profile)
            .With("host", host, NpgsqlDbType.Text).With("port", port, NpgsqlDbType.Integer).With("calibrated", calibrated, NpgsqlDbType.Date)
            .ScalarAsync<long>(cancel);

    /// <summary>The device that a port's name stands for: names that stay the same are links to it.</summary>
    private static string Device(string port) => File.Exists(port) ? File.ResolveLinkTarget(port, returnFinalTarget: true)?.FullName ?? port : port;

    /// <summary>A number for a name, the same in each process.</summary>
    private static int Number(string name) => BitConverter.ToInt32(SHA256.HashData(Encoding.UTF8.GetBytes(name)));

    private Sql Filled(ShopMeter meter, string statement) => new Sql(source, statement)
        .With("name", meter.Name).With("profile", meter.Profile)
        .With("figures", meter.Figures is { } figures ? JsonSerializer.Serialize(figures, CoreJson.Options) : null, NpgsqlDbType.Jsonb)
        .With("host", meter.Host, NpgsqlDbType.Text).With("port", meter.Port, NpgsqlDbType.Integer)
        .With("serial", meter.Serial is { } serial ? JsonSerializer.Serialize(serial, CoreJson.Options) : null, NpgsqlDbType.Jsonb).With("matrix", meter.Matrix)
        .With("calibrated", meter.Calibrated, NpgsqlDbType.Date).With("due", meter.CalibrationDue, NpgsqlDbType.Date).With("retired", meter.Retired);
}
