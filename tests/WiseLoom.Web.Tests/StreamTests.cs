using System.Net;
using System.Net.Http.Json;
using System.Reflection;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Practice;
using WiseLoom.Core.States;
using WiseLoom.Instruments;
using WiseLoom.Store;
using WiseLoom.Web.Live;

namespace WiseLoom.Web.Tests;

/// <summary>Every stream of the route table: it ends with its session, and one person has so many at once.</summary>
public sealed class StreamTests(OwnShop own) : IClassFixture<OwnShop>
{
    private static readonly byte[] Fan = File.ReadAllBytes(Path.Combine(Shop.DemoFolder, "frost-fan.json"));

    private readonly Shop shop = own.Shop;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <summary>By route: how a stream of it is opened.</summary>
    private static readonly Dictionary<string, Func<World, HttpRequestMessage>> Streams = new(StringComparer.Ordinal)
    {
        ["/api/jobs/{id:long}/events"] = w => new(HttpMethod.Get, $"/api/jobs/{w.Job}/events"),
        ["/api/jobs/{id:long}/power-up/live"] = w => new(HttpMethod.Get, $"/api/jobs/{w.Job}/power-up/live?controller=Engine"),
        ["/api/runs/{id:long}/wiggle"] = w => new(HttpMethod.Post, $"/api/runs/{w.Run}/wiggle") { Content = JsonContent.Create(new { step = 1 }) },
    };

    public static TheoryData<string> Routes => [.. Streams.Keys];

    [Fact]
    public void Every_endpoint_that_streams_is_tested_here_and_goes_the_one_way()
    {
        var endpoints = shop.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>().ToList();
        endpoints.Where(e => e.Metadata.GetMetadata<MethodInfo>()?.ReturnType.ToString().Contains("ServerSentEvents", StringComparison.Ordinal) == true).Select(e => e.RoutePattern.RawText!).ShouldBe(Streams.Keys, ignoreOrder: true);
        endpoints.Where(e => e.Metadata.GetMetadata<StreamsEvents>() is not null).Select(e => e.RoutePattern.RawText!).ShouldBe(Streams.Keys, ignoreOrder: true);
    }

    [Theory]
    [MemberData(nameof(Routes))]
    public async Task A_stream_ends_with_its_session(string route)
    {
        var world = await WorldAsync();
        var name = $"s{Guid.NewGuid():n}"[..20];
        var person = await shop.PersonAsync(name, "technician");
        using var stream = new StreamReader(await person.StreamAsync(Streams[route](world)));
        (await stream.ReadLineAsync(Cancel)).ShouldNotBeNull("it has begun");

        var lead = await shop.LeadAsync();
        var account = (await lead.ReadAsync("/api/accounts")).EnumerateArray().First(a => a.GetProperty("signIn").GetString() == name).GetProperty("id").GetGuid();
        (await lead.DeleteAsync($"/api/accounts/{account}/sessions")).EnsureSuccessStatusCode();
        var ended = DateTimeOffset.UtcNow;
        while (await stream.ReadLineAsync(Cancel) is not null)
        {
            (DateTimeOffset.UtcNow - ended).TotalSeconds.ShouldBeLessThan(60, "the stream outlives its session");
        }
    }

    [Fact]
    public async Task One_person_has_so_many_streams_of_all_kinds_together_and_a_closed_one_makes_room()
    {
        var world = await WorldAsync();
        var person = await shop.PersonAsync($"s{Guid.NewGuid():n}"[..20], "technician");
        var open = new List<Stream>();
        var routes = new[] { "/api/jobs/{id:long}/events", "/api/jobs/{id:long}/power-up/live" };
        for (var n = 0; n < PageStreams.MostForEach; n++)
        {
            open.Add(await person.StreamAsync(Streams[routes[n % 2]](world)));
            await open[^1].ReadExactlyAsync(new byte[1], Cancel);
        }

        foreach (var route in Streams.Keys)
        {
            (await person.AskAsync(Streams[route](world))).StatusCode.ShouldBe(HttpStatusCode.TooManyRequests, route);
        }

        (await (await shop.TechnicianAsync()).StreamAsync(Streams[routes[0]](world))).Dispose();
        open[0].Dispose();
        while ((await person.AskAsync(Streams[routes[0]](world), HttpCompletionOption.ResponseHeadersRead)) is { StatusCode: HttpStatusCode.TooManyRequests })
        {
            // The server notices that the reader has gone.
        }

        open.ForEach(s => s.Dispose());
    }

    private async Task<World> WorldAsync()
    {
        var loom = LoomReader.Read(Fan).Loom!;
        var (meter, engine) = (new TaskCompletionSource<int>(), new TaskCompletionSource<int>());
        _ = new SimulatedMeter(loom, new SimulatedBench(loom, Meter.BenchFourWire, [], 3)).ServeAsync(0, meter.SetResult, Cancel);
        _ = new SimulatedController(new SimulatedMachine(loom, BenchFit.AsDrawn, HiddenMachine.Nothing, 20, 1), PowerUpPlan.Of(loom, BenchFit.AsDrawn, 20, School.Vehicle), 20).ServeAsync(0, engine.SetResult, Cancel);
        var meterId = await shop.Services.GetRequiredService<MeterStore>().PutAsync($"Stand-in {Guid.NewGuid():n}", "bench-four-wire", "127.0.0.1", await meter.Task, Cancel);
        var lead = await shop.LeadAsync();
        var stored = await lead.ReadAsync("/api/limits");
        var limits = JsonNode.Parse(stored.GetProperty("limits").GetRawText())!;
        limits["powerUp"]!["controllers"] = new JsonArray(new JsonObject { ["name"] = "Engine", ["host"] = "127.0.0.1", ["port"] = await engine.Task });
        (await lead.PutAsync("/api/limits", limits, $"\"{stored.GetProperty("version").GetInt32()}\"")).EnsureSuccessStatusCode();
        var technician = await shop.TechnicianAsync();
        var job = await technician.JobWithLoomAsync(Fan);
        return new(job, (await technician.PostForAsync($"/api/jobs/{job}/runs", new { meterId, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64());
    }

    private sealed record World(long Job, long Run);
}
