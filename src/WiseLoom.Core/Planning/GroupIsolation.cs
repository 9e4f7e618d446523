using System.Collections.Immutable;
using System.Numerics;

namespace WiseLoom.Core.Planning;

/// <summary>What came of measuring groups of nets against each other.</summary>
/// <param name="Suspects">Nets that were not shown to be apart from all others; each has to be measured by itself.</param>
/// <param name="Measurements">How many it took.</param>
public sealed record GroupFinding(ImmutableSortedSet<int> Suspects, int Measurements);

/// <summary>Shows k nets to be apart in ⌈log₂ k⌉ measurements, where a fixture can join many on either side; where a group is not apart, halving finds the nets.</summary>
/// <remarks>
/// In the b-th measurement the nets whose number has bit b are joined against all others. Two nets differ in at least one bit, so each pair is held apart by at least one
/// measurement: a path between two nets is a path between the two sides. Leakages between the sides lie in parallel, so a group that reads at least the limit proves at least the limit
/// for each pair. Where the sides A and B are not apart, the larger is halved and each half measured against the other side, until two nets are left: every pair across
/// the sides is then either in a part that was apart, or named.
/// </remarks>
public static class GroupIsolation
{
    /// <summary>How many measurements k nets take when all are apart: ⌈log₂ k⌉; 0 for fewer than two.</summary>
    public static int Least(int nets) => nets < 2 ? 0 : BitOperations.Log2((uint)(nets - 1)) + 1;

    /// <summary>Measures until every pair is shown apart or named, or too many measurements were made: then all that is left is suspected.</summary>
    /// <param name="nets">How many nets there are, by their numbers from 0.</param>
    /// <param name="most">After so many measurements the rest is suspected.</param>
    /// <param name="areApart">Measures one side against the other.</param>
    public static async Task<GroupFinding> FindAsync(int nets, int most, Func<ImmutableArray<int>, ImmutableArray<int>, Task<bool>> areApart)
    {
        ArgumentNullException.ThrowIfNull(areApart);
        var (suspects, count) = (new SortedSet<int>(), 0);
        for (var bit = 0; bit < Least(nets); bit++)
        {
            var sides = Enumerable.Range(0, nets).ToLookup(n => (n >> bit & 1) == 1);
            await HalveAsync([.. sides[true]], [.. sides[false]]).ConfigureAwait(false);
        }

        return new([.. suspects], count);

        async Task HalveAsync(ImmutableArray<int> one, ImmutableArray<int> other)
        {
            if (count >= most)
            {
                suspects.UnionWith(one);
                suspects.UnionWith(other);
                return;
            }

            count++;
            if (await areApart(one, other).ConfigureAwait(false))
            {
                return;
            }

            if (one.Length == 1 && other.Length == 1)
            {
                suspects.Add(one[0]);
                suspects.Add(other[0]);
                return;
            }

            var (large, small) = one.Length >= other.Length ? (one, other) : (other, one);
            await HalveAsync(large[..(large.Length / 2)], small).ConfigureAwait(false);
            await HalveAsync(large[(large.Length / 2)..], small).ConfigureAwait(false);
        }
    }
}
