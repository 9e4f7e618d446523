using System.Text.Json;
using Npgsql;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Shop;

namespace WiseLoom.Store;

/// <summary>A meter of the shop.</summary>
/// <param name="Profile"><c>bench-four-wire</c>, <c>hand-two-wire</c> or <c>own</c>.</param>
/// <param name="Host">Where on the network it answers; null for a meter that is elsewhere.</param>
public sealed record ShopMeter(long Id, string Name, string Profile, string? Host, int? Port)
{
    /// <summary>How it is spoken to at a serial port of the server; null for a meter that is elsewhere.</summary>
    public SerialWay? Serial { get; init; }

    /// <summary>Whether it gives readings by itself; otherwise it is read by eye.</summary>
    public bool Answers => Host is not null || Serial is not null;

    /// <summary>Its own figures; null where it has one of the profiles.</summary>
    public Meter? Figures { get; init; }

    /// <summary>Whether it closes the way to both places by itself; otherwise hands hold the probes.</summary>
    public bool Matrix { get; init; }

    /// <summary>When it was calibrated last; null when nobody knows.</summary>
    public DateOnly? Calibrated { get; init; }

    /// <summary>When it must be again; null for never.</summary>
    public DateOnly? CalibrationDue { get; init; }

    /// <summary>Whether it is kept for its past only.</summary>
    public bool Retired { get; init; }

    /// <summary>Grows with each change.</summary>
    public int Version { get; init; } = 1;

    /// <summary>Its columns in the order in which <see cref="Read"/> takes them, of the table under the name <c>m</c>.</summary>
    internal const string Columns = "m.id, m.name, m.profile, m.host, m.port, m.figures::text, m.matrix, m.calibrated, m.calibration_due, m.retired, m.version, m.serial::text";

    /// <summary>What it can and cannot tell.</summary>
    public Meter Describe() => (Figures ?? (Profile == "hand-two-wire" ? Meter.HandTwoWire : Meter.BenchFourWire)) with { Name = Name };

    /// <summary>What is wrong with its calibration, in words; null when nothing is.</summary>
    public string? Overdue(DateTimeOffset now) => CalibrationDue is { } due && due < DateOnly.FromDateTime(now.UtcDateTime) ? FormattableString.Invariant($"calibration was due on {due:yyyy-MM-dd}") : null;

    /// <summary>Reads the columns from a place of a row on.</summary>
    internal static ShopMeter Read(NpgsqlDataReader row, int from) => new(row.GetInt64(from), row.GetString(from + 1), row.GetString(from + 2), row.TextOrNull(from + 3), row.ValueOrNull<int>(from + 4))
    {
        Figures = row.TextOrNull(from + 5) is { } figures ? JsonSerializer.Deserialize<Meter>(figures, CoreJson.Options) : null,
        Matrix = row.GetBoolean(from + 6),
        Calibrated = row.ValueOrNull<DateOnly>(from + 7),
        CalibrationDue = row.ValueOrNull<DateOnly>(from + 8),
        Retired = row.GetBoolean(from + 9),
        Version = row.GetInt32(from + 10),
        Serial = row.TextOrNull(from + 11) is { } serial ? JsonSerializer.Deserialize<SerialWay>(serial, CoreJson.Options) : null,
    };
}
