using Npgsql;
using WiseLoom.Core.Shop;

namespace WiseLoom.Store;

/// <summary>A session as its owner sees it.</summary>
public sealed record OpenSession(Guid Id, DateTimeOffset BegunAt, DateTimeOffset SeenAt, string Address, string Browser);

/// <summary>Who is signed in where. A cookie names a session; whether it holds, and for which role, is said here.</summary>
public sealed class SessionStore(NpgsqlDataSource source)
{
    private static readonly TimeSpan Kept = TimeSpan.FromDays(30), SeenAgain = TimeSpan.FromMinutes(1);

    private const int MostBrowser = 200, MostAddress = 60;

    /// <summary>Begins a session, unless the person has just been shut out.</summary>
    /// <returns>Its number; null when the account is disabled, or its password is no longer the one that was looked at.</returns>
    public Task<Guid?> BeginAsync(Person person, string address, string browser, DateTimeOffset now, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(person);
        ArgumentNullException.ThrowIfNull(address);
        ArgumentNullException.ThrowIfNull(browser);
        return source.TogetherAsync<Guid?>(async transaction =>
        {
            // Held against one who changes the account at this moment: either that comes first and is seen, or it finds this session and ends it.
            if (await new Sql(transaction, PeopleStore.Select + " where id = @id for share").With("id", person.Id).FirstAsync(PeopleStore.Read, cancel).ConfigureAwait(false) is not { Disabled: false } current
                || current.PasswordHash != person.PasswordHash)
            {
                return null;
            }

            var id = Guid.CreateVersion7();
            await new Sql(transaction, "delete from sessions where seen_at < @before").With("before", (now - Kept).ToUniversalTime()).RunAsync(cancel).ConfigureAwait(false);
            await new Sql(transaction, "insert into sessions (id, person_id, begun_at, seen_at, address, browser) values (@id, @person, @now, @now, @address, @browser)")
                .With("id", id).With("person", person.Id).With("now", now.ToUniversalTime()).With("address", address.Cut(MostAddress)).With("browser", browser.Cut(MostBrowser))
                .RunAsync(cancel).ConfigureAwait(false);
            await AuditStore.AddAsync(transaction, new(AuditEvent.SignedIn, now, person.Id, person.Id, address, ""), cancel).ConfigureAwait(false);
            return id;
        }, id => id is not null, cancel);
    }

    /// <summary>Whose session it is, as that person is now; null when it has ended, was idle for too long, or the account is disabled. Being asked for keeps it open.</summary>
    public Task<Person?> HolderAsync(Guid id, DateTimeOffset now, CancellationToken cancel) =>
        new Sql(source, """
            with seen as (update sessions set seen_at = @now where id = @id and ended_at is null and seen_at > @idle and seen_at < @again)
            select p.id, p.sign_in, p.name, p.role, p.password_hash, p.disabled, p.demo, p.version
            from sessions s join people p on p.id = s.person_id
            where s.id = @id and s.ended_at is null and s.seen_at > @idle and not p.disabled
            """)
            .With("id", id).With("now", now.ToUniversalTime()).With("idle", (now - AccountRules.SessionIdle).ToUniversalTime()).With("again", (now - SeenAgain).ToUniversalTime())
            .FirstAsync(PeopleStore.Read, cancel);

    /// <summary>The open sessions of a person, the one used last first.</summary>
    public Task<List<OpenSession>> OfAsync(Guid person, DateTimeOffset now, CancellationToken cancel) =>
        new Sql(source, "select id, begun_at, seen_at, address, browser from sessions where person_id = @person and ended_at is null and seen_at > @idle order by seen_at desc, id limit 100")
            .With("person", person).With("idle", (now - AccountRules.SessionIdle).ToUniversalTime())
            .ListAsync(row => new OpenSession(row.GetGuid(0), row.GetFieldValue<DateTimeOffset>(1), row.GetFieldValue<DateTimeOffset>(2), row.GetString(3), row.GetString(4)), cancel);

    /// <summary>Ends a session of a person.</summary>
    /// <returns>False when it has ended already, or is not of this person.</returns>
    public Task<bool> EndAsync(Guid id, Guid person, AuditLine line, CancellationToken cancel) =>
        source.TogetherAsync(async transaction =>
        {
            var ended = await new Sql(transaction, "update sessions set ended_at = @at where id = @id and person_id = @person and ended_at is null")
                .With("id", id).With("person", person).With("at", line.At.ToUniversalTime()).RunAsync(cancel).ConfigureAwait(false);
            await AuditStore.AddAsync(transaction, line, cancel).ConfigureAwait(false);
            return ended == 1;
        }, ended => ended, cancel);

    /// <summary>Ends all sessions of a person but one.</summary>
    internal static Task EndAllAsync(NpgsqlTransaction transaction, Guid person, Guid? but, DateTimeOffset now, CancellationToken cancel) =>
        new Sql(transaction, "update sessions set ended_at = @now where person_id = @person and ended_at is null and id is distinct from @but")
            .With("person", person).With("now", now.ToUniversalTime()).With("but", but, NpgsqlTypes.NpgsqlDbType.Uuid).RunAsync(cancel);
}
