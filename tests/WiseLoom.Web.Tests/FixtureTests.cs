using WiseLoom.Core.Looms;
using WiseLoom.Instruments;

namespace WiseLoom.Web.Tests;

/// <summary>The columns of a switch matrix: cavities with a wire, the known link, cavities without.</summary>
public sealed class FixtureTests
{
    private static readonly Loom Small = LoomReader.Read(ImportTests.Small).Loom!;

    private static readonly Fixture Matrix = new(Small);

    [Fact]
    public void Every_cavity_has_a_column_of_its_own_and_two_are_the_link()
    {
        var columns = Enumerable.Range(1, 8).Select(Matrix.PointAt).ToList();
        columns.Count(c => c is null).ShouldBe(2);
        columns.OfType<ProbePoint>().Order().ShouldBe(Small.Connectors.SelectMany(c => c.Family.Cavities.Select(x => new ProbePoint(c.Ref, x))).Order());
        columns.Take(4).OfType<ProbePoint>().ShouldBe(Small.ProbePoints());
        columns.Skip(6).OfType<ProbePoint>().ShouldBe([new("A", "3"), new("B", "3")]);
    }

    [Fact]
    public void What_is_written_is_read_as_the_same_places()
    {
        foreach (var point in Small.Connectors.SelectMany(c => c.Family.Cavities.Select(x => new ProbePoint(c.Ref, x))))
        {
            var list = Matrix.ChannelList([point], [new("A", "1")]);
            var channels = Matrix.Parse(list).ShouldNotBeNull(list);
            channels.Select(c => (c.Row, Matrix.PointAt(c.Column))).ShouldBe([(Fixture.RedRow, point), (Fixture.BlackRow, new ProbePoint("A", "1"))]);
        }
    }

    [Theory]
    [InlineData("(@1!0,2!1)")]
    [InlineData("(@1!9,2!1)")]
    [InlineData("(@3!1,2!1)")]
    [InlineData("(@1!x)")]
    [InlineData("1!1")]
    public void A_column_that_is_not_there_is_no_list(string list) => Matrix.Parse(list).ShouldBeNull();
}
