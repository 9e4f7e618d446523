namespace WiseLoom.Web.Work;

/// <summary>What came of asking for a turn.</summary>
internal enum Turn
{
    /// <summary>It is there.</summary>
    Come,

    /// <summary>So much waits already, of this person or of all, that nobody would wait for more.</summary>
    Full,

    /// <summary>It did not come in time.</summary>
    TooLate,
}

/// <summary>Heavy work of everybody, in turn: each person's in its own order, the persons one after the other, so that one who asks for much waits for
/// that alone. Nobody has more than a share of what runs at once.</summary>
/// <param name="atOnce">How much runs at the same time.</param>
internal sealed class HeavyQueue(int atOnce, TimeProvider clock)
{
    /// <summary>So much of one person waits at most.</summary>
    internal const int MostForEach = 30;

    /// <summary>So much of all waits at most.</summary>
    internal const int MostWaiting = 120;

    /// <summary>Nobody waits longer for a turn.</summary>
    internal static readonly TimeSpan Patience = TimeSpan.FromSeconds(90);

    private readonly int share = Math.Max(1, atOnce / 2);
    private readonly Lock gate = new();
    private readonly LinkedList<Guid> order = new();
    private readonly Dictionary<Guid, LinkedList<HeavyTicket>> waiting = [];
    private readonly List<HeavyTicket> running = [];

    /// <summary>Whether nothing runs and nothing waits.</summary>
    internal bool IsIdle
    {
        get
        {
            lock (gate)
            {
                return running.Count == 0 && waiting.Count == 0;
            }
        }
    }

    /// <summary>Waits for a turn; leaving the queue, by a turn or by giving up, is what disposing the ticket does.</summary>
    internal async Task<Turn> EnterAsync(HeavyTicket ticket, CancellationToken cancel)
    {
        lock (gate)
        {
            var own = waiting.GetValueOrDefault(ticket.Person);
            if (own?.Count >= MostForEach || waiting.Values.Sum(w => w.Count) >= MostWaiting)
            {
                return Turn.Full;
            }

            if (own is null)
            {
                waiting.Add(ticket.Person, own = new());
                order.AddLast(ticket.Person);
            }

            own.AddLast(ticket);
            CallNext();
        }

        try
        {
            await ticket.Come.Task.WaitAsync(Patience, clock, cancel);
            return Turn.Come;
        }
        catch (TimeoutException)
        {
            Leave(ticket);
            return Turn.TooLate;
        }
        catch (OperationCanceledException)
        {
            Leave(ticket);
            throw;
        }
    }

    /// <summary>Gives a turn back, or the place in the queue.</summary>
    internal void Leave(HeavyTicket ticket)
    {
        lock (gate)
        {
            running.Remove(ticket);
            if (waiting.TryGetValue(ticket.Person, out var own) && own.Remove(ticket) && own.Count == 0)
            {
                Forget(ticket.Person);
            }

            CallNext();
        }
    }

    /// <summary>What of a person runs and waits, in the order in which it was asked for, each with how many turns come before it; 0 when it runs.</summary>
    internal List<(HeavyTicket Ticket, int Before)> Of(Guid person)
    {
        lock (gate)
        {
            var mine = running.Where(t => t.Person == person).Select(t => (t, 0)).ToList();
            if (waiting.TryGetValue(person, out var own))
            {
                // One of each other person comes before each of mine, and one more of those who stand before me.
                var ahead = order.TakeWhile(p => p != person).ToHashSet();
                mine.AddRange(own.Select((t, k) => (t, 1 + k + waiting.Where(w => w.Key != person).Sum(w => Math.Min(w.Value.Count, k + (ahead.Contains(w.Key) ? 1 : 0))))));
            }

            return mine;
        }
    }

    private void CallNext()
    {
        while (running.Count < atOnce && order.FirstOrDefault(p => running.Count(t => t.Person == p) < share) is var person && person != Guid.Empty)
        {
            var own = waiting[person];
            var next = own.First!.Value;
            own.RemoveFirst();
            order.Remove(person);
            if (own.Count == 0)
            {
                waiting.Remove(person);
            }
            else
            {
                order.AddLast(person);
            }

            running.Add(next);
            next.Begin(clock.GetUtcNow());
        }
    }

    private void Forget(Guid person)
    {
        waiting.Remove(person);
        order.Remove(person);
    }
}

/// <summary>One piece of heavy work.</summary>
/// <param name="person">For whom.</param>
/// <param name="what">In words.</param>
internal sealed class HeavyTicket(Guid person, string what)
{
    internal Guid Person { get; } = person;

    internal string What { get; } = what;

    /// <summary>When it began to run; null while it waits.</summary>
    internal DateTimeOffset? BegunAt { get; private set; }

    /// <summary>What it is at, in words; null when it does not say.</summary>
    internal string? Stage { get; set; }

    internal TaskCompletionSource Come { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);

    internal void Begin(DateTimeOffset at)
    {
        BegunAt = at;
        Come.TrySetResult();
    }
}
