using System.Net;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;
using WiseLoom.Instruments;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests;

/// <summary>The way through a run, and readings without a key, against a stand-in with hidden faults.</summary>
public sealed class WayTests(Shop shop)
{
    private static readonly Loom Small = LoomReader.Read(ImportTests.Small).Loom!;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <summary>A run with a meter of its own that reads a loom with hidden faults.</summary>
    private async Task<(Visitor Visitor, long Run, CancellationTokenSource Off)> StartAsync(params Fault[] hidden)
    {
        var off = new CancellationTokenSource();
        var listening = new TaskCompletionSource<int>();
        _ = new SimulatedMeter(Small, new SimulatedBench(Small, Meter.BenchFourWire, hidden, 3)).ServeAsync(0, listening.SetResult, off.Token);
        var name = $"Stand-in {Guid.NewGuid():n}";
        var meterId = await shop.Services.GetRequiredService<MeterStore>().PutAsync(name, "bench-four-wire", "127.0.0.1", await listening.Task, Cancel);
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        return (visitor, (await visitor.StartRunAsync(job, new { meterId, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64(), off);
    }

    [Fact]
    public async Task A_stand_in_that_carries_another_loom_says_so_before_the_run()
    {
        using var off = new CancellationTokenSource();
        var listening = new TaskCompletionSource<int>();
        var other = LoomReader.Read(await File.ReadAllBytesAsync(Path.Combine(Shop.DemoFolder, "work-launch.json"), Cancel)).Loom!;
        _ = new SimulatedMeter(other, new SimulatedBench(other, Meter.BenchFourWire, [], 3)).ServeAsync(0, listening.SetResult, off.Token);
        var store = shop.Services.GetRequiredService<MeterStore>();
        var name = $"Stand-in {Guid.NewGuid():n}";
        var meterId = await store.PutAsync(name, "bench-four-wire", "127.0.0.1", await listening.Task, Cancel);
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        async Task<string?> AgainstAsync(long meter) => (await visitor.ReadAsync($"/api/jobs/{job}/plan?meterId={meter}&isolation=neighbours")).GetProperty("against").GetString();

        (await AgainstAsync(meterId)).ShouldNotBeNull().ShouldContain($"carries the loom {other.Name}");
        (await AgainstAsync(await store.PutAsync("By eye", "hand-two-wire", null, null, Cancel))).ShouldBeNull();
        await off.CancelAsync();
        (await AgainstAsync(meterId)).ShouldNotBeNull().ShouldContain("cannot be reached");
    }

    private static async Task<int[]> WayAsync(Visitor visitor, long run, string query = "from=0&turned=false") =>
        [.. (await visitor.ReadAsync($"/api/runs/{run}/way?{query}")).GetProperty("steps").EnumerateArray().Select(s => s.GetProperty("step").GetInt32())];

    private static async Task<string?> TakeAsync(Visitor visitor, long run, int step, string by)
    {
        var shown = await visitor.PostForAsync($"/api/runs/{run}/{by}", new { step });
        double? ohms = shown.GetProperty("ohms").ValueKind == JsonValueKind.Null ? null : shown.GetProperty("ohms").GetDouble();
        return (await visitor.TakeAsync(run, Sent.New(step, ohms))).GetProperty("stored")[0].GetProperty("standing").GetProperty("state").GetString();
    }

    public static TheoryData<string, Fault, string[]> Hidden => new()
    {
        { "nothing", new OpenFault("no such wire", null), ["pass", "pass", "pass"] },
        { "a wire that is broken", new OpenFault(Small.Wires[0].Id, null), ["fail", "pass", "pass"] },
        { "a poor joint", new ResistiveFault(Small.Wires[1].Id, 2.5), ["pass", "pass", "fail"] },
        { "metal between two circuits", new ShortFault(Small.Wires[0].From.Text, Small.Wires[1].From.Text, 0.3), ["pass", "fail", "pass"] },
        { "two contacts exchanged", new SwapFault("A", ["1", "2"]), ["fail", "fail", "fail"] },
    };

    [Theory]
    [MemberData(nameof(Hidden))]
    public async Task Along_the_way_every_verdict_is_right(string what, Fault hidden, string[] verdicts)
    {
        var (visitor, run, off) = what == "nothing" ? await StartAsync() : await StartAsync(hidden);
        using (off)
        {
            foreach (var step in await WayAsync(visitor, run))
            {
                (await TakeAsync(visitor, run, step, "measure")).ShouldBe(verdicts[step - 1], $"{what}, step {step}");
            }

            (await WayAsync(visitor, run)).ShouldBeEmpty();
            await off.CancelAsync();
        }
    }

    [Fact]
    public async Task A_reading_that_holds_still_is_given_and_a_meter_that_is_gone_is_said_so()
    {
        var (visitor, run, off) = await StartAsync(new ResistiveFault(Small.Wires[0].Id, 2.5));
        using (off)
        {
            var shown = await visitor.PostForAsync($"/api/runs/{run}/steady", new { step = 1 });
            shown.GetProperty("steady").GetBoolean().ShouldBeTrue();
            shown.GetProperty("ohms").GetDouble().ShouldBeInRange(2.4, 2.7);
            (await visitor.PostForAsync($"/api/runs/{run}/steady", new { step = 2 })).GetProperty("overRange").GetBoolean().ShouldBeTrue();
            (await visitor.PostAsync($"/api/runs/{run}/steady", new { step = 99 })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
            await off.CancelAsync();
        }

        var gone = await visitor.PostAsync($"/api/runs/{run}/steady", new { step = 1 });
        gone.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
        (await gone.Content.ReadAsStringAsync(Cancel)).ShouldContain("cannot be reached");
    }

    [Fact]
    public async Task The_way_leaves_out_what_is_done_and_what_is_not_at_hand_and_takes_both_in_again()
    {
        var (visitor, run, off) = await StartAsync();
        using (off)
        {
            (await WayAsync(visitor, run)).ShouldBe([1, 2, 3]);
            await visitor.TakeAsync(run, Sent.New(1, 0.042));
            (await WayAsync(visitor, run, "from=1&turned=false")).ShouldBe([2, 3]);
            var away = await visitor.ReadAsync($"/api/runs/{run}/way?from=1&turned=true&away=B");
            away.GetProperty("steps").GetArrayLength().ShouldBe(0);
            away.GetProperty("waiting").EnumerateArray().Select(w => w.GetInt32()).ShouldBe([2, 3]);
            (await WayAsync(visitor, run, "from=1&turned=false")).ShouldBe([2, 3]);
            await off.CancelAsync();
        }
    }

    [Theory]
    [InlineData("from=99&turned=false", "steps 1 to 3")]
    [InlineData("from=-1&turned=false", "steps 1 to 3")]
    [InlineData("from=0&turned=false&away=NOWHERE", "connectors of this loom, such as A")]
    public async Task A_way_from_nowhere_that_exists_is_refused_with_what_would_be_right(string query, string words)
    {
        var (visitor, run, off) = await StartAsync();
        using (off)
        {
            var answer = await visitor.GetAsync($"/api/runs/{run}/way?{query}");
            answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
            (await answer.Content.ReadAsStringAsync(Cancel)).ShouldContain(words);
            await off.CancelAsync();
        }
    }

    [Fact]
    public async Task While_the_loom_is_flexed_a_loose_contact_shows_and_the_trace_ends_with_the_one_who_follows_it()
    {
        var (visitor, run, off) = await StartAsync(new IntermittentFault(Small.Wires[0].Id, "to"));
        using (off)
        {
            var steps = (await visitor.ReadAsync($"/api/runs/{run}/since/0")).GetProperty("steps").GetArrayLength();
            steps.ShouldBe(0);
            var step = 1 + Array.FindIndex([.. await JoinedAsync(visitor, run)], s => s);
            var (breaks, sees, worst) = await visitor.FollowAsync($"/api/runs/{run}/wiggle", new { step }, view => view.GetProperty("breaks").GetInt32() >= 2);
            breaks.ShouldBeGreaterThanOrEqualTo(2);
            sees.ShouldBeGreaterThan(0);
            worst.ShouldBeTrue();
            (await visitor.PostForAsync($"/api/runs/{run}/measure", new { step })).GetProperty("overRange").GetBoolean().ShouldBeFalse();
            (await visitor.PostAsync($"/api/runs/{run}/wiggle", new { step = 99 })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        }
    }

    private static async Task<IEnumerable<bool>> JoinedAsync(Visitor visitor, long run)
    {
        var job = (await visitor.ReadAsync($"/api/runs/{run}/record.json")).GetProperty("head").GetProperty("job").GetInt64();
        return (await visitor.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("run").GetProperty("steps").EnumerateArray().Select(s => s.GetProperty("joined").GetBoolean());
    }
}
