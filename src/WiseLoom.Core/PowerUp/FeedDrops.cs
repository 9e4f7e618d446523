using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp;

/// <summary>A feed that stands with the key on and drops while the engine cranks, although something behind it must work then.</summary>
/// <param name="Points">Places of its net.</param>
/// <param name="Sentence">What drops, and what that stops.</param>
public sealed record FeedDrop(ImmutableArray<ProbePoint> Points, string Sentence)
{
    /// <summary>Equal by its sentence.</summary>
    public bool Equals(FeedDrop? other) => other is not null && Sentence == other.Sentence;

    /// <inheritdoc/>
    public override int GetHashCode() => Sentence.GetHashCode(StringComparison.Ordinal);
}

/// <summary>Finds feeds that drop while cranking although they must not.</summary>
internal static class FeedDrops
{
    /// <summary>A feed stands from this share of the supply, and has dropped below this share of what the battery has while it cranks.</summary>
    private const double Stands = 0.7, Dropped = 0.5;

    internal static IEnumerable<FeedDrop> Of(PowerUpBench bench)
    {
        var (on, start) = (bench.Still(KeyPosition.On, []), bench.Still(KeyPosition.Start, []));
        if (bench.State(on) is not { } before || bench.State(start) is not { } cranking || bench.Plus is null)
        {
            yield break;
        }

        var (supply, low) = (before.Volts(bench.Plus), cranking.Volts(bench.Plus));
        foreach (var net in bench.Nets.Nets.Where(n => n.Edges.Any(e => bench.Loom.FindWire(e.Label)?.Role == WireRole.Feed)))
        {
            // What a relay feeds that let go is told by what that relay hangs on.
            if (net.Points.Any(p => before.Way(bench.Plus, p.ToString()).Select(l => l.Split('/')[0]).Any(l => before.Pulled.Contains(l) && !cranking.Pulled.Contains(l))))
            {
                continue;
            }

            var fallen = net.Points.Where(p => before.Volts(p.ToString()) > Stands * supply && cranking.Volts(p.ToString()) < Dropped * low).ToImmutableArray();
            if (fallen.IsEmpty)
            {
                continue;
            }

            var stopped = bench.Controllers.Where(c => before.Awake.Contains(c.Ref) && !cranking.Awake.Contains(c.Ref) && HasPin(c, fallen)).Select(c => $"{c.Title} falls asleep")
                .Concat(bench.Controllers.Where(c => HasPin(c, fallen) && cranking.Awake.Contains(c.Ref)).Select(c => $"{c.Title} loses one of its supplies"))
                .Concat(bench.Loads.Where(l => l.Pins.Values.Any(fallen.Contains) && IsForCranking(bench, l)).Select(l => $"{l.Title} is dead")).ToList();
            if (stopped.Count > 0)
            {
                var wire = net.Edges.Select(e => bench.Loom.FindWire(e.Label)).First(w => w is not null)!;
                yield return new(fallen, $"The feed ‘{wire.Circuit ?? wire.Id}’ ({string.Join(", ", fallen.Take(4))}) drops while the engine cranks: {string.Join("; ", stopped.Take(3))}. Take it from a key terminal that stays on at start.");
            }
        }
    }

    private static bool HasPin(Device controller, ImmutableArray<ProbePoint> points) =>
        ((ControllerModel)controller.Model!).Pins.Any(p => p.Value.Role is ControllerRole.Supply or ControllerRole.Wake && controller.Pins.TryGetValue(p.Key, out var point) && points.Contains(point));

    /// <summary>Whether a load has to work while the engine cranks: injectors, coils and what an output that is on at start drives.</summary>
    private static bool IsForCranking(PowerUpBench bench, Device load)
    {
        if (load.Model is LoadModel { Use: "injector" or "coil" })
        {
            return true;
        }

        var others = load.Pins.Values.Select(bench.Nets.NetOf).OfType<Electrical.Net>().SelectMany(n => n.Points).ToHashSet();
        return bench.Controllers.Any(c => ((ControllerModel)c.Model!).Pins.Any(p => p.Value.IsOutput && p.Value.OnIn.Contains(KeyPosition.Start) && c.Pins.TryGetValue(p.Key, out var point) && others.Contains(point)));
    }
}
