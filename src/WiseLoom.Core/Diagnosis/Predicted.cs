namespace WiseLoom.Core.Diagnosis;

/// <summary>What a pair would read, and how that moves with each part.</summary>
/// <param name="metal">That its parts are of.</param>
/// <param name="flow">An ampere from one place to the other.</param>
internal sealed class Predicted(Metal metal, Flow flow)
{
    /// <summary>A part that carries less than this share is not told.</summary>
    private const double LeastShare = 1e-4;

    private List<(int Wire, double Weight, double Sd)>? weights;

    /// <summary>Mean.</summary>
    internal double Ohms => flow.Ohms;

    /// <summary>Share of the current, squared, by wire: how much of a part's own ohms shows (Thomson's principle).</summary>
    internal IReadOnlyList<(int Wire, double Weight, double Sd)> Weights => Weighed;

    /// <summary>Spread of the copper alone, squared.</summary>
    internal double Variance
    {
        get
        {
            var all = 0.0;
            foreach (var (_, weight, sd) in Weighed)
            {
                all += weight * weight * sd * sd;
            }

            return all;
        }
    }

    /// <summary>What it would be if one part had so many ohms more, without solving anything anew.</summary>
    /// <param name="part">Its place in the metal.</param>
    internal double With(int part, double added) => flow.With(part, added);

    /// <summary>Weight of a wire; 0 when it carries nothing.</summary>
    internal double Of(int wire)
    {
        foreach (var (own, weight, _) in Weighed)
        {
            if (own == wire)
            {
                return weight;
            }
        }

        return 0;
    }

    private List<(int Wire, double Weight, double Sd)> Weighed => weights ??= Weigh();

    /// <summary>Pieces of one wire lie one after the other in the metal, and its copper moves them together.</summary>
    private List<(int Wire, double Weight, double Sd)> Weigh()
    {
        var all = new List<(int Wire, double Weight, double Sd)>(flow.Shares.Count);
        List<(int Part, double Share)> shares = [.. flow.Shares];
        shares.Sort((x, y) => x.Part.CompareTo(y.Part));
        foreach (var (at, share) in shares)
        {
            var part = metal.Parts[at].Part;
            if (part.Mean <= 0 || Math.Abs(share) <= LeastShare)
            {
                continue;
            }

            var weight = share * share;
            if (all.Count > 0 && all[^1] is var (wire, before, sd) && wire == part.Wire)
            {
                all[^1] = (wire, before + weight, ((before * sd) + (weight * part.Sd)) / (before + weight));
            }
            else
            {
                all.Add((part.Wire, weight, part.Sd));
            }
        }

        return all;
    }
}
