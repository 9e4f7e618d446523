using WiseLoom.Core.Electrical;
using WiseLoom.Core.Formats;

namespace WiseLoom.Core.Tests;

/// <summary>Cases for the diagnosis as lines of JSON: what is taken, and what is refused with its place.</summary>
public sealed class CaseLineTests
{
    private static CaseLine? Read(string line, out List<Problem> problems) => CaseLine.Read(line, Looms.Of("A:1-B:1", "A:2-B:2"), Meter.BenchFourWire, problems = []);

    [Fact]
    public void A_case_is_read_as_it_is_written()
    {
        var one = Read("""{ "readings": [{ "a": "A:1", "b": "B:1", "ohm": 0.04 }, { "a": ["A:1", "A:2"], "b": ["B:3", "B:4"], "ohm": null }, { "a": "A:2", "b": null, "ohm": null, "moved": true }, { "a": "A:2" }], "meter": "hand-two-wire" }""", out var problems).ShouldNotBeNull();
        problems.ShouldBeEmpty();
        one.Meter.ShouldBe(Meter.HandTwoWire);
        one.Readings.Length.ShouldBe(4);
        one.Readings[0].Ohm.ShouldBe(0.04);
        one.Readings[1].A.Length.ShouldBe(2);
        one.Readings[1].B!.Value.Length.ShouldBe(2);
        one.Readings[2].ShouldSatisfyAllConditions(r => r.B.ShouldBeNull(), r => r.Moved.ShouldBeTrue());
        Read("""{ "readings": [] }""", out _)!.Meter.ShouldBe(Meter.BenchFourWire);
    }

    [Fact]
    public void A_meter_may_be_given_by_its_figures()
    {
        var one = Read("""{ "readings": [], "meter": { "name": "Mine", "fourWire": true, "touchOhm": 0.001, "ranges": [{ "upToOhm": 10, "percent": 0.1, "counts": 5, "resolutionOhm": 0.001 }, { "upToOhm": 1e7, "percent": 1, "counts": 5, "resolutionOhm": 1000 }] } }""", out _)!;
        one.Meter.ShouldSatisfyAllConditions(m => m.FourWire.ShouldBeTrue(), m => m.Ranges.Length.ShouldBe(2), m => m.TouchOhms.ShouldBe(0.001), m => m.LeadOhms.ShouldBe(0));
    }

    [Theory]
    [InlineData("", "")]
    [InlineData("{", "")]
    [InlineData("[]", "/readings")]
    [InlineData("{}", "/readings")]
    [InlineData("""{ "readings": 3 }""", "/readings")]
    [InlineData("""{ "readings": [3] }""", "/readings/0")]
    [InlineData("""{ "readings": [{ "b": "A:1" }] }""", "/readings/0")]
    [InlineData("""{ "readings": [{ "a": "A:99", "b": "B:1", "ohm": 1 }] }""", "/readings/0/a")]
    [InlineData("""{ "readings": [{ "a": "nowhere", "b": "B:1", "ohm": 1 }] }""", "/readings/0/a")]
    [InlineData("""{ "readings": [{ "a": "A:1", "b": ["B:1", "C:7"], "ohm": 1 }] }""", "/readings/0/b/1")]
    [InlineData("""{ "readings": [{ "a": [], "b": "B:1", "ohm": 1 }] }""", "/readings/0/a")]
    [InlineData("""{ "readings": [{ "a": 5, "b": "B:1", "ohm": 1 }] }""", "/readings/0/a")]
    [InlineData("""{ "readings": [{ "a": "A:1", "b": "B:1", "ohm": "over" }] }""", "/readings/0/ohm")]
    [InlineData("""{ "readings": [{ "a": "A:1", "b": "B:1", "ohm": 1e300 }] }""", "/readings/0/ohm")]
    [InlineData("""{ "readings": [{ "a": "A:1", "b": "B:1", "ohm": -5000 }] }""", "/readings/0/ohm")]
    [InlineData("""{ "readings": [], "meter": "the blue one" }""", "/meter")]
    [InlineData("""{ "readings": [], "meter": { "ranges": [] } }""", "/meter")]
    [InlineData("""{ "readings": [], "meter": { "ranges": [{ "upToOhm": 10, "percent": 900, "counts": 1, "resolutionOhm": 1 }] } }""", "/meter/ranges/0/percent")]
    [InlineData("""{ "readings": [], "meter": { "ranges": [{ "upToOhm": 10, "percent": 1, "counts": 1 }] } }""", "/meter/ranges/0/resolutionOhm")]
    [InlineData("""{ "readings": [], "meter": { "ranges": [{ "upToOhm": 10, "percent": 1, "counts": 1, "resolutionOhm": 1 }, { "upToOhm": 5, "percent": 1, "counts": 1, "resolutionOhm": 1 }] } }""", "/meter/ranges")]
    [InlineData("""{ "readings": [], "meter": { "touchOhm": -1, "ranges": [{ "upToOhm": 10, "percent": 1, "counts": 1, "resolutionOhm": 1 }] } }""", "/meter/touchOhm")]
    public void What_is_wrong_is_named_at_its_place(string line, string at)
    {
        Read(line, out var problems).ShouldBeNull();
        problems.ShouldHaveSingleItem().At.ShouldBe(at);
        problems[0].Message.Length.ShouldBeGreaterThan(15);
    }

    [Fact]
    public void More_readings_than_a_case_takes_are_refused_before_they_are_read() =>
        Read($$"""{ "readings": [{{string.Join(',', Enumerable.Repeat("3", CaseLine.MostReadings + 1))}}] }""", out var problems).ShouldSatisfyAllConditions(c => c.ShouldBeNull(), _ => problems.ShouldHaveSingleItem().Message.ShouldContain("at most"));
}
