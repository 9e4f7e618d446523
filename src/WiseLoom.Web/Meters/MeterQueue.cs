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

/// <summary>The way to the shop's meters on the network; one question at a time for each meter, whichever process asks.</summary>
internal sealed class MeterQueue(MeterStore meters, InstrumentNetworks networks)
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

    /// <summary>Asks a meter who it is, which loom it carries if it is a stand-in, and how long one question takes.</summary>
    /// <exception cref="MeterException">It does not answer as a meter does.</exception>
    internal Task<(string Identity, string? Loom, TimeSpan Took)> TryAsync(ShopMeter meter, CancellationToken cancel) => InTurnAsync(meter, async line =>
    {
        var begun = Stopwatch.GetTimestamp();
        var identity = await line.IdentityAsync(cancel);
        var took = Stopwatch.GetElapsedTime(begun);
        return (identity, await line.LoomAsync(cancel), took);
    }, cancel);

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

        var (wrong, address) = await networks.FindAsync(host, port, cancel);
        if (wrong is not null)
        {
            throw new MeterException(wrong);
        }

        var turn = turns.GetOrAdd(meter.Id, _ => new SemaphoreSlim(1));
        if (!await turn.WaitAsync(MeterStore.Patience, cancel))
        {
            throw Busy(meter);
        }

        try
        {
            await using var held = await meters.HoldAsync(meter.Id, cancel) ?? throw Busy(meter);
            return await ask(new ScpiMeter(new ScpiLine(address, port), meter.Describe().FourWire, meter.Matrix));
        }
        finally
        {
            turn.Release();
        }
    }

    private static MeterException Busy(ShopMeter meter) => new($"Others have kept {meter.Name} busy for {MeterStore.Patience.TotalSeconds:0} s. Take the reading again.");
}
