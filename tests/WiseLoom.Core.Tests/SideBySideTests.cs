using CsCheck;
using WiseLoom.Core.Diagnosis;

namespace WiseLoom.Core.Tests;

/// <summary>Lists worked on by all cores at once.</summary>
public sealed class SideBySideTests
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public void What_comes_of_each_is_in_the_order_of_the_list() =>
        Gen.Int.List[0, 200].Sample(all => all.Each(x => unchecked(x * 3), Cancel).SequenceEqual(all.Select(x => unchecked(x * 3))));

    /// <summary>Hundreds of lists within lists, each longer than there are threads: none may wait for one that waits for it.</summary>
    [Fact]
    public void Lists_within_lists_come_to_their_end()
    {
        List<int> some = [.. Enumerable.Range(1, 40)];

        var sums = some.Each(a => some.Each(b => some.Each(c => a * b * c, Cancel).Sum(), Cancel).Sum(), Cancel);

        sums.Sum().ShouldBe(820 * 820 * 820);
    }

    [Fact]
    public void Every_item_is_taken_once()
    {
        var taken = new int[500];

        _ = Enumerable.Range(0, taken.Length).ToList().Each(i => Interlocked.Increment(ref taken[i]), Cancel);

        taken.ShouldAllBe(t => t == 1);
    }

    [Fact]
    public void What_one_throws_is_thrown_as_it_is() =>
        Should.Throw<InvalidDataException>(() => Enumerable.Range(0, 300).ToList().Each(i => i == 3 ? throw new InvalidDataException("the fourth") : i, Cancel)).Message.ShouldBe("the fourth");

    [Fact]
    public void What_is_given_up_says_so_and_begins_nothing()
    {
        using var given = new CancellationTokenSource();
        given.Cancel();
        var begun = 0;

        Should.Throw<OperationCanceledException>(() => new[] { 1, 2, 3 }.Each(_ => Interlocked.Increment(ref begun), given.Token));

        begun.ShouldBe(0);
    }

    [Fact]
    public void An_empty_list_comes_to_nothing() => Array.Empty<int>().Each(x => x, Cancel).ShouldBeEmpty();
}
