using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Shop;
using WiseLoom.Instruments;

namespace WiseLoom.Core.Tests;

/// <summary>Meters at serial ports, each played at the other end of a pseudo-terminal.</summary>
public sealed class SerialMeterTests
{
    private static readonly Loom Loom = Looms.Of("A:1-B:1", "A:2-B:2");

    private static readonly LinePattern Numbers = new("{value} {unit}", []);

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static LineMeter Meter(PseudoTerminal port, LinePattern lines, double seconds = 20) =>
        new(new SerialPortWay(new(port.Name, 115200)), lines, Electrical.Meter.HandTwoWire, TimeSpan.FromSeconds(seconds));

    [Theory]
    [InlineData("\n")]
    [InlineData("\r")]
    [InlineData("\r\n")]
    public async Task A_meter_that_sends_by_itself_is_read_when_it_is_steady(string end)
    {
        using var port = new PseudoTerminal();
        // Until it comes to rest each line is far from the one before.
        port.Send(n => n < 400 ? $"{100 + 100 * (n % 2)} Ohm{end}" : $"0.4 Ohm{end}");
        var (reading, line) = await Meter(port, Numbers).ReadAsync(Cancel);
        (reading.Ohms, line).ShouldBe((0.4, "0.4 Ohm"));
        (await Meter(port, Numbers).MeasureAsync(Loom, new([new("A", "1")], [new("B", "1")]), Cancel)).Ohms.ShouldBe(0.4);
    }

    [Fact]
    public async Task Over_range_is_a_reading_and_lines_between_that_say_nothing_are_passed_over()
    {
        using var port = new PseudoTerminal();
        port.Send(n => n % 3 == 0 ? "AUTO\r\n" : "OL MOhm\r\n");
        (await Meter(port, Numbers).CheckAsync(Loom, CheckKind.Range, Cancel)).ShouldBe(Reading.OverRange);
    }

    [Fact]
    public async Task A_meter_that_is_asked_says_the_same_twice_before_it_is_believed()
    {
        using var port = new PseudoTerminal();
        var asked = 0;
        // The first answer belongs to a question of before.
        port.Answer(line => line == "READ?" ? Interlocked.Increment(ref asked) == 1 ? "99.0 Ohm\n" : "1.2 Ohm\n" : null);
        (await Meter(port, Numbers with { Ask = "READ?" }).ReadAsync(Cancel)).Reading.Ohms.ShouldBe(1.2);
        asked.ShouldBe(3);
    }

    [Theory]
    [InlineData("12.6 V\n", "is in V, which is no unit of resistance")]
    [InlineData("hello\n", "‘hello’ does not look like {value} {unit}")]
    [InlineData("hello", "does not end its line")]
    public async Task Lines_that_cannot_be_read_are_told_with_the_last_of_them(string sent, string words)
    {
        using var port = new PseudoTerminal();
        port.Send(_ => sent);
        (await Should.ThrowAsync<MeterException>(() => Meter(port, Numbers, 2).ReadAsync(Cancel))).Message.ShouldContain(words);
    }

    [Fact]
    public async Task A_meter_that_is_silent_or_never_at_rest_and_a_port_that_is_gone_are_told_apart()
    {
        using var port = new PseudoTerminal();
        (await Should.ThrowAsync<MeterException>(() => Meter(port, Numbers, 0.2).ReadAsync(Cancel))).Message.ShouldBe($"No line came from {port.Name} within 0.2 s. Is the meter on, and does it send?");
        port.Send(n => $"{100 + 100 * (n % 2)} Ohm\n");
        (await Should.ThrowAsync<MeterException>(() => Meter(port, Numbers, 2).ReadAsync(Cancel))).Message.ShouldContain("did not come to rest within 2 s");
        var gone = new SerialPortWay(new("/dev/ttyUSB-none"));
        (await Should.ThrowAsync<MeterException>(() => new LineMeter(gone, Numbers, Electrical.Meter.HandTwoWire).ReadAsync(Cancel))).Message.ShouldStartWith("The port /dev/ttyUSB-none is not there now.");
        (await Should.ThrowAsync<MeterException>(() => new ScpiLine(gone).ExchangeAsync([], "*IDN?", Cancel))).Message.ShouldStartWith("The port /dev/ttyUSB-none is not there now.");
    }

    [Fact]
    public async Task A_bench_meter_speaks_over_its_port_as_over_the_network()
    {
        using var port = new PseudoTerminal();
        var session = new SimulatedMeter(Loom, new SimulatedBench(Loom, Electrical.Meter.BenchFourWire, [], 3)).Talk();
        var late = true;
        port.Answer(line =>
        {
            var answer = session(line);
            // Once, what was asked before is answered only now.
            (var before, late) = (late ? "4.5E+02\n" : "", false);
            return answer is null ? before : $"{before}{answer}\r\n";
        });
        var meter = new ScpiMeter(new ScpiLine(new SerialPortWay(new(port.Name, 115200)), TimeSpan.FromSeconds(20)), fourWire: true, matrix: true);
        (await meter.LoomAsync(Cancel)).ShouldBe(Loom.Name);
        (await meter.IdentityAsync(Cancel)).ShouldContain("stand-in");
        (await meter.MeasureAsync(Loom, new([new("A", "1")], [new("B", "1")]), Cancel)).Ohms!.Value.ShouldBeInRange(0.001, 1);
        (await meter.MeasureAsync(Loom, new([new("A", "1")], [new("B", "2")]), Cancel)).IsOverRange.ShouldBeTrue();
    }

    [Fact]
    public async Task What_speaks_no_scpi_is_told_so()
    {
        using var port = new PseudoTerminal();
        port.Send(_ => "12.3 Ohm\n");
        (await Should.ThrowAsync<MeterException>(() => new ScpiLine(new SerialPortWay(new(port.Name, 115200))).ExchangeAsync([], "*IDN?", Cancel))).Message.ShouldContain("it speaks no SCPI, or its speed is another");
    }
}
