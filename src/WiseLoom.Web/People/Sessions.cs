using Microsoft.Extensions.Caching.Memory;
using WiseLoom.Store;
using WiseLoom.Web.Demo;

namespace WiseLoom.Web.People;

/// <summary>Which sessions hold, and whose they are by now. Asked of the database every few seconds, so that access that is taken away is gone within them, in every process.</summary>
internal sealed class Sessions(SessionStore store, DemoWorld demo, TimeProvider clock) : IDisposable
{
    /// <summary>For so long an answer is taken for true.</summary>
    internal static readonly TimeSpan Trusted = TimeSpan.FromSeconds(3);

    private const int Most = 5000;

    private readonly MemoryCache known = new(new MemoryCacheOptions { SizeLimit = Most });

    /// <summary>Whose session it is; null when it holds no more.</summary>
    internal async Task<Person?> HolderAsync(Guid session, CancellationToken cancel)
    {
        if (known.TryGetValue(session, out Person? person))
        {
            return person;
        }

        person = await store.HolderAsync(session, clock.GetUtcNow(), cancel) is { } holder && MayComeIn(holder) ? holder : null;
        known.Set(session, person, new MemoryCacheEntryOptions { Size = 1, AbsoluteExpirationRelativeToNow = Trusted });
        return person;
    }

    /// <summary>Whether somebody is let in at all: not disabled, and not of an example world that is not shown.</summary>
    internal bool MayComeIn(Person person) => !person.Disabled && (!person.Demo || demo.IsShown);

    /// <summary>Has the database asked anew for all sessions: somebody's access has changed here.</summary>
    internal void AskAnew() => known.Clear();

    public void Dispose() => known.Dispose();
}
