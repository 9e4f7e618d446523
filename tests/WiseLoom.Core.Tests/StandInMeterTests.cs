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
        var against = Bench.Plan(Loom, Isolation.Thorough).Steps.First(s => s.Red is null);
        (await meter.MeasureAsync(Loom, StepProbes.Of(Loom, against), Cancel)).IsOverRange.ShouldBeTrue();
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
    [InlineData("*IDN?", "Wise Loom,bench meter stand-in,0,1")]
    [InlineData("MEAS:FRES?", "9.9E+37")]
    [InlineData("NONSENSE?\nSYST:ERR?", "\n-113,\"Undefined header\"")]
    [InlineData("ROUT:CLOS (@3!1)\nSYST:ERR?", "-224,\"Illegal parameter value\"")]
    [InlineData("ROUT:CLOS (@1!99999)\nSYST:ERR?", "-224,\"Illegal parameter value\"")]
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

        (await Should.ThrowAsync<MeterException>(() => new ScpiMeter("127.0.0.1", port, true).MeasureAsync(Loom, new([new("INJ1", "2")], [new("ECU-A", "21")]), Cancel)))
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

        (await Should.ThrowAsync<MeterException>(() => new ScpiMeter("127.0.0.1", ((IPEndPoint)listener.LocalEndpoint).Port, true)
            .MeasureAsync(Loom, new([new("INJ1", "2")], [new("ECU-A", "21")]), Cancel))).Message.ShouldContain("not a number");
        await serve;
    }

    private static async Task WithMeterAsync(Fault[] faults, Func<ScpiMeter, int, Task> use)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(Cancel);
        var listening = new TaskCompletionSource<int>();
        var serve = new SimulatedMeter(Loom, new SimulatedBench(Loom, Meter.BenchFourWire, faults, 5)).ServeAsync(0, listening.SetResult, stop.Token);
        var port = await listening.Task;
        await use(new ScpiMeter("127.0.0.1", port, true), port);
        await stop.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(() => serve);
    }
}
