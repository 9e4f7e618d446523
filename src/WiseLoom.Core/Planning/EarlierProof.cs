using System.Collections.Immutable;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning.Order;

namespace WiseLoom.Core.Planning;

/// <summary>Pairs measured before, as a new plan counts them.</summary>
/// <param name="Pairs">Those that the plan takes over.</param>
/// <param name="Joined">Of them, those within a net, by its place in the survey; they close no ring.</param>
/// <param name="Plugged">Places of nets that were measured against all others.</param>
internal sealed record EarlierProof(ImmutableArray<ProbePair> Pairs, ImmutableArray<(int Net, ProbePoint A, ProbePoint B)> Joined, IReadOnlySet<int> Plugged)
{
    private readonly HashSet<(int, int)> apart = [];

    /// <summary>Sorts pairs; one that says what others have said already, or whose places no net reaches, is left out.</summary>
    internal static EarlierProof Of(Survey survey, IEnumerable<ProbePair> pairs)
    {
        var taken = ImmutableArray.CreateBuilder<ProbePair>();
        var joined = ImmutableArray.CreateBuilder<(int, ProbePoint, ProbePoint)>();
        var (plugged, apart, parts, number) = (new HashSet<int>(), new HashSet<(int, int)>(), new Dictionary<int, Parts>(), new Dictionary<ProbePoint, int>());
        foreach (var pair in pairs.Where(p => p.Black is { } black && survey.Has(black) && (p.Red is null || survey.Has(p.Red.Value))))
        {
            var black = pair.Black!.Value;
            var net = survey.PlaceOf(black);
            if (pair.Red is not { } red)
            {
                if (plugged.Add(net))
                {
                    taken.Add(pair);
                }
            }
            else if (survey.PlaceOf(red) is var other && other != net)
            {
                if (apart.Add((Math.Min(net, other), Math.Max(net, other))))
                {
                    taken.Add(pair);
                }
            }
            else if (Joins(black, red))
            {
                joined.Add((net, black, red));
                taken.Add(pair);
            }
        }

        var proof = new EarlierProof(taken.ToImmutable(), joined.ToImmutable(), plugged);
        proof.apart.UnionWith(apart);
        return proof;

        bool Joins(ProbePoint a, ProbePoint b)
        {
            var net = survey.PlaceOf(a);
            if (!parts.TryGetValue(net, out var of))
            {
                parts.Add(net, of = new(survey.Nets[net].Points.Length));
                foreach (var (point, i) in survey.Nets[net].Points.Select((p, i) => (p, i)))
                {
                    number[point] = i;
                }
            }

            return of.Join(number[a], number[b]);
        }
    }

    /// <summary>Pairs of one net.</summary>
    internal IEnumerable<(ProbePoint A, ProbePoint B)> JoinedIn(int net) => Joined.Where(j => j.Net == net).Select(j => (j.A, j.B));

    /// <summary>Whether two nets were measured against each other.</summary>
    internal bool IsApart(int one, int other) => apart.Contains((Math.Min(one, other), Math.Max(one, other)));
}
