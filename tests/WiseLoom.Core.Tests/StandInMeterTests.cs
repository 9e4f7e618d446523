using System.Net;
using System.Net.Sockets;
using System.Text;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Shop;
using WiseLoom.Instruments;

namespace WiseLoom.Core.Tests;

/// <summary>The stand-in meter and the program's side of the line, over a real socket.</summary>
public sealed class StandInMeterTests
{
    private static readonly Loom Loom = Looms.FrostFan;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public Task It_reads_a_wire_a_gap_and_a_net_against_all_others() => WithMeterAsync([], async (meter, _) =>
    {
        (await meter.MeasureAsync(Loom, new([new("INJ1", "2")], [new("ECU-A", "21")]), Cancel)).Ohms!.Value.ShouldBe(0.063, 0.01);
        (await meter.MeasureAsync(Loom, new([new("INJ2", "2")], [new("ECU-A", "21")]), Cancel)).IsOverRange.ShouldBeTrue();
        var plan = Bench.Plan(Loom, Isolation.Thorough);
        (await meter.MeasureAsync(Loom, StepProbes.Of(Loom, plan, plan.Steps.First(s => s.Red is null)), Cancel)).IsOverRange.ShouldBeTrue();
    });

    [Fact]
    public Task Hidden_faults_show_until_they_are_repaired_where_they_are() => WithMeterAsync([SwapFault.Of("ECU-A", "25", "26")], async (meter, _) =>
    {
        var crossed = new StepProbes([new("INJ6", "2")], [new("ECU-A", "25")]);
        (await meter.MeasureAsync(Loom, crossed, Cancel)).IsOverRange.ShouldBeFalse();
        (await meter.RepairAsync("INJ6:2", Cancel)).ShouldBe(0);
        (await meter.RepairAsync("ECU-A:25", Cancel)).ShouldBe(1);
        (await meter.MeasureAsync(Loom, crossed, Cancel)).IsOverRange.ShouldBeTrue();
    });

    [Theory]
    [InlineData("*IDN?", "Wise Loom,bench meter stand-in,0,2")]
    [InlineData("MEAS:FRES?", "9.9E+37")]
    [InlineData("NONSENSE?\nSYST:ERR?", "\n-113,\"Undefined header\"")]
    [InlineData("ROUT:CLOS (@3!1)\nSYST:ERR?", "-224,\"Illegal parameter value\"")]
    [InlineData("ROUT:CLOS (@1!99999)\nSYST:ERR?", "-224,\"Illegal parameter value\"")]
    [InlineData("SIM:DRIF 99\nSYST:ERR?", "-224,\"Illegal parameter value\"")]
    [InlineData("SIM:FAUL 1\nSYST:ERR?", "-224,\"Illegal parameter value\"")]
    [InlineData("SIM:FAUL SMOKE,2\nSYST:ERR?", "-224,\"Illegal parameter value\"")]
    [InlineData("NONSENSE?\n*CLS\nSYST:ERR?", "\n0,\"No error\"")]
    [InlineData("ROUT:CLOS hello\nSYST:ERR?\nSYST:ERR?", "-224,\"Illegal parameter value\"\n0,\"No error\"")]
    public Task It_answers_as_the_language_says(string sent, string expected) => WithMeterAsync([], async (_, port) =>
    {
        using var client = new TcpClient();
        await client.ConnectAsync(IPAddress.Loopback, port, Cancel);
        var stream = client.GetStream();
        await stream.WriteAsync(Encoding.ASCII.GetBytes(sent + "\n"), Cancel);
        using var reader = new StreamReader(stream, Encoding.ASCII);
        foreach (var line in expected.Split('\n'))
        {
            (await reader.ReadLineAsync(Cancel)).ShouldBe(line);
        }
    });

    [Fact]
    public async Task A_meter_that_is_not_there_is_told_in_words()
    {
        using var taken = new TcpListener(IPAddress.Loopback, 0);
        taken.Start();
        var port = ((IPEndPoint)taken.LocalEndpoint).Port;
        taken.Stop();

        (await Should.ThrowAsync<MeterException>(() => new ScpiMeter(new ScpiLine(new NetworkWay("127.0.0.1", port)), true, true).MeasureAsync(Loom, new([new("INJ1", "2")], [new("ECU-A", "21")]), Cancel)))
            .Message.ShouldContain("cannot be reached");
    }

    [Fact]
    public async Task A_meter_that_answers_nonsense_is_told_in_words()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        var serve = Task.Run(
            async () =>
            {
                using var client = await listener.AcceptTcpClientAsync(Cancel);
                await client.GetStream().WriteAsync("NaN\n0,\"No error\"\n"u8.ToArray(), Cancel);
            },
            Cancel);

        (await Should.ThrowAsync<MeterException>(() => new ScpiMeter(new ScpiLine(new NetworkWay("127.0.0.1", ((IPEndPoint)listener.LocalEndpoint).Port)), true, true)
            .MeasureAsync(Loom, new([new("INJ1", "2")], [new("ECU-A", "21")]), Cancel))).Message.ShouldContain("not a number");
        await serve;
    }

    [Fact]
    public Task Its_fixture_makes_the_three_checks_by_itself() => WithMeterAsync([], async (meter, _) =>
    {
        foreach (var kind in MeterCheck.All)
        {
            new MeterCheck(kind, 1).Passes(await meter.CheckAsync(Loom, kind, Cancel), Meter.BenchFourWire).ShouldBeTrue(kind.ToString());
        }
    });

    [Theory]
    [InlineData("SIM:DRIF 3", CheckKind.KnownLink)]
    [InlineData("SIM:SETT 10", CheckKind.KnownLink)]
    public Task A_meter_that_has_drifted_or_has_not_settled_does_not_read_the_known_link(string told, CheckKind kind) => WithMeterAsync([], async (meter, port) =>
    {
        await new ScpiLine(new NetworkWay("127.0.0.1", port)).ExchangeAsync([told], "*IDN?", Cancel);
        new MeterCheck(kind, 1).Passes(await meter.CheckAsync(Loom, kind, Cancel), Meter.BenchFourWire).ShouldBeFalse();
    });

    [Fact]
    public Task Leads_show_with_two_wires_only() => WithMeterAsync([], async (meter, port) =>
    {
        await new ScpiLine(new NetworkWay("127.0.0.1", port)).ExchangeAsync(["SIM:LEAD 0.3"], "*IDN?", Cancel);
        (await meter.CheckAsync(Loom, CheckKind.LeadZero, Cancel)).Ohms!.Value.ShouldBe(0, 0.01);
        (await new ScpiMeter(new ScpiLine(new NetworkWay("127.0.0.1", port)), false, true).CheckAsync(Loom, CheckKind.LeadZero, Cancel)).Ohms!.Value.ShouldBe(0.3, 0.01);
    });

    [Theory]
    [InlineData("DROP", "hung up")]
    [InlineData("GARBAGE", "not a number")]
    [InlineData("LATE", "did not answer within")]
    public Task What_goes_wrong_on_the_line_is_told_in_words_and_the_next_reading_is_right(string trouble, string words) => WithMeterAsync([], async (_, port) =>
    {
        var meter = new ScpiMeter(new ScpiLine(new NetworkWay("127.0.0.1", port), TimeSpan.FromSeconds(1)), true, true);
        await new ScpiLine(new NetworkWay("127.0.0.1", port)).ExchangeAsync([$"SIM:FAUL {trouble},1"], "*IDN?", Cancel);
        var probes = new StepProbes([new("INJ1", "2")], [new("ECU-A", "21")]);
        (await Should.ThrowAsync<MeterException>(() => meter.MeasureAsync(Loom, probes, Cancel))).Message.ShouldContain(words);
        (await meter.MeasureAsync(Loom, probes, Cancel)).Ohms!.Value.ShouldBe(0.063, 0.01);
    });

    [Fact]
    public Task A_whole_error_queue_is_told() => WithMeterAsync([], async (_, port) =>
        (await new ScpiLine(new NetworkWay("127.0.0.1", port)).ExchangeAsync(["ROUT:CLOS hello", "NONSENSE"], "*IDN?", Cancel)).Errors.Count.ShouldBe(2));

    [Theory]
    [InlineData("1.5E+15\n0,\"No error\"\n", "no meter of resistance")]
    [InlineData("-40\n0,\"No error\"\n", "no meter of resistance")]
    [InlineData("1.0\n-200,\"Execution\"\n-201,\"Again\"\n0,\"No error\"\n", "-200")]
    [InlineData("1.0\n", "hung up")]
    public async Task What_no_meter_says_is_no_reading(string answer, string words)
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        var serve = Task.Run(
            async () =>
            {
                using var client = await listener.AcceptTcpClientAsync(Cancel);
                var stream = client.GetStream();
                await stream.WriteAsync(Encoding.ASCII.GetBytes(answer), Cancel);
                client.Client.Shutdown(SocketShutdown.Send);
                while (await stream.ReadAsync(new byte[512], Cancel) > 0)
                {
                }
            },
            Cancel);
        (await Should.ThrowAsync<MeterException>(() => new ScpiMeter(new ScpiLine(new NetworkWay("127.0.0.1", ((IPEndPoint)listener.LocalEndpoint).Port)), true, true)
            .MeasureAsync(Loom, new([new("INJ1", "2")], [new("ECU-A", "21")]), Cancel))).Message.ShouldContain(words);
        await serve;
    }

    private static async Task WithMeterAsync(Fault[] faults, Func<ScpiMeter, int, Task> use)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(Cancel);
        var listening = new TaskCompletionSource<int>();
        var serve = new SimulatedMeter(Loom, new SimulatedBench(Loom, Meter.BenchFourWire, faults, 5)).ServeAsync(0, listening.SetResult, stop.Token);
        var port = await listening.Task;
        await use(new ScpiMeter(new ScpiLine(new NetworkWay("127.0.0.1", port)), true, true), port);
        await stop.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(() => serve);
    }
}
