using System.Collections.Immutable;

namespace WiseLoom.Core.Planning;

/// <summary>The least force at which a crimp on a wire may give way.</summary>
/// <param name="Mm2">Copper section, mm².</param>
/// <param name="Newtons">Newtons.</param>
public readonly record struct PullRow(double Mm2, double Newtons);

/// <summary>How many samples stand for a lot.</summary>
/// <param name="LotUpTo">Crimps of one section in one kind of housing, on one loom.</param>
/// <param name="Samples">How many are pulled.</param>
public readonly record struct SampleRow(int LotUpTo, int Samples);

/// <summary>What crimp samples must hold, and how many are pulled; a shop's own.</summary>
/// <param name="Forces">By rising section.</param>
/// <param name="Sizes">By rising lot; lots beyond the last need as many as the last.</param>
public sealed record PullTable(ImmutableArray<PullRow> Forces, ImmutableArray<SampleRow> Sizes)
{
    private const int MostRows = 40, MostSamples = 50;

    /// <summary>What a shop starts with.</summary>
    /// <remarks>Forces: the least pull-out forces of IEC 60352-2 for solderless crimps, table of conductor sections. Sizes are a habit, not a standard.</remarks>
    public static PullTable Usual { get; } = new(
        [
            new(0.14, 18), new(0.22, 28), new(0.35, 40), new(0.5, 60), new(0.75, 85), new(1, 108), new(1.5, 150), new(2.5, 230), new(4, 310), new(6, 360), new(10, 380),
        ],
        [new(4, 1), new(20, 2), new(100, 3), new(500, 5)]);

    /// <summary>The least force for a section, newtons: that of the next smaller row; in proportion below the first.</summary>
    /// <param name="mm2">Copper section, more than 0.</param>
    public double Least(double mm2)
    {
        // A section worked out of a gauge number may lie a hair below its row.
        var row = Forces.LastOrDefault(r => r.Mm2 <= mm2 * 1.04);
        return row.Newtons > 0 ? row.Newtons : Forces[0].Newtons * mm2 / Forces[0].Mm2;
    }

    /// <summary>How many samples a lot needs, never more than it has crimps.</summary>
    public int Samples(int lot)
    {
        var row = Sizes.FirstOrDefault(r => lot <= r.LotUpTo, Sizes[^1]);
        return Math.Min(lot, row.Samples);
    }

    /// <summary>What of it cannot be.</summary>
    /// <returns>Empty when all of it can; places as JSON pointers of this record.</returns>
    public IEnumerable<Problem> Problems()
    {
        if (Forces.IsDefault || Forces.Length is 0 or > MostRows)
        {
            yield return new("/forces", $"The table has 1 to {MostRows} sections.");
        }
        else
        {
            for (var i = 0; i < Forces.Length; i++)
            {
                if (!(Forces[i].Mm2 is > 0 and <= 500) || !(Forces[i].Newtons is > 0 and <= 20_000))
                {
                    yield return new($"/forces/{i}", "A section lies between 0 and 500 mm², a force between 0 and 20,000 N.");
                }
                else if (i > 0 && !(Forces[i].Mm2 > Forces[i - 1].Mm2 && Forces[i].Newtons >= Forces[i - 1].Newtons))
                {
                    yield return new($"/forces/{i}", "Sections rise from row to row, and forces do not fall.");
                }
            }
        }

        if (Sizes.IsDefault || Sizes.Length is 0 or > MostRows)
        {
            yield return new("/sizes", $"The table has 1 to {MostRows} sizes of a lot.");
            yield break;
        }

        for (var i = 0; i < Sizes.Length; i++)
        {
            if (Sizes[i].LotUpTo < 1 || Sizes[i].Samples is < 1 or > MostSamples)
            {
                yield return new($"/sizes/{i}", $"A lot has 1 crimp at least, and 1 to {MostSamples} samples.");
            }
            else if (i > 0 && !(Sizes[i].LotUpTo > Sizes[i - 1].LotUpTo && Sizes[i].Samples >= Sizes[i - 1].Samples))
            {
                yield return new($"/sizes/{i}", "Lots rise from row to row, and samples do not fall.");
            }
        }
    }

    /// <summary>Equal when every row is.</summary>
    public bool Equals(PullTable? other) => other is not null && Forces.SequenceEqual(other.Forces) && Sizes.SequenceEqual(other.Sizes);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Forces.Length, Sizes.Length);
}
