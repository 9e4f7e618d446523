using System.Collections.Concurrent;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;
using WiseLoom.Instruments;
using WiseLoom.Store;

namespace WiseLoom.Web.Bench;

/// <summary>The way to the shop's meters on the network; one question at a time for each meter, whichever process asks.</summary>
internal sealed class MeterQueue(MeterStore meters)
{
    // One of a process's own requests waits at the database for a meter; the others wait here and hold no connection.
    private readonly ConcurrentDictionary<long, SemaphoreSlim> turns = new();

    /// <exception cref="MeterException">The meter gave no reading, or others kept it busy for too long.</exception>
    internal Task<Reading> MeasureAsync(ShopMeter meter, Loom loom, StepProbes probes, CancellationToken cancel) =>
        InTurnAsync(meter, line => line.MeasureAsync(loom, probes, cancel), cancel);

    /// <exception cref="MeterException">The meter is no stand-in, or does not answer.</exception>
    internal Task<int> RepairAsync(ShopMeter meter, string place, CancellationToken cancel) =>
        InTurnAsync(meter, line => line.RepairAsync(place, cancel), cancel);

    /// <summary>What speaks against measuring a loom with a meter, in words; null when nothing does, or it is read by eye.</summary>
    internal async Task<string?> AgainstAsync(ShopMeter meter, Loom loom, CancellationToken cancel)
    {
        if (meter.Host is null)
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
        if (meter is not { Host: { } host, Port: { } port })
        {
            throw new MeterException($"{meter.Name} is read by eye: type what it shows.");
        }

        var turn = turns.GetOrAdd(meter.Id, _ => new SemaphoreSlim(1));
        if (!await turn.WaitAsync(MeterStore.Patience, cancel))
        {
            throw Busy(meter);
        }

        try
        {
            await using var held = await meters.HoldAsync(meter.Id, cancel) ?? throw Busy(meter);
            return await ask(new ScpiMeter(host, port, meter.Describe().FourWire));
        }
        finally
        {
            turn.Release();
        }
    }

    private static MeterException Busy(ShopMeter meter) => new($"Others have kept {meter.Name} busy for {MeterStore.Patience.TotalSeconds:0} s. Take the reading again.");
}
