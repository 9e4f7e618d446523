using System.Net;
using CsCheck;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Tests;

/// <summary>Heavy work is done in turn, and what is light is not behind it.</summary>
public sealed class HeavyQueueTests(Shop shop)
{
    private static readonly Guid[] People = [.. Enumerable.Range(1, 4).Select(i => new Guid(i, 0, 0, new byte[8]))];

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static (HeavyTicket Ticket, Task<Turn> Turn) Ask(HeavyQueue queue, int person) => AskUntil(queue, person, Cancel);

    private static (HeavyTicket Ticket, Task<Turn> Turn) AskUntil(HeavyQueue queue, int person, CancellationToken cancel)
    {
        var ticket = new HeavyTicket(People[person], "Comparing");
        return (ticket, queue.EnterAsync(ticket, cancel));
    }

    [Fact]
    public async Task Each_person_has_a_turn_before_anybody_has_a_second()
    {
        var queue = new HeavyQueue(2, TimeProvider.System);
        var first = Enumerable.Range(0, 5).Select(_ => Ask(queue, 0)).ToList();
        var second = Enumerable.Range(0, 2).Select(_ => Ask(queue, 1)).ToList();

        (await first[0].Turn, await second[0].Turn).ShouldBe((Turn.Come, Turn.Come), "one of each runs");
        first[1].Turn.IsCompleted.ShouldBeFalse("the other place is not for the same person");
        queue.Of(People[0]).Select(w => w.Before).ShouldBe([0, 1, 3, 4, 5]);
        queue.Of(People[1]).Select(w => w.Before).ShouldBe([0, 2]);

        var third = Ask(queue, 2);
        queue.Leave(second[0].Ticket);
        (await second[1].Turn).ShouldBe(Turn.Come, "the next in the circle of persons whose share is free");
        queue.Leave(second[1].Ticket);
        (await third.Turn).ShouldBe(Turn.Come);
        first[1].Turn.IsCompleted.ShouldBeFalse();
        queue.Leave(first[0].Ticket);
        (await first[1].Turn).ShouldBe(Turn.Come);
    }

    [Fact]
    public async Task What_is_given_up_leaves_the_queue_and_the_next_comes()
    {
        var queue = new HeavyQueue(1, TimeProvider.System);
        var running = Ask(queue, 0);
        using var hangUp = new CancellationTokenSource();
        var (gone, next) = (AskUntil(queue, 1, hangUp.Token), Ask(queue, 1));
        await hangUp.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(() => gone.Turn);
        queue.Of(People[1]).Select(w => w.Before).ShouldBe([1]);

        queue.Leave(running.Ticket);
        (await next.Turn).ShouldBe(Turn.Come);
        queue.Leave(next.Ticket);
        People.ShouldAllBe(p => queue.Of(p).Count == 0);
    }

    [Fact]
    public async Task So_much_of_one_and_so_much_of_all_waits_and_no_more()
    {
        var queue = new HeavyQueue(1, TimeProvider.System);
        var asked = Enumerable.Range(0, HeavyQueue.MostForEach + 2).Select(_ => Ask(queue, 0)).ToList();
        (await asked[^1].Turn).ShouldBe(Turn.Full);
        asked[^2].Turn.IsCompleted.ShouldBeFalse();
        var others = Enumerable.Range(1, 3).SelectMany(p => Enumerable.Range(0, HeavyQueue.MostForEach).Select(_ => Ask(queue, p))).ToList();
        others.ShouldAllBe(o => !o.Turn.IsCompleted);
        (await new[] { new HeavyTicket(Guid.NewGuid(), "one more") }.Select(t => queue.EnterAsync(t, Cancel)).Single()).ShouldBe(Turn.Full);
    }

    [Fact]
    public void Whatever_comes_and_goes_no_more_run_than_may_each_runs_once_and_nobody_is_forgotten() => Gen.Select(Gen.Int[1, 4], Gen.Int[0, 3].Array[1, 60], Gen.Int[0, 1_000_000]).Sample((atOnce, asks, seed) =>
    {
        var (queue, random) = (new HeavyQueue(atOnce, TimeProvider.System), new Random(seed));
        var (open, hangUps) = (new List<(HeavyTicket Ticket, Task<Turn> Turn)>(), new Dictionary<HeavyTicket, CancellationTokenSource>());
        var ran = new HashSet<HeavyTicket>();
        foreach (var person in asks)
        {
            var hangUp = new CancellationTokenSource();
            var ask = AskUntil(queue, person, hangUp.Token);
            open.Add(ask);
            hangUps.Add(ask.Ticket, hangUp);
            Step(random.Next(3));
        }

        for (var n = 0; n < 3 * asks.Length; n++)
        {
            Step(1);
        }

        open.ShouldBeEmpty();
        People.ShouldAllBe(p => queue.Of(p).Count == 0);

        void Step(int what)
        {
            var running = open.FindAll(o => o.Ticket.BegunAt is not null);
            running.Count.ShouldBeLessThanOrEqualTo(atOnce);
            running.ForEach(r => ran.Add(r.Ticket));
            running.GroupBy(r => r.Ticket.Person).ShouldAllBe(g => g.Count() <= Math.Max(1, atOnce / 2));
            if (what == 1 && running.Count > 0)
            {
                var done = running[random.Next(running.Count)];
                queue.Leave(done.Ticket);
                open.Remove(done);
            }
            else if (what == 2 && open.Find(o => o.Ticket.BegunAt is null) is { Ticket: { } waits } gone)
            {
                hangUps[waits].Cancel();
                Should.Throw<OperationCanceledException>(() => gone.Turn.GetAwaiter().GetResult());
                open.Remove(gone);
            }

            // Somebody waits only while all places are taken, or the person's share is.
            foreach (var waits in open.Where(o => o.Ticket.BegunAt is null))
            {
                (open.Count(o => o.Ticket.BegunAt is not null) == atOnce || open.Count(o => o.Ticket.BegunAt is not null && o.Ticket.Person == waits.Ticket.Person) >= Math.Max(1, atOnce / 2)).ShouldBeTrue();
            }
        }
    }, iter: 200);

    [Fact]
    public async Task When_it_is_full_the_answer_says_so_in_words_and_a_reading_is_stored_all_the_same()
    {
        // Somebody of whom no other test asks anything: what waits is this person's alone.
        var technician = await shop.PersonAsync($"busy-{Guid.NewGuid():n}", "technician");
        var other = await shop.LookAsync();
        var job = await technician.JobWithLoomAsync(ImportTests.Small);
        var run = (await technician.StartRunAsync(job, new { meterId = 1, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        var queue = shop.Services.GetRequiredService<HeavyQueue>();
        using var hangUp = new CancellationTokenSource();
        var held = Enumerable.Range(0, HeavyQueue.MostForEach + Environment.ProcessorCount + 2).Select(_ => new HeavyTicket(technician.Person, "Comparing")).ToList();
        var turns = held.ConvertAll(t => queue.EnterAsync(t, hangUp.Token));
        try
        {
            var refused = await technician.GetAsync($"/api/jobs/{job}/bench");
            refused.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
            refused.Headers.RetryAfter!.Delta!.Value.TotalSeconds.ShouldBeInRange(1, 60);
            (await refused.Content.ReadAsStringAsync(Cancel)).ShouldContain("The server has its hands full");

            var mine = (await technician.ReadAsync("/api/work")).EnumerateArray().Select(w => (Before: w.GetProperty("before").GetInt32(), Text: w.GetProperty("text").GetString()!)).ToList();
            mine[0].Text.ShouldStartWith("at work for");

            // Persons take turns, so somebody else's work may come before the first of these; each says its own place, and no two the same.
            var waiting = mine.FindAll(m => m.Before > 0);
            waiting.Count.ShouldBeGreaterThanOrEqualTo(HeavyQueue.MostForEach);
            waiting.ShouldAllBe(m => m.Text == (m.Before == 1 ? "next in the queue" : $"{m.Before - 1} before it in the queue"));
            waiting.Select(m => m.Before).ShouldBeInOrder();
            waiting.Select(m => m.Before).ShouldBeUnique();
            (await technician.TakeAsync(run, Sent.New(1, 0.042))).GetProperty("stored").GetArrayLength().ShouldBe(1);
            (await other.ReadAsync("/api/work")).GetArrayLength().ShouldBe(0, "of others nothing is told");
        }
        finally
        {
            await hangUp.CancelAsync();
            held.ForEach(queue.Leave);
            await Task.WhenAll(turns.Select(t => t.ContinueWith(_ => { }, Cancel, TaskContinuationOptions.None, TaskScheduler.Default)));
        }

        (await technician.GetAsync($"/api/jobs/{job}/bench")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public void A_reading_is_never_in_the_queue_nor_what_leads_to_it()
    {
        string[] light =
        [
            "/api/runs/{id:long}/readings", "/api/runs/{id:long}/measure", "/api/runs/{id:long}/skips", "/api/runs/{id:long}/position", "/api/runs/{id:long}/since/{number:long}", "/api/session", "/api/jobs/{id:long}/events", "/api/jobs",
        ];
        var heavy = shop.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>().Where(e => e.Metadata.GetMetadata<Heavy>() is not null).Select(e => e.RoutePattern.RawText!).ToList();
        heavy.Count.ShouldBeGreaterThan(30);
        heavy.Intersect(light).ShouldBeEmpty();
    }
}
