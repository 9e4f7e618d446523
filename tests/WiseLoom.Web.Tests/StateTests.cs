using System.Net;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

/// <summary>What a loom shows, cable, one-end test and sensors, over HTTP.</summary>
public sealed class StateTests(Shop shop)
{
    /// <summary>A battery and a switched lamp.</summary>
    private const string Lamp = """
        { "format": "wise-loom/loom", "version": 1, "loom": { "name": "Lamp", "revision": "A" },
          "families": [ { "id": "two", "rows": [["1", "2"]] } ],
          "connectors": [ { "ref": "BAT", "family": "two" }, { "ref": "SW", "family": "two" }, { "ref": "LAMP", "family": "two" } ],
          "wires": [
            { "id": "W1", "from": "BAT:1", "to": "SW:1", "mm2": 1, "lengthMm": 1000, "role": "feed" },
            { "id": "W2", "from": "SW:2", "to": "LAMP:1", "mm2": 1, "lengthMm": 1000 },
            { "id": "W3", "from": "LAMP:2", "to": "BAT:2", "mm2": 1, "lengthMm": 1000 } ],
          "devices": [
            { "ref": "battery", "kind": "battery", "volts": 12, "pins": { "+": "BAT:1", "-": "BAT:2" } },
            { "ref": "switch", "kind": "switch", "closedWhen": "light wanted", "pins": { "1": "SW:1", "2": "SW:2" } },
            { "ref": "lamp", "title": "Lamp", "kind": "resistor", "use": "lamp", "ohm": 12, "pins": { "1": "LAMP:1", "2": "LAMP:2" } } ] }
        """;

    [Fact]
    public async Task A_condition_closes_its_switch_and_the_lamp_lights()
    {
        var (visitor, revision) = await LampAsync();
        var dark = await visitor.ReadAsync($"/api/revisions/{revision}/state?key=on");
        dark.GetProperty("conditions").EnumerateArray().Select(c => c.GetString()).ShouldBe(["light wanted"]);
        dark.GetProperty("functions")[0].GetProperty("works").GetBoolean().ShouldBeFalse();
        Point(dark, "SW:2").GetProperty("shown").GetString().ShouldBe("ground");

        var lit = await visitor.ReadAsync($"/api/revisions/{revision}/state?key=on&set=light%20wanted");
        lit.GetProperty("functions")[0].GetProperty("now").GetBoolean().ShouldBeTrue();
        var wire = lit.GetProperty("wires").EnumerateArray().Single(w => w.GetProperty("wire").GetString() == "W2");
        wire.GetProperty("ampsNumber").GetDouble().ShouldBe(0.99, 0.01);
        wire.GetProperty("forward").GetBoolean().ShouldBeTrue();
        Point(lit, "LAMP:1").GetProperty("shown").GetString().ShouldBe("supply");
    }

    [Fact]
    public async Task A_point_has_three_answers_and_a_way()
    {
        var (visitor, revision) = await LampAsync();
        var explanation = await visitor.ReadAsync($"/api/revisions/{revision}/explanation?point=LAMP:1&set=light%20wanted");
        explanation.GetProperty("answers").GetArrayLength().ShouldBe(3);
        explanation.GetProperty("answers")[1].GetProperty("words").GetString().ShouldBe("burns bright");
        explanation.GetProperty("stem")[0].EnumerateArray().Select(c => c.GetString()).ShouldBe(["BAT", "SW", "LAMP"]);
        explanation.GetProperty("toGround")[0].GetProperty("device").GetString().ShouldBe("lamp");
    }

    [Theory]
    [InlineData("state?key=sideways", "/key")]
    [InlineData("explanation?point=LAMP", "/point")]
    [InlineData("explanation?point=LAMP:9", "/point")]
    [InlineData("explanation?point=LAMP:1&key=warp", "/key")]
    [InlineData("one-end?plugs=NOBODY", "/plugs")]
    [InlineData("one-end?plugs=BAT&meter=crystal", "/meter")]
    public async Task Questions_without_sense_are_refused_at_their_place(string question, string at)
    {
        var (visitor, revision) = await LampAsync();
        var answer = await visitor.SendAsync(HttpMethod.Get, $"/api/revisions/{revision}/{question}", null);
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await answer.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain(at);
    }

    [Theory]
    [InlineData("state")]
    [InlineData("explanation?point=A:1")]
    [InlineData("cable")]
    [InlineData("one-end")]
    [InlineData("sensors")]
    public async Task A_revision_that_is_not_there_is_not_found(string question)
    {
        var visitor = await shop.TechnicianAsync();
        (await visitor.SendAsync(HttpMethod.Get, $"/api/revisions/999999/{question}", null)).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Cable_is_held_to_the_shops_limits_with_every_condition_so()
    {
        var (visitor, revision) = await LampAsync();
        var cable = await visitor.ReadAsync($"/api/revisions/{revision}/cable");
        // 12 V on 12 Ω, 10 mΩ of battery and of switch, three metres of 1 mm² and six contacts of 4 mΩ: 12.0957 Ω.
        cable.GetProperty("wires")[0].GetProperty("amps").GetString().ShouldBe("992.1 mA");
        cable.GetProperty("flags").GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task The_one_end_test_of_a_plug_reads_through_what_hangs_on_it()
    {
        var (visitor, revision) = await LampAsync();
        var test = await visitor.ReadAsync($"/api/revisions/{revision}/one-end?plugs=BAT&set=light%20wanted&meter=bench");
        var reading = test.GetProperty("readings")[0];
        reading.GetProperty("devices").EnumerateArray().Select(d => d.GetString()).ShouldContain("Lamp");
        test.GetProperty("leftOut").EnumerateArray().Select(d => d.GetString()).ShouldBe(["battery"]);
    }

    [Fact]
    public async Task Sensors_are_fitted_read_and_matched()
    {
        var visitor = await shop.TechnicianAsync();
        var points = new[] { new { celsius = -10, ohms = 9400 }, new { celsius = 20, ohms = 2500 }, new { celsius = 80, ohms = 320 } };
        var fit = await visitor.PostForAsync("/api/sensors/fit", new { points });
        fit.GetProperty("wrong").ValueKind.ShouldBe(JsonValueKind.Null);
        fit.GetProperty("table").EnumerateArray().Single(t => t.GetProperty("celsius").GetDouble() == 20).GetProperty("ohms").GetDouble().ShouldBe(2500, 1e-6);
        (await visitor.PostForAsync("/api/sensors/temperature", new { points, ohms = 2500 })).GetProperty("celsius").GetDouble().ShouldBe(20, 1e-6);
        (await visitor.PostForAsync("/api/sensors/temperature", new { points, ohms = 99_999 })).GetProperty("sentence").GetString()!.ShouldContain("a curve is a guess");
        (await visitor.PostForAsync("/api/sensors/fit", new { points = points.Take(2) })).GetProperty("wrong").GetString()!.ShouldContain("at least three");

        var scale = new { lowVolts = 0.5, lowUnits = 0, highVolts = 4.5, highUnits = 1000, unit = "kPa" };
        (await visitor.PostForAsync("/api/sensors/units", new { scale, volts = 2.5 })).GetProperty("sentence").GetString().ShouldBe("2.50 V is 500 kPa.");
        (await visitor.PostForAsync("/api/sensors/unknown", new { readings = new[] { new { red = "1", black = "2", ohms = (double?)null, diodeVolts = (double?)null } } })).GetProperty("caution").GetString()!.ShouldStartWith("Do not put power");

        var curve = new[] { new { units = 0, ohms = 3 }, new { units = 100, ohms = 180 } };
        (await visitor.PostForAsync("/api/sensors/gauge", new { sender = curve, gauge = curve })).GetProperty("match").GetBoolean().ShouldBeTrue();
    }

    private static JsonElement Point(JsonElement state, string point) => state.GetProperty("points").EnumerateArray().Single(p => p.GetProperty("point").GetString() == point);

    private async Task<(Visitor Visitor, long Revision)> LampAsync()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(System.Text.Encoding.UTF8.GetBytes(Lamp));
        return (visitor, (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("revisionId").GetInt64());
    }
}
