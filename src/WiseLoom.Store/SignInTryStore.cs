using Npgsql;
using WiseLoom.Core.Shop;

namespace WiseLoom.Store;

/// <summary>Failed tries to sign in.</summary>
public sealed class SignInTryStore(NpgsqlDataSource source)
{
    /// <summary>Counts a try, one at a time for each key, unless it has to wait.</summary>
    /// <returns>How long it has to wait; zero when it was counted and may be looked at.</returns>
    public async Task<TimeSpan> CountAsync(string name, string address, Guid? browser, DateTimeOffset now, CancellationToken cancel)
    {
        var keys = SignInBrake.Keys(name, address, browser);
        return await source.TogetherAsync(async transaction =>
        {
            var known = await LockAsync(transaction, keys, cancel).ConfigureAwait(false);
            if (SignInBrake.Wait(known.Values, now) is var wait && wait > TimeSpan.Zero)
            {
                return wait;
            }

            foreach (var (key, rule) in keys)
            {
                await SetAsync(transaction, key, SignInBrake.After(known[key], rule, now), cancel).ConfigureAwait(false);
            }

            // What another sign-in holds is in use, however old it is.
            await new Sql(transaction, "delete from sign_in_tries where key in (select key from sign_in_tries where last_at < @before for update skip locked)").With("before", (now - SignInBrake.Memory).ToUniversalTime()).RunAsync(cancel).ConfigureAwait(false);
            return TimeSpan.Zero;
        }, wait => wait == TimeSpan.Zero, cancel).ConfigureAwait(false);
    }

    /// <summary>The try was right: it is taken back, and this name from this address begins anew.</summary>
    public async Task RightAsync(string name, string address, Guid? browser, CancellationToken cancel)
    {
        var keys = SignInBrake.Keys(name, address, browser);
        await source.TogetherAsync(async transaction =>
        {
            var known = await LockAsync(transaction, keys, cancel).ConfigureAwait(false);
            foreach (var (key, _) in keys)
            {
                await SetAsync(transaction, key, key == keys[^1].Key ? SignInTries.None : SignInBrake.Right(known[key]), cancel).ConfigureAwait(false);
            }
        }, cancel).ConfigureAwait(false);
    }

    private static async Task<Dictionary<string, SignInTries>> LockAsync(NpgsqlTransaction transaction, IReadOnlyList<(string Key, BrakeRule Rule)> keys, CancellationToken cancel)
    {
        string[] names = [.. keys.Select(k => k.Key)];
        await new Sql(transaction, "insert into sign_in_tries (key, tries, last_at, next_at) select k, 0, 'epoch', 'epoch' from unnest(@keys) as k order by k on conflict (key) do nothing")
            .With("keys", names).RunAsync(cancel).ConfigureAwait(false);
        var rows = await new Sql(transaction, "select key, tries, last_at, next_at from sign_in_tries where key = any(@keys) order by key for update").With("keys", names)
            .ListAsync(row => (Key: row.GetString(0), Tries: new SignInTries(row.GetInt32(1), row.GetFieldValue<DateTimeOffset>(2), row.GetFieldValue<DateTimeOffset>(3))), cancel).ConfigureAwait(false);
        // One that was forgotten this very moment is none.
        return keys.ToDictionary(k => k.Key, k => rows.Find(r => r.Key == k.Key).Tries ?? SignInTries.None, StringComparer.Ordinal);
    }

    private static Task<int> SetAsync(NpgsqlTransaction transaction, string key, SignInTries tries, CancellationToken cancel) =>
        new Sql(transaction, """
            insert into sign_in_tries (key, tries, last_at, next_at) values (@key, @tries, @last, @next)
            on conflict (key) do update set tries = excluded.tries, last_at = excluded.last_at, next_at = excluded.next_at
            """)
            .With("tries", tries.Tries).With("last", tries.LastAt.ToUniversalTime()).With("next", tries.NextAt.ToUniversalTime()).With("key", key).RunAsync(cancel);
}
