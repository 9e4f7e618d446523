using System.Collections.Concurrent;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;
using WiseLoom.Instruments;
using WiseLoom.Store;

namespace WiseLoom.Web.Bench;

/// <summary>The way to the shop's meters on the network; one question at a time for each meter.</summary>
internal sealed class MeterLine
{
    private readonly ConcurrentDictionary<long, SemaphoreSlim> turns = new();

    internal Task<Reading> MeasureAsync(ShopMeter meter, Loom loom, StepProbes probes, CancellationToken cancel) =>
        InTurnAsync(meter, line => line.MeasureAsync(loom, probes, cancel), cancel);

    internal Task<int> RepairAsync(ShopMeter meter, string place, CancellationToken cancel) =>
        InTurnAsync(meter, line => line.RepairAsync(place, cancel), cancel);

    private async Task<T> InTurnAsync<T>(ShopMeter meter, Func<IBenchMeter, Task<T>> ask, CancellationToken cancel)
    {
        if (meter is not { Host: { } host, Port: { } port })
        {
            throw new MeterException($"{meter.Name} is read by eye: type what it shows.");
        }

        var turn = turns.GetOrAdd(meter.Id, _ => new SemaphoreSlim(1));
        await turn.WaitAsync(cancel);
        try
        {
            return await ask(new ScpiMeter(host, port, meter.Describe().FourWire));
        }
        finally
        {
            turn.Release();
        }
    }
}
