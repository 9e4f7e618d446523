using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>A run of contacts stands one place along.</summary>
/// <param name="Cavities">The run in face order.</param>
/// <param name="By">+1 or −1.</param>
/// <inheritdoc cref="CavityFault"/>
public sealed record ShiftFault(string Connector, ImmutableArray<string> Cavities, int By) : CavityFault(Connector)
{
    /// <summary>All runs of a connector that could stand one place along: two or more contacts of a row with an empty cavity at their head.</summary>
    /// <param name="isWired">Whether a cavity holds a contact.</param>
    internal static IEnumerable<ShiftFault> Possible(Connector housing, Func<string, bool> isWired)
    {
        foreach (var row in housing.Family.Rows)
        {
            for (var head = 0; head < row.Length; head++)
            {
                if (row[head] is not { } place || isWired(place))
                {
                    continue;
                }

                foreach (var by in new[] { 1, -1 })
                {
                    var run = new List<string>();
                    for (var at = head - by; at >= 0 && at < row.Length && row[at] is { } cavity && isWired(cavity); at -= by)
                    {
                        run.Add(cavity);
                        if (run.Count > 1)
                        {
                            yield return new(housing.Ref, [.. by > 0 ? Enumerable.Reverse(run) : run], by);
                        }
                    }
                }
            }
        }
    }

    /// <inheritdoc/>
    public override string Title(Loom loom) => $"{Connector}: contacts {Ends} stand one place along";

    /// <inheritdoc/>
    public override string Why(Loom loom) => $"if the contacts {Ends} in {Connector} stood one place along, each circuit would end in its neighbour’s place.";

    private string Ends => Cavities is [var first, .., var last] ? $"{first} to {last}" : string.Join(' ', Cavities);

    /// <summary>The same run of the same connector.</summary>
    public bool Equals(ShiftFault? other) => other is not null && Connector == other.Connector && By == other.By && Cavities.SequenceEqual(other.Cavities);

    /// <inheritdoc/>
    public override int GetHashCode() => Cavities.Aggregate(HashCode.Combine(Connector, By), HashCode.Combine);

    private protected override IEnumerable<string> Hands(Connector housing) => Cavities.Concat(Moves(housing).Values).Distinct();

    private protected override IReadOnlyDictionary<string, string> Moves(Connector housing)
    {
        var order = housing.Family.Cavities;
        return Cavities.Select(c => (From: c, At: order.IndexOf(c)))
            .Where(x => x.At >= 0 && x.At + By >= 0 && x.At + By < order.Length)
            .ToDictionary(x => x.From, x => order[x.At + By], StringComparer.Ordinal);
    }
}
