namespace WiseLoom.Core.Diagnosis;

/// <summary>What a pair would read, and how that moves with each part.</summary>
/// <param name="metal">That its parts are of.</param>
/// <param name="flow">An ampere from one place to the other.</param>
internal sealed class Predicted(Metal metal, Flow flow)
{
    /// <summary>A part that carries less than this share is not told.</summary>
    private const double LeastShare = 1e-4;

    /// <summary>Of no more parts the weights are worked out beside, as often as they are asked for.</summary>
    private const int Few = 32;

    private (int Wire, double Weight, double Sd)[]? weights;

    /// <summary>Mean.</summary>
    internal double Ohms => flow.Ohms;

    /// <summary>Share of the current, squared, by wire: how much of a part's own ohms shows (Thomson's principle).</summary>
    internal (int Wire, double Weight, double Sd)[] Weights
    {
        get
        {
            if (weights is null)
            {
                var all = new (int Wire, double Weight, double Sd)[flow.Shares.Length];
                var count = Weigh(all);
                weights = count == all.Length ? all : all[..count];
            }

            return weights;
        }
    }

    /// <summary>Spread of the copper alone, squared.</summary>
    internal double Variance
    {
        get
        {
            Span<(int Wire, double Weight, double Sd)> some = stackalloc (int, double, double)[Few];
            var all = 0.0;
            foreach (var (_, weight, sd) in Told(some))
            {
                all += weight * weight * sd * sd;
            }

            return all;
        }
    }

    /// <summary>What it would be if one part had so many ohms more, without solving anything anew.</summary>
    /// <param name="part">Its place in the metal.</param>
    internal double With(int part, double added) => flow.With(part, added);

    /// <summary>Whether it is of some metal, whatever ohms its parts have.</summary>
    internal bool IsOf(Metal some) => metal.IsLike(some);

    /// <summary>The same after one part got other ohms; null where it has to be worked out anew.</summary>
    /// <param name="before">The metal, as it was.</param>
    /// <param name="now">As it is then.</param>
    /// <param name="part">Its place.</param>
    internal Predicted? Resized(Metal before, Metal now, int part)
    {
        if (!IsOf(before))
        {
            return this;
        }

        if (flow.HasLoops)
        {
            return IsOnOtherPieceThan(part) ? this : null;
        }

        var isSame = now.MeanOf(part) > 0 == before.MeanOf(part) > 0;
        return flow.ShareOf(part) == 0 ? this : new(now, flow.Longer(now.MeanOf(part) - before.MeanOf(part))) { weights = isSame ? weights : null };
    }

    /// <summary>Whether the current goes on one piece, and a part is on another.</summary>
    private bool IsOnOtherPieceThan(int part)
    {
        var one = flow.Shares.Length == 0 ? metal.PieceOfPart(part) : metal.PieceOfPart(flow.Shares[0].Part);
        foreach (var (at, _) in flow.Shares)
        {
            if (metal.PieceOfPart(at) != one)
            {
                return false;
            }
        }

        return one != metal.PieceOfPart(part);
    }

    /// <summary>Whether the current passes any of some wires.</summary>
    internal bool Passes(ReadOnlySpan<int> wires)
    {
        foreach (var (at, _) in flow.Shares)
        {
            if (wires.Contains(metal.PartAt(at).Wire))
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>Weight of a wire; 0 when it carries nothing.</summary>
    internal double Of(int wire)
    {
        Span<(int Wire, double Weight, double Sd)> some = stackalloc (int, double, double)[Few];
        foreach (var (own, weight, _) in Told(some))
        {
            if (own == wire)
            {
                return weight;
            }
        }

        return 0;
    }

    /// <summary>The weights, in the room that is given unless they are known or too many.</summary>
    private ReadOnlySpan<(int Wire, double Weight, double Sd)> Told(Span<(int Wire, double Weight, double Sd)> room) =>
        weights is not null || flow.Shares.Length > room.Length ? Weights : room[..Weigh(room)];

    /// <summary>Pieces of one wire lie one after the other in the metal, and its copper moves them together.</summary>
    /// <param name="all">Room for as many as there are shares.</param>
    /// <returns>How many it fills.</returns>
    private int Weigh(Span<(int Wire, double Weight, double Sd)> all)
    {
        var count = 0;
        foreach (var (at, share) in flow.Shares)
        {
            var part = metal.PartAt(at);
            if (part.Mean <= 0 || Math.Abs(share) <= LeastShare)
            {
                continue;
            }

            var weight = share * share;
            if (count > 0 && all[count - 1] is var (wire, before, sd) && wire == part.Wire)
            {
                all[count - 1] = (wire, before + weight, ((before * sd) + (weight * part.Sd)) / (before + weight));
            }
            else
            {
                all[count++] = (part.Wire, weight, part.Sd);
            }
        }

        return count;
    }
}
