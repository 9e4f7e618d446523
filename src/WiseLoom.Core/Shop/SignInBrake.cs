namespace WiseLoom.Core.Shop;

/// <summary>How tries to sign in are slowed down that are counted under one key.</summary>
/// <param name="Free">So many failed tries cost nothing; from then on the wait doubles with each.</param>
/// <param name="MostSeconds">The longest wait.</param>
public sealed record BrakeRule(int Free, int MostSeconds);

/// <summary>Failed tries under one key.</summary>
/// <param name="LastAt">When the last one was.</param>
/// <param name="NextAt">Not before then is another one looked at.</param>
public sealed record SignInTries(int Tries, DateTimeOffset LastAt, DateTimeOffset NextAt)
{
    /// <summary>None yet.</summary>
    public static SignInTries None { get; } = new(0, DateTimeOffset.UnixEpoch, DateTimeOffset.UnixEpoch);
}

/// <summary>The brake on guessing passwords. A name tried from one address is slowed down soon and long; one name from everywhere, and one address with any
/// name, only so far that a shop behind one address, and the person who is guessed at, still come in.</summary>
public static class SignInBrake
{
    /// <summary>Tries are forgotten when none came for so long.</summary>
    public static TimeSpan Memory { get; } = TimeSpan.FromHours(1);

    /// <summary>The keys that a try counts under, with their rules, in the order in which they are locked.</summary>
    /// <param name="name">The sign-in name as it was typed.</param>
    /// <param name="address">Where it comes from.</param>
    /// <param name="browser">The browser, when the owner of the name has signed in there before; null otherwise. Its tries count by themselves, so that nobody is locked out by others.</param>
    public static IReadOnlyList<(string Key, BrakeRule Rule)> Keys(string name, string address, Guid? browser = null)
    {
        ArgumentNullException.ThrowIfNull(name);
        var who = name.Trim().ToLowerInvariant();
        return browser is { } known ? [($"browser {known} of {who}", new(5, 900))] : [($"address {address}", new(30, 10)), ($"name {who}", new(30, 60)), ($"name {who} from {address}", new(5, 900))];
    }

    /// <summary>How long a try has to wait; zero when it is looked at now.</summary>
    public static TimeSpan Wait(IEnumerable<SignInTries> known, DateTimeOffset now)
    {
        var wait = known.Max(k => k.NextAt) - now;
        return wait > TimeSpan.Zero ? wait : TimeSpan.Zero;
    }

    /// <summary>The count with one more try, which is taken for failed until it is known to be right.</summary>
    public static SignInTries After(SignInTries known, BrakeRule rule, DateTimeOffset now)
    {
        ArgumentNullException.ThrowIfNull(known);
        ArgumentNullException.ThrowIfNull(rule);
        var tries = now - known.LastAt > Memory ? 1 : known.Tries + 1;
        var over = tries - rule.Free;
        return new(tries, now, over <= 0 ? DateTimeOffset.UnixEpoch : now.AddSeconds(Math.Min(rule.MostSeconds, Math.Pow(2, Math.Min(over, 30)))));
    }

    /// <summary>The count when the try was right: it is taken back.</summary>
    public static SignInTries Right(SignInTries known)
    {
        ArgumentNullException.ThrowIfNull(known);
        return known with { Tries = Math.Max(0, known.Tries - 1), NextAt = DateTimeOffset.UnixEpoch };
    }
}
