using System.Numerics;
using System.Numerics.Tensors;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What a first fault leaves unexplained, and which others could be behind it: alone those may be out, because they do not explain the first.</summary>
internal sealed class LeftOver
{
    /// <summary>A wire that carries less of a reading cannot part it.</summary>
    private const double Alone = 0.9;

    private readonly DrawnLoom drawn;
    private readonly Evidence evidence;

    /// <summary>Readings that are higher than the first leaves them: a poor joint lowers none.</summary>
    private readonly List<Predicted> higher = [];
    private readonly List<Predicted> broken = [];

    /// <summary>Readings that contacts elsewhere could be behind, by their places, a bit for each: what contradicts metal, and within what a bridge joins what is off.</summary>
    private readonly Dictionary<ProbePoint, ulong[]> contradicted = [];

    /// <summary>At each place, how many it does not explain.</summary>
    private readonly Dictionary<ProbePoint, int> unexplained = [];

    internal LeftOver(DrawnLoom drawn, Evidence evidence, Weighed first)
    {
        (this.drawn, this.evidence) = (drawn, evidence);
        var left = evidence.Unexplained(first).Where(o => !o.Moved).ToList();
        foreach (var (at, seen) in left.Index())
        {
            var predicted = evidence.Predict(seen, first.Altered);
            HashSet<ProbePoint> places = [.. seen.A, .. seen.B ?? []];
            foreach (var place in places)
            {
                unexplained[place] = unexplained.GetValueOrDefault(place) + 1;
            }

            if (first.Faults[0] is ShortFault || evidence.Contradicts(seen, predicted))
            {
                foreach (var place in places)
                {
                    if (!contradicted.TryGetValue(place, out var bits))
                    {
                        contradicted.Add(place, bits = new ulong[(left.Count + 63) / 64]);
                    }

                    bits[at / 64] |= 1UL << (at % 64);
                }
            }

            if (predicted is not null && !Evidence.IsJoined(seen))
            {
                broken.Add(predicted);
            }
            else if (predicted is not null && evidence.Off(seen, predicted) > 0)
            {
                higher.Add(predicted);
            }
        }
    }

    /// <summary>How many of these readings another fault could be behind: by the share that a poor wire carries of them, by what an open wire alone carries, by the
    /// contacts that stand elsewhere, less what says that these stand where they should.</summary>
    internal double Of(Fault other) => other switch
    {
        ResistiveFault poor => Math.Round(Carries(higher, poor.Wire).Sum(), 2),
        OpenFault open => Carries(broken, open.Wire).Count(c => c > Alone),
        CavityFault moved => OfMoved(moved),
        _ => 0,
    };

    private IEnumerable<double> Carries(List<Predicted> some, string wire) => some.Select(p => p.Of(drawn.PlaceOf(wire)));

    /// <summary>Readings that touch them, less those that say where they should be; of those that explain as much the ones that move fewest contacts.</summary>
    private double OfMoved(CavityFault fault)
    {
        IEnumerable<string> cavities = fault switch
        {
            SwapFault swap => swap.Cavities,
            MisplacedFault astray => [astray.From, astray.To],
            _ => fault.Moved(drawn.Loom).Where(m => m.Key != m.Value).SelectMany(m => new[] { m.Key, m.Value }).Distinct(),
        };
        var moved = cavities.Select(c => new ProbePoint(fault.Connector, c)).ToList();
        return Touching(moved) is var touching and > 0 ? touching - moved.Sum(c => 1e-3 + evidence.At(c) - unexplained.GetValueOrDefault(c)) : 0;
    }

    /// <summary>How many of the contradicted touch any of some places.</summary>
    private int Touching(List<ProbePoint> places)
    {
        ulong[]? any = null;
        foreach (var place in places)
        {
            if (contradicted.TryGetValue(place, out var bits))
            {
                any ??= new ulong[bits.Length];
                TensorPrimitives.BitwiseOr(any, bits, any);
            }
        }

        return any is null ? 0 : any.Sum(BitOperations.PopCount);
    }
}
