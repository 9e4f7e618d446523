using System.Collections.Concurrent;
using System.Diagnostics;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;
using WiseLoom.Instruments;
using WiseLoom.Store;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.Meters;

/// <summary>The way to the shop's meters on the network and at serial ports; one question at a time for each meter, whichever process asks.</summary>
internal sealed class MeterQueue(MeterStore meters, InstrumentNetworks networks, SerialPorts ports)
{
    // One of a process's own requests waits at the database for a meter; the others wait here and hold no connection.
    private readonly ConcurrentDictionary<long, SemaphoreSlim> turns = new();

    /// <exception cref="MeterException">The meter gave no reading, or others kept it busy for too long.</exception>
    internal Task<Reading> MeasureAsync(ShopMeter meter, Loom loom, StepProbes probes, CancellationToken cancel) =>
        InTurnAsync(meter, line => line.MeasureAsync(loom, probes, cancel), cancel);

    /// <exception cref="MeterException">The meter gave no reading, or others kept it busy for too long.</exception>
    internal Task<Reading> CheckAsync(ShopMeter meter, Loom loom, CheckKind check, CancellationToken cancel) =>
        InTurnAsync(meter, line => line.CheckAsync(loom, check, cancel), cancel);

    /// <summary>Tells a stand-in whether its loom is being flexed; a meter that does not answer is told nothing.</summary>
    internal async Task MoveAsync(ShopMeter meter, bool moved, CancellationToken cancel)
    {
        try
        {
            await InTurnAsync(meter, async line =>
            {
                await line.MoveAsync(moved, cancel);
                return true;
            }, cancel);
        }
        catch (MeterException)
        {
            // The next reading says what is wrong.
        }
    }

    /// <summary>Asks a meter who it is, which loom it carries if it is a stand-in, and how long one question takes; of one that sends lines, the last one and what it says.</summary>
    /// <exception cref="MeterException">It does not answer as a meter does.</exception>
    internal Task<TriedView> TryAsync(ShopMeter meter, CancellationToken cancel) => InTurnAsync(meter, async line =>
    {
        var begun = Stopwatch.GetTimestamp();
        double Took() => Math.Round(Stopwatch.GetElapsedTime(begun).TotalMilliseconds, 1);
        if (line is LineMeter lines)
        {
            var (reading, text) = await lines.ReadAsync(cancel);
            return new TriedView(null, null, Took(), null, LinePattern.Shown(text), reading.InWords());
        }

        var identity = await line.IdentityAsync(cancel);
        var took = Took();
        return new TriedView(identity, await line.LoomAsync(cancel), took, null, null, null);
    }, cancel);

    /// <exception cref="MeterException">The meter is no stand-in, or does not answer.</exception>
    internal Task<int> RepairAsync(ShopMeter meter, string place, CancellationToken cancel) =>
        InTurnAsync(meter, line => line.RepairAsync(place, cancel), cancel);

    /// <summary>What speaks against measuring a loom with a meter, in words; null when nothing does, or it is read by eye.</summary>
    internal async Task<string?> AgainstAsync(ShopMeter meter, Loom loom, CancellationToken cancel)
    {
        if (!meter.Answers)
        {
            return null;
        }

        try
        {
            var carries = await InTurnAsync(meter, line => line.LoomAsync(cancel), cancel);
            return carries is null || carries == loom.Name ? null : $"{meter.Name} is a stand-in that carries the loom {carries}, not {loom.Name}: whatever it reads says nothing of this loom.";
        }
        catch (MeterException e)
        {
            return e.Message;
        }
    }

    private async Task<T> InTurnAsync<T>(ShopMeter meter, Func<IBenchMeter, Task<T>> ask, CancellationToken cancel)
    {
        var line = await LineAsync(meter, cancel);
        var turn = turns.GetOrAdd(meter.Id, _ => new SemaphoreSlim(1));
        if (!await turn.WaitAsync(MeterStore.Patience, cancel))
        {
            throw Busy(meter);
        }

        try
        {
            await using var held = await meters.HoldAsync(meter, cancel) ?? throw Busy(meter);
            return await ask(line);
        }
        finally
        {
            turn.Release();
        }
    }

    private async Task<IBenchMeter> LineAsync(ShopMeter meter, CancellationToken cancel)
    {
        if (meter.Serial is { } serial)
        {
            return !ports.Names().Contains(serial.Port) ? throw new MeterException($"The port {serial.Port} is not there now. Is the meter’s cable plugged in at the server?")
                : serial.Lines is { } lines ? new LineMeter(new SerialPortWay(serial), lines, meter.Describe())
                : Scpi(meter, new SerialPortWay(serial));
        }

        if (meter is not { Host: { } host, Port: { } port })
        {
            throw new MeterException($"{meter.Name} is read by eye: type what it shows.");
        }

        var (wrong, address) = await networks.FindAsync(host, port, cancel);
        return wrong is null ? Scpi(meter, new NetworkWay(address, port)) : throw new MeterException(wrong);
    }

    private static ScpiMeter Scpi(ShopMeter meter, InstrumentWay way) => new(new ScpiLine(way), meter.Describe().FourWire, meter.Matrix);

    private static MeterException Busy(ShopMeter meter) => new($"Others have kept {meter.Name} busy for {MeterStore.Patience.TotalSeconds:0} s. Take the reading again.");
}
