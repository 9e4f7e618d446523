using System.Net;
using System.Text.Json;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;
using WiseLoom.Instruments;

namespace WiseLoom.Web.Tests;

/// <summary>The shop's meters over HTTP, and their care at a bench.</summary>
public sealed class InstrumentTests(Shop shop)
{
    private static readonly Loom Small = LoomReader.Read(ImportTests.Small).Loom!;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static object Meter(string name, string profile = "hand-two-wire", string? host = null, int? port = null, bool matrix = false, object? figures = null, bool retired = false, string? due = null) =>
        new { name, profile, host, port, matrix, figures, retired, calibrated = (string?)null, calibrationDue = due };

    private static object Figures(double percent) => new { fourWire = false, touchOhms = 0.05, leadOhms = 0.2, ranges = new[] { new { upToOhms = 2000.0, percent, counts = 2.0, resolutionOhms = 0.01 } } };

    private static string Name() => $"Meter {Guid.NewGuid():n}";

    private static async Task<(SimulatedMeter Meter, int Port, CancellationTokenSource Off)> StandInAsync()
    {
        var off = new CancellationTokenSource();
        var listening = new TaskCompletionSource<int>();
        var meter = new SimulatedMeter(Small, new SimulatedBench(Small, Core.Electrical.Meter.BenchFourWire, [], 3));
        _ = meter.ServeAsync(0, listening.SetResult, off.Token);
        return (meter, await listening.Task, off);
    }

    private static async Task<JsonElement> OneAsync(Visitor visitor, long id) => (await visitor.ReadAsync("/api/instruments")).EnumerateArray().Single(m => m.GetProperty("id").GetInt64() == id);

    [Fact]
    public async Task A_lead_enters_a_meter_tries_it_and_a_run_is_measured_with_it()
    {
        var (_, port, off) = await StandInAsync();
        using var _ = off;
        var (lead, technician, name) = (await shop.LeadAsync(), await shop.TechnicianAsync(), Name());
        var id = (await lead.PostForAsync("/api/instruments", Meter(name, "bench-four-wire", "127.0.0.1", port, matrix: true))).GetProperty("id").GetInt64();
        var tried = await technician.PostForAsync($"/api/instruments/{id}/try", new { });
        tried.GetProperty("identity").GetString()!.ShouldContain("stand-in");
        tried.GetProperty("loom").GetString().ShouldBe(Small.Name);

        var job = await technician.JobWithLoomAsync(ImportTests.Small);
        var run = (await technician.StartRunAsync(job, new { meterId = id, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        foreach (var check in new[] { "lead-zero", "range", "known-link" })
        {
            (await technician.PostForAsync($"/api/runs/{run}/care", new { key = Guid.CreateVersion7(), check, byInstrument = true, overRange = false })).GetProperty("passed").GetBoolean().ShouldBeTrue();
        }

        (await technician.ReadAsync($"/api/runs/{run}/care")).GetProperty("note").GetString().ShouldBeNull();
        (await OneAsync(technician, id)).GetProperty("lastCheck").GetString()!.ShouldStartWith("right on ");
        await off.CancelAsync();
        (await lead.PostForAsync($"/api/instruments/{id}/try", new { })).GetProperty("problem").GetString()!.ShouldContain("cannot be reached");
    }

    [Fact]
    public async Task A_meter_that_drifts_in_the_middle_of_a_run_is_found_out_and_its_readings_are_asked_for_again()
    {
        var (meter, port, off) = await StandInAsync();
        using var _ = off;
        var (lead, technician) = (await shop.LeadAsync(), await shop.TechnicianAsync());
        var id = (await lead.PostForAsync("/api/instruments", Meter(Name(), "bench-four-wire", "127.0.0.1", port, matrix: true))).GetProperty("id").GetInt64();
        var job = await technician.JobWithLoomAsync(ImportTests.Small);
        var run = (await technician.StartRunAsync(job, new { meterId = id, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        async Task<JsonElement> CheckAsync(string check) => await technician.PostForAsync($"/api/runs/{run}/care", new { key = Guid.CreateVersion7(), check, byInstrument = true, overRange = false });
        async Task ReadAsync(int step)
        {
            var shown = await technician.PostForAsync($"/api/runs/{run}/measure", new { step });
            await technician.TakeAsync(run, Sent.New(step, shown.GetProperty("ohms").ValueKind == JsonValueKind.Null ? null : shown.GetProperty("ohms").GetDouble()));
        }

        await CheckAsync("lead-zero");
        await CheckAsync("range");
        await CheckAsync("known-link");
        await ReadAsync(1);
        meter.Habits = MeterHabits.None with { DriftPercent = 4 };
        await ReadAsync(2);
        (await CheckAsync("known-link")).GetProperty("progress").GetProperty("meterInDoubt").GetBoolean().ShouldBeTrue();
        var found = await CheckAsync("known-link");
        found.GetProperty("passed").GetBoolean().ShouldBeFalse();
        found.GetProperty("progress").GetProperty("retests").GetInt32().ShouldBe(2);
        (await technician.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("holds").EnumerateArray().ShouldContain(h => h.GetProperty("kind").GetString() == "meter");

        meter.Habits = MeterHabits.None;
        await CheckAsync("lead-zero");
        await CheckAsync("range");
        (await CheckAsync("known-link")).GetProperty("progress").GetProperty("meterInDoubt").GetBoolean().ShouldBeFalse();
        await ReadAsync(1);
        (await technician.ReadAsync($"/api/runs/{run}/since/0")).GetProperty("progress").GetProperty("retests").GetInt32().ShouldBe(1);
    }

    [Theory]
    [InlineData(false, 0)]
    [InlineData(true, 2)]
    public async Task A_fixture_proves_isolation_by_groups_and_leaves_what_is_not_apart_to_be_measured(bool hidden, int left)
    {
        var loom = LoomReader.Read(await File.ReadAllBytesAsync(Path.Combine(Shop.DemoFolder, "work-launch.json"), Cancel)).Loom!;
        var nets = WireGraph.Topology(loom).Nets;
        using var off = new CancellationTokenSource();
        var listening = new TaskCompletionSource<int>();
        var fault = new ShortFault(nets[3].Points[0].ToString(), nets[11].Points[0].ToString(), 0.4);
        _ = new SimulatedMeter(loom, new SimulatedBench(loom, Core.Electrical.Meter.BenchFourWire, hidden ? [fault] : [], 3)).ServeAsync(0, listening.SetResult, off.Token);
        var (lead, technician) = (await shop.LeadAsync(), await shop.TechnicianAsync());
        var meterId = (await lead.PostForAsync("/api/instruments", Meter(Name(), "bench-four-wire", "127.0.0.1", await listening.Task, matrix: true))).GetProperty("id").GetInt64();
        var job = await technician.JobWithLoomAsync(await File.ReadAllBytesAsync(Path.Combine(Shop.DemoFolder, "work-launch.json"), Cancel));
        var run = (await technician.StartRunAsync(job, new { meterId, isolation = "thorough", carryOver = false })).GetProperty("id").GetInt64();
        var answer = await technician.PostForAsync($"/api/runs/{run}/groups", new { key = Guid.CreateVersion7() });
        answer.GetProperty("left").GetInt32().ShouldBe(left);
        answer.GetProperty("measurements").GetInt32().ShouldBeInRange(Core.Planning.GroupIsolation.Least(nets.Length), hidden ? 200 : Core.Planning.GroupIsolation.Least(nets.Length));
        var progress = (await technician.ReadAsync($"/api/runs/{run}/since/0")).GetProperty("progress");
        progress.GetProperty("done").GetInt32().ShouldBe(answer.GetProperty("proven").GetInt32());
        (await technician.PostForAsync($"/api/runs/{run}/groups", new { key = Guid.CreateVersion7() })).GetProperty("proven").GetInt32().ShouldBe(0);
    }

    [Fact]
    public async Task A_check_by_hand_is_typed_and_sent_twice_is_one()
    {
        var technician = await shop.TechnicianAsync();
        var job = await technician.JobWithLoomAsync(ImportTests.Small);
        var run = (await technician.StartRunAsync(job, new { meterId = 3, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        var check = new { key = Guid.CreateVersion7(), check = "known-link", ohms = 9.0, overRange = false };
        var first = await technician.PostForAsync($"/api/runs/{run}/care", check);
        first.GetProperty("passed").GetBoolean().ShouldBeFalse();
        (await technician.PostForAsync($"/api/runs/{run}/care", check)).GetProperty("lastEvent").GetInt64().ShouldBe(first.GetProperty("lastEvent").GetInt64());
        (await technician.PostAsync($"/api/runs/{run}/care", new { key = Guid.CreateVersion7(), check = "range", byInstrument = true, overRange = false })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await technician.PostAsync($"/api/runs/{run}/care", new { key = Guid.CreateVersion7(), check = "range", ohms = 4.0, overRange = true })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await technician.PostAsync($"/api/runs/{run}/care", new { key = Guid.CreateVersion7(), check = "range", overRange = false })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await technician.PostAsync($"/api/runs/{run}/care", new { check.key, check = "known-link", ohms = 1.0, overRange = false })).StatusCode.ShouldBe(HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task Figures_of_its_own_change_what_a_meter_can_tell_and_the_second_of_two_leads_is_told()
    {
        var (lead, name) = (await shop.LeadAsync(), Name());
        var made = await lead.PostForAsync("/api/instruments", Meter(name, "own", figures: Figures(0.5), due: "2020-01-31"));
        var id = made.GetProperty("id").GetInt64();
        made.GetProperty("told").GetString()!.ShouldContain("Two leads, steps of 10.0 mΩ, up to 2.00 kΩ");
        made.GetProperty("overdue").GetString().ShouldBe("calibration was due on 2020-01-31");
        (await lead.PutAsync($"/api/instruments/{id}", Meter(name, "own", figures: Figures(0.7)))).StatusCode.ShouldBe(HttpStatusCode.PreconditionRequired);
        (await lead.PutAsync($"/api/instruments/{id}", Meter(name, "own", figures: Figures(0.7)), "\"1\"")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await lead.PutAsync($"/api/instruments/{id}", Meter(name, "own", figures: Figures(0.9)), "\"1\"")).StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await OneAsync(lead, id)).GetProperty("figures").GetProperty("ranges")[0].GetProperty("percent").GetDouble().ShouldBe(0.7);
        (await lead.PostAsync("/api/instruments", Meter(name))).StatusCode.ShouldBe(HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task A_meter_that_moves_to_another_address_is_found_there_in_the_middle_of_a_run()
    {
        var (_, port, off) = await StandInAsync();
        using var _ = off;
        var (lead, technician, name) = (await shop.LeadAsync(), await shop.TechnicianAsync(), Name());
        var id = (await lead.PostForAsync("/api/instruments", Meter(name, "bench-four-wire", "127.0.0.1", 9, matrix: true))).GetProperty("id").GetInt64();
        var job = await technician.JobWithLoomAsync(ImportTests.Small);
        var run = (await technician.StartRunAsync(job, new { meterId = id, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        (await technician.PostAsync($"/api/runs/{run}/measure", new { step = 1 })).IsSuccessStatusCode.ShouldBeFalse();
        (await lead.PutAsync($"/api/instruments/{id}", Meter(name, "bench-four-wire", "127.0.0.1", port, matrix: true), "\"1\"")).EnsureSuccessStatusCode();
        (await technician.PostAsync($"/api/runs/{run}/measure", new { step = 1 })).IsSuccessStatusCode.ShouldBeTrue();
    }

    [Fact]
    public async Task A_retired_meter_starts_no_run_and_is_not_offered()
    {
        var (lead, name) = (await shop.LeadAsync(), Name());
        var id = (await lead.PostForAsync("/api/instruments", Meter(name, retired: true))).GetProperty("id").GetInt64();
        var job = await lead.JobWithLoomAsync(ImportTests.Small);
        (await lead.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("meters").EnumerateArray().ShouldNotContain(m => m.GetProperty("id").GetInt64() == id);
        (await lead.PostAsync($"/api/jobs/{job}/runs", new { meterId = id, isolation = "neighbours", carryOver = false })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }

    public static TheoryData<object, string> Wrong => new()
    {
        { Meter(""), "/name" },
        { Meter("x", "magic"), "/profile" },
        { Meter("x", "own"), "/figures" },
        { Meter("x", "hand-two-wire", figures: Figures(1)), "/figures" },
        { Meter("x", "own", figures: Figures(-1)), "/figures/ranges/0/percent" },
        { Meter("x", "hand-two-wire", "a b", 1), "/host" },
        { Meter("x", "hand-two-wire", "a", 0), "/port" },
        { Meter("x", "hand-two-wire", matrix: true), "/matrix" },
        { new { name = "x", profile = "hand-two-wire", matrix = false, retired = false, calibrated = "2026-05-01", calibrationDue = "2025-05-01" }, "/calibrationDue" },
    };

    [Theory]
    [MemberData(nameof(Wrong))]
    public async Task What_cannot_be_a_meter_is_said_with_its_place(object meter, string at) =>
        (await Problems.OfAsync(await (await shop.LeadAsync()).PostAsync("/api/instruments", meter))).Select(p => p.At).ShouldContain(at);
}
