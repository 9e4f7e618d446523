using Npgsql;
using WiseLoom.Core.Shop;

namespace WiseLoom.Store;

/// <summary>An account as a lead sees it.</summary>
/// <param name="LinkExpires">Until when a link to set its password is open; null when none is.</param>
/// <param name="LastIn">When its owner last came in; null for never.</param>
/// <param name="Sessions">How many of its sessions are open.</param>
public sealed record AccountEntry(Person Person, DateTimeOffset? LinkExpires, DateTimeOffset? LastIn, int Sessions);

/// <summary>Who does something to accounts, from where and when.</summary>
/// <param name="Demo">Whether the people of the example world come in.</param>
public sealed record AccountHand(Guid By, string Address, DateTimeOffset At, bool Demo);

/// <summary>What came of changing an account.</summary>
public enum AccountChange
{
    /// <summary>It is done.</summary>
    Done,

    /// <summary>There is no such account.</summary>
    Missing,

    /// <summary>Somebody else changed it meanwhile.</summary>
    Overtaken,

    /// <summary>Nobody would be left who can give access.</summary>
    LastLead,

    /// <summary>Who asks is no longer a lead.</summary>
    NotALead,

    /// <summary>The sign-in name is taken.</summary>
    Taken,
}

/// <summary>Gives and takes access; each change stands in the audit list or did not happen.</summary>
public sealed class AccountStore(NpgsqlDataSource source)
{
    /// <summary>The advisory lock under which access is changed, one change at a time.</summary>
    private const int AccountLock = 7113;

    public Task<List<AccountEntry>> AllAsync(DateTimeOffset now, CancellationToken cancel) =>
        new Sql(source, """
            select p.id, p.sign_in, p.name, p.role, p.password_hash, p.disabled, p.demo, p.version,
                   (select max(expires_at) from password_links l where l.person_id = p.id and l.closed_at is null and l.expires_at > @now),
                   (select max(at) from audit a where a.person_id = p.id and a.kind = 'signed-in'),
                   (select count(*)::int from sessions s where s.person_id = p.id and s.ended_at is null and s.seen_at > @idle)
            from people p order by p.disabled, p.name, p.id
            """)
            .With("now", now.ToUniversalTime()).With("idle", (now - AccountRules.SessionIdle).ToUniversalTime())
            .ListAsync(row => new AccountEntry(PeopleStore.Read(row), row.ValueOrNull<DateTimeOffset>(8), row.ValueOrNull<DateTimeOffset>(9), row.GetInt32(10)), cancel);

    /// <summary>Makes an account with a link by which its owner sets the password.</summary>
    /// <param name="linkHash">SHA-256 of the link's code.</param>
    public Task<AccountChange> AddAsync(Person person, byte[] linkHash, AccountHand hand, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(person);
        return AsLeadAsync(hand, async transaction =>
        {
            if (await PeopleStore.Adding(new Sql(transaction, PeopleStore.Add), person).RunAsync(cancel).ConfigureAwait(false) == 0)
            {
                return AccountChange.Taken;
            }

            await LogAsync(transaction, AuditEvent.AccountMade, person.Id, hand, $"{person.Name}, {person.SignIn}, {person.Role}", cancel).ConfigureAwait(false);
            await OpenLinkAsync(transaction, person.Id, linkHash, hand, cancel).ConfigureAwait(false);
            return AccountChange.Done;
        }, cancel);
    }

    /// <summary>Changes name, role or state of an account. Disabling ends its sessions and its link.</summary>
    /// <param name="to">The account as it is to be; its version is the one that was looked at.</param>
    public Task<AccountChange> ChangeAsync(Person to, AccountHand hand, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(to);
        ArgumentNullException.ThrowIfNull(hand);
        return AsLeadAsync(hand, async transaction =>
        {
            if (await FindAsync(transaction, to.Id, cancel).ConfigureAwait(false) is not { } now)
            {
                return AccountChange.Missing;
            }

            if (now.Version != to.Version)
            {
                return AccountChange.Overtaken;
            }

            await new Sql(transaction, "update people set name = @name, role = @role, disabled = @disabled, version = version + 1 where id = @id")
                .With("name", to.Name).With("role", to.Role).With("disabled", to.Disabled).With("id", to.Id).RunAsync(cancel).ConfigureAwait(false);
            if (!await HasLeadAsync(transaction, hand.Demo, cancel).ConfigureAwait(false))
            {
                return AccountChange.LastLead;
            }

            if (to.Disabled)
            {
                await SessionStore.EndAllAsync(transaction, to.Id, null, hand.At, cancel).ConfigureAwait(false);
                await CloseLinkAsync(transaction, to.Id, hand.At, cancel).ConfigureAwait(false);
            }

            var words = string.Join(", ", new[]
            {
                now.Name == to.Name ? null : $"name {now.Name} → {to.Name}",
                now.Role == to.Role ? null : $"role {now.Role} → {to.Role}",
                now.Disabled == to.Disabled ? null : to.Disabled ? "disabled" : "enabled again",
            }.OfType<string>());
            await LogAsync(transaction, AuditEvent.AccountChanged, to.Id, hand, words.Length > 0 ? words : "nothing changed", cancel).ConfigureAwait(false);
            return AccountChange.Done;
        }, cancel);
    }

    /// <summary>Makes a one-time link to set an account's password; an earlier one is closed.</summary>
    public Task<AccountChange> LinkAsync(Guid id, byte[] linkHash, AccountHand hand, CancellationToken cancel) => AsLeadAsync(hand, async transaction =>
    {
        if (await FindAsync(transaction, id, cancel).ConfigureAwait(false) is not { Disabled: false })
        {
            return AccountChange.Missing;
        }

        await OpenLinkAsync(transaction, id, linkHash, hand, cancel).ConfigureAwait(false);
        return AccountChange.Done;
    }, cancel);

    /// <summary>Ends all sessions of an account.</summary>
    public Task<AccountChange> EndSessionsAsync(Guid id, AccountHand hand, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(hand);
        return AsLeadAsync(hand, async transaction =>
        {
            if (await FindAsync(transaction, id, cancel).ConfigureAwait(false) is null)
            {
                return AccountChange.Missing;
            }

            await SessionStore.EndAllAsync(transaction, id, null, hand.At, cancel).ConfigureAwait(false);
            await LogAsync(transaction, AuditEvent.SessionEnded, id, hand, "all of them", cancel).ConfigureAwait(false);
            return AccountChange.Done;
        }, cancel);
    }

    /// <summary>Whose link it is; null when it is closed, has expired, or never was.</summary>
    public Task<Person?> OfLinkAsync(byte[] linkHash, DateTimeOffset now, CancellationToken cancel) => OfLink(new Sql(source, LinkOwner), linkHash, now).FirstAsync(PeopleStore.Read, cancel);

    /// <summary>Sets a password through its link, which is used up by it; every session of the account ends.</summary>
    /// <returns>Whose it was; null when the link is closed, has expired, or never was.</returns>
    public Task<Person?> UseLinkAsync(byte[] linkHash, string passwordHash, string address, DateTimeOffset now, CancellationToken cancel) => LockedAsync(async transaction =>
    {
        if (await OfLink(new Sql(transaction, LinkOwner), linkHash, now).FirstAsync(PeopleStore.Read, cancel).ConfigureAwait(false) is not { } person)
        {
            return null;
        }

        await SetAsync(transaction, person.Id, passwordHash, null, new(person.Id, address, now, false), "through the link", cancel).ConfigureAwait(false);
        return person;
    }, person => person is not null, cancel);

    /// <summary>Changes the password of somebody who knows the old one; every other session of the account ends.</summary>
    /// <param name="person">The account as it was when the old password was looked at.</param>
    /// <param name="session">The session that stays.</param>
    /// <returns>False when the password is no longer the one that was looked at.</returns>
    public Task<bool> PasswordAsync(Person person, string passwordHash, Guid session, AccountHand hand, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(person);
        return LockedAsync(async transaction =>
        {
            if (await FindAsync(transaction, person.Id, cancel).ConfigureAwait(false) is not { Disabled: false } now || now.PasswordHash != person.PasswordHash)
            {
                return false;
            }

            await SetAsync(transaction, person.Id, passwordHash, session, hand, "by its owner", cancel).ConfigureAwait(false);
            return true;
        }, done => done, cancel);
    }

    /// <summary>Makes the first lead, while there is none.</summary>
    public Task<AccountChange> FirstLeadAsync(Person lead, AccountHand hand, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(lead);
        ArgumentNullException.ThrowIfNull(hand);
        return LockedAsync(async transaction =>
        {
            if (await HasLeadAsync(transaction, hand.Demo, cancel).ConfigureAwait(false))
            {
                return AccountChange.Overtaken;
            }

            if (await PeopleStore.Adding(new Sql(transaction, PeopleStore.Add), lead).RunAsync(cancel).ConfigureAwait(false) == 0)
            {
                return AccountChange.Taken;
            }

            await LogAsync(transaction, AuditEvent.AccountMade, lead.Id, hand, $"{lead.Name}, {lead.SignIn}, the first lead", cancel).ConfigureAwait(false);
            return AccountChange.Done;
        }, change => change == AccountChange.Done, cancel);
    }

    private const string LinkOwner = """
        select p.id, p.sign_in, p.name, p.role, p.password_hash, p.disabled, p.demo, p.version
        from password_links l join people p on p.id = l.person_id
        where l.hash = @hash and l.closed_at is null and l.expires_at > @now and not p.disabled
        """;

    private static Sql OfLink(Sql owner, byte[] linkHash, DateTimeOffset now) => owner.With("hash", linkHash).With("now", now.ToUniversalTime());

    private static Task<Person?> FindAsync(NpgsqlTransaction transaction, Guid id, CancellationToken cancel) =>
        new Sql(transaction, PeopleStore.Select + " where id = @id for update").With("id", id).FirstAsync(PeopleStore.Read, cancel);

    private static Task<bool> HasLeadAsync(NpgsqlTransaction transaction, bool demo, CancellationToken cancel) =>
        PeopleStore.HasLead(new Sql(transaction, PeopleStore.AnyLead), demo).ScalarAsync<bool>(cancel);

    private static Task LogAsync(NpgsqlTransaction transaction, AuditEvent kind, Guid person, AccountHand hand, string words, CancellationToken cancel) =>
        AuditStore.AddAsync(transaction, new(kind, hand.At, person, hand.By, hand.Address, words), cancel);

    private static Task<int> CloseLinkAsync(NpgsqlTransaction transaction, Guid person, DateTimeOffset now, CancellationToken cancel) =>
        new Sql(transaction, "update password_links set closed_at = @now where person_id = @person and closed_at is null").With("person", person).With("now", now.ToUniversalTime()).RunAsync(cancel);

    private static async Task OpenLinkAsync(NpgsqlTransaction transaction, Guid person, byte[] linkHash, AccountHand hand, CancellationToken cancel)
    {
        await CloseLinkAsync(transaction, person, hand.At, cancel).ConfigureAwait(false);
        await new Sql(transaction, "insert into password_links (hash, person_id, made_by, expires_at) values (@hash, @person, @by, @expires)")
            .With("hash", linkHash).With("person", person).With("by", hand.By).With("expires", (hand.At + AccountRules.LinkLasts).ToUniversalTime()).RunAsync(cancel).ConfigureAwait(false);
        await LogAsync(transaction, AuditEvent.LinkMade, person, hand, $"open for {AccountRules.LinkLasts.TotalDays:0} days", cancel).ConfigureAwait(false);
    }

    private static async Task SetAsync(NpgsqlTransaction transaction, Guid person, string passwordHash, Guid? keep, AccountHand hand, string words, CancellationToken cancel)
    {
        await new Sql(transaction, "update people set password_hash = @hash, version = version + 1 where id = @id").With("hash", passwordHash).With("id", person).RunAsync(cancel).ConfigureAwait(false);
        await SessionStore.EndAllAsync(transaction, person, keep, hand.At, cancel).ConfigureAwait(false);
        await CloseLinkAsync(transaction, person, hand.At, cancel).ConfigureAwait(false);
        await LogAsync(transaction, AuditEvent.PasswordSet, person, hand, words, cancel).ConfigureAwait(false);
    }

    /// <summary>What a lead does, who must still be one when it is done.</summary>
    private Task<AccountChange> AsLeadAsync(AccountHand hand, Func<NpgsqlTransaction, Task<AccountChange>> work, CancellationToken cancel) => LockedAsync(
        async transaction => await FindAsync(transaction, hand.By, cancel).ConfigureAwait(false) is { Disabled: false, Role: Role.Lead } ? await work(transaction).ConfigureAwait(false) : AccountChange.NotALead,
        change => change == AccountChange.Done,
        cancel);

    private Task<T> LockedAsync<T>(Func<NpgsqlTransaction, Task<T>> work, Func<T, bool> keep, CancellationToken cancel) => source.TogetherAsync(
        async transaction =>
        {
            await new Sql(transaction, "select pg_advisory_xact_lock(@lock)").With("lock", AccountLock).RunAsync(cancel).ConfigureAwait(false);
            return await work(transaction).ConfigureAwait(false);
        },
        keep,
        cancel);
}
