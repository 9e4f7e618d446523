using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Practice;

/// <summary>Makes faults up for practice: every kind that shows on a bare loom, each kind as often, each place as likely.</summary>
/// <param name="seed">The same seed hides the same faults.</param>
public sealed class HiddenFaults(Loom loom, int seed)
{
    private const int Tries = 2000;

    private readonly Random random = new(seed);
    private readonly WireGraph nets = WireGraph.Topology(loom);

    /// <summary>So many faults, of wires and connectors that do not repeat.</summary>
    public IReadOnlyList<Fault> Some(int count)
    {
        var hidden = new List<Fault>();
        for (var tries = 0; hidden.Count < count && tries < Tries; tries++)
        {
            if (One() is { } fault && !hidden.Exists(h => h.Places(loom).Intersect(fault.Places(loom)).Any()))
            {
                hidden.Add(fault);
            }
        }

        return hidden;
    }

    private Fault? One() => random.Next(8) switch
    {
        0 => new OpenFault(AnyWire().Id, AnyEnd()),
        1 => new ResistiveFault(AnyWire().Id, Math.Round(Math.Exp(Between(Math.Log(0.3), Math.Log(50))), 3), AnyEnd() ?? "to"),
        2 => random.Next(3) == 0 ? Along() : Bridge(),
        3 => Swap(),
        4 => Misplaced(),
        5 => Shift(),
        6 => Mirrored(),
        _ => new MissingFault(AnyWire().Id),
    };

    private Wire AnyWire() => loom.Wires[random.Next(loom.Wires.Length)];

    private string? AnyEnd() => random.Next(3) switch { 0 => "from", 1 => "to", _ => null };

    private double Between(double from, double to) => from + (random.NextDouble() * (to - from));

    private T? Any<T>(List<T> some)
        where T : class => some.Count == 0 ? null : some[random.Next(some.Count)];

    private Connector AnyConnector() => loom.Connectors[random.Next(loom.Connectors.Length)];

    private List<string> Wired(Connector connector) => [.. connector.Family.Cavities.Where(c => nets.NodeOf(new(connector.Ref, c)) >= 0)];

    private int NetOf(Connector connector, string cavity) => nets.NetOf(new(connector.Ref, cavity))?.Number ?? -1;

    private ShortFault? Along()
    {
        var (one, other) = (AnyWire(), AnyWire());
        double Somewhere(Wire wire) => Math.Round(wire.LengthMm * Between(0.1, 0.9));
        return nets.NumberOf(one.From.Text) == nets.NumberOf(other.From.Text) ? null : new(one.Id, other.Id, Math.Round(Between(0, 0.3), 3)) { AlongMm = [Somewhere(one), Somewhere(other)] };
    }

    private ShortFault? Bridge()
    {
        var connector = AnyConnector();
        List<(string A, string B)> pairs = [.. FaceLayout.Neighbours(connector.Family).Where(p => NetOf(connector, p.A) >= 0 && NetOf(connector, p.B) >= 0 && NetOf(connector, p.A) != NetOf(connector, p.B))];
        if (pairs.Count == 0)
        {
            return null;
        }

        var (a, b) = pairs[random.Next(pairs.Count)];
        return new($"{connector.Ref}:{a}", $"{connector.Ref}:{b}", Math.Round(Between(0, 1), 3));
    }

    private SwapFault? Swap()
    {
        var connector = AnyConnector();
        var wired = Wired(connector);
        if (wired.Count < 2)
        {
            return null;
        }

        var (one, other) = (wired[random.Next(wired.Count)], wired[random.Next(wired.Count)]);
        return NetOf(connector, one) == NetOf(connector, other) ? null : SwapFault.Of(connector.Ref, one, other);
    }

    private MisplacedFault? Misplaced()
    {
        var connector = AnyConnector();
        List<string> empty = [.. connector.Family.Cavities.Where(c => NetOf(connector, c) < 0)];
        return Any(Wired(connector)) is { } from && Any(empty) is { } to ? new(connector.Ref, from, to) : null;
    }

    private ShiftFault? Shift()
    {
        var connector = AnyConnector();
        return Any([.. ShiftFault.Possible(connector, c => NetOf(connector, c) >= 0)]);
    }

    private MirroredFault? Mirrored()
    {
        var connector = AnyConnector();
        var changes = connector.Family.Rows.Any(row => row.Zip(row.Reverse()).Any(p => p.First is not null && p.Second is not null && NetOf(connector, p.First) != NetOf(connector, p.Second)));
        return changes && MirroredFault.Fits(connector, c => NetOf(connector, c) >= 0) ? new(connector.Ref) : null;
    }
}
