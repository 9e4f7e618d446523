using System.Net.Sockets;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Npgsql;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests;

/// <summary>Two applications side by side on one database.</summary>
public sealed class ProcessTests(Shop shop)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <summary>The same shop from a second process.</summary>
    private WebApplicationFactory<Program> Beside() => shop.WithWebHostBuilder(b => b.UseSetting("Logging:LogLevel:Default", "Error"));

    private static async Task<Visitor> MiraAsync(WebApplicationFactory<Program> at) => await (await Visitor.AtAsync(at.CreateClient(new() { AllowAutoRedirect = false }))).SignInAsync("mira", "copper-and-crimp");

    [Fact]
    public async Task Readings_through_both_are_all_there_once_with_numbers_without_gaps()
    {
        await using var second = Beside();
        Visitor[] at = [await shop.TechnicianAsync(), await MiraAsync(second)];
        var job = await at[0].JobWithLoomAsync(ImportTests.Small);
        var run = (await at[0].PostForAsync($"/api/jobs/{job}/runs", new { meterId = 1, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        var batches = Enumerable.Range(0, 40).Select(i => Enumerable.Range(0, 3).Select(_ => Sent.New(1 + (i % 2), 0.042, 0)).ToArray()).ToArray();

        // Each batch goes to both, at the same time.
        await Task.WhenAll(batches.SelectMany(b => at.Select(v => v.TakeAsync(run, b))));

        (await shop.CountAsync("select count(*) from run_events where run_id = @run", run)).ShouldBe(120);
        (await shop.CountAsync("select max(number) from run_events where run_id = @run", run)).ShouldBe(120);
        (await shop.CountAsync("select last_event from runs where id = @run", run)).ShouldBe(120);
        foreach (var visitor in at)
        {
            (await visitor.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("run").GetProperty("progress").GetProperty("done").GetInt32().ShouldBe(2);
        }
    }

    [Fact]
    public async Task What_one_decides_the_other_knows_before_it_answers()
    {
        await using var second = Beside();
        var (here, there) = (await shop.TechnicianAsync(), await MiraAsync(second));
        var job = await here.JobWithLoomAsync(ImportTests.Small);
        var run = (await here.PostForAsync($"/api/jobs/{job}/runs", new { meterId = 1, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        await there.ReadAsync($"/api/runs/{run}/since/0");
        await here.TakeAsync(run, Sent.New(1, 1.2));

        (await there.PostAsync($"/api/runs/{run}/skips", new { key = Guid.CreateVersion7(), step = 1, reason = "no plug" })).StatusCode.ShouldBe(System.Net.HttpStatusCode.Conflict);
        (await there.PostAsync($"/api/runs/{run}/faults", new { key = Guid.CreateVersion7(), step = 1, seen = "too much" })).StatusCode.ShouldBe(System.Net.HttpStatusCode.OK);
        (await here.ReadAsync($"/api/jobs/{job}/faults")).GetProperty("faults").GetArrayLength().ShouldBe(1);
    }

    /// <summary>A meter that tells how many ask it at once: two probes on one switch matrix would read each other's pins.</summary>
    [Fact]
    public async Task One_meter_is_asked_by_one_process_at_a_time()
    {
        using var meter = new TcpListener(System.Net.IPAddress.Loopback, 0);
        meter.Start();
        var (now, most) = (0, 0);
        var serving = ServeAsync();
        async Task ServeAsync()
        {
            while (!Cancel.IsCancellationRequested)
            {
                TcpClient client;
                try
                {
                    client = await meter.AcceptTcpClientAsync(Cancel);
                }
                catch (Exception e) when (e is SocketException or ObjectDisposedException or OperationCanceledException)
                {
                    return;
                }

                _ = Task.Run(
                    async () =>
                    {
                        using (client)
                        {
                            most = Math.Max(most, Interlocked.Increment(ref now));
                            using var reader = new StreamReader(client.GetStream());
                            while (await reader.ReadLineAsync(Cancel) is { } line && !line.StartsWith("SYST", StringComparison.Ordinal))
                            {
                                await Task.Yield();
                            }

                            // Let go before the answer: the next one may begin as soon as it is read.
                            Interlocked.Decrement(ref now);
                            await client.GetStream().WriteAsync("0.042\n0,\"No error\"\n"u8.ToArray(), Cancel);
                        }
                    },
                    Cancel);
            }
        }

        await using (var source = NpgsqlDataSource.Create(shop.Database))
        {
            await new MeterStore(source).PutAsync("Counting meter", "bench-four-wire", "127.0.0.1", ((System.Net.IPEndPoint)meter.LocalEndpoint).Port, Cancel);
        }

        await using var second = Beside();
        Visitor[] at = [await shop.TechnicianAsync(), await MiraAsync(second)];
        var job = await at[0].JobWithLoomAsync(ImportTests.Small);
        var meterId = (await at[0].ReadAsync($"/api/jobs/{job}/bench")).GetProperty("meters").EnumerateArray().Single(m => m.GetProperty("name").GetString() == "Counting meter").GetProperty("id").GetInt64();
        var run = (await at[0].PostForAsync($"/api/jobs/{job}/runs", new { meterId, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        var answers = await Task.WhenAll(Enumerable.Range(0, 40).Select(i => at[i % 2].PostForAsync($"/api/runs/{run}/measure", new { step = 1 })));

        answers.ShouldAllBe(a => a.GetProperty("ohms").GetDouble() == 0.042);
        most.ShouldBe(1);
        meter.Stop();
        await serving;
    }
}
