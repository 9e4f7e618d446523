using System.Text.Json;
using Npgsql;
using WiseLoom.Core.Shop;

namespace WiseLoom.Store;

/// <summary>A line to be added to the audit list.</summary>
/// <param name="Person">Whom it is about; null for a name that nobody has.</param>
/// <param name="By">Who did it; null for somebody who is not signed in.</param>
/// <param name="Address">Where it came from.</param>
/// <param name="Words">What exactly, in words.</param>
public sealed record AuditLine(AuditEvent Kind, DateTimeOffset At, Guid? Person, Guid? By, string Address, string Words);

/// <summary>A line as it is read: names for numbers.</summary>
public sealed record AuditEntry(long Id, DateTimeOffset At, string Kind, string? Person, string? By, string Address, string Words);

/// <summary>Sign-ins, refusals and changes of rights: a list that only grows.</summary>
public sealed class AuditStore(NpgsqlDataSource source)
{
    private const string Insert = "insert into audit (at, kind, person_id, by_id, address, words) values (@at, @kind, @person, @by, @address, @words)";

    private const int MostWords = 400, MostAddress = 60;

    public Task AddAsync(AuditLine line, CancellationToken cancel) => Adding(new Sql(source, Insert), line).RunAsync(cancel);

    /// <summary>The newest lines, or those before a line.</summary>
    public Task<List<AuditEntry>> ListAsync(long? before, int count, CancellationToken cancel) =>
        new Sql(source, """
            select a.id, a.at, a.kind, p.name, b.name, a.address, a.words from audit a
            left join people p on p.id = a.person_id left join people b on b.id = a.by_id
            where @before is null or a.id < @before order by a.id desc limit @count
            """)
            .With("before", before, NpgsqlTypes.NpgsqlDbType.Bigint).With("count", count)
            .ListAsync(row => new AuditEntry(row.GetInt64(0), row.GetFieldValue<DateTimeOffset>(1), row.GetString(2), row.TextOrNull(3), row.TextOrNull(4), row.GetString(5), row.GetString(6)), cancel);

    /// <summary>The same as part of what it tells of: both are there, or neither.</summary>
    internal static Task AddAsync(NpgsqlTransaction transaction, AuditLine line, CancellationToken cancel) => Adding(new Sql(transaction, Insert), line).RunAsync(cancel);

    private static Sql Adding(Sql insert, AuditLine line) => insert
        .With("at", line.At.ToUniversalTime()).With("kind", JsonNamingPolicy.KebabCaseLower.ConvertName(line.Kind.ToString()))
        .With("person", line.Person, NpgsqlTypes.NpgsqlDbType.Uuid).With("by", line.By, NpgsqlTypes.NpgsqlDbType.Uuid)
        .With("address", line.Address.Cut(MostAddress)).With("words", line.Words.Cut(MostWords));
}
