using System.Net;
using System.Text;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

/// <summary>Steps under load over HTTP: planned, read in volts, judged, kept.</summary>
public sealed class LoadTests(Shop shop)
{
    private const long Typed = 3;

    private static byte[] Fed => Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(ImportTests.Small)
        .Replace("\"id\": \"W1\",", "\"id\": \"W1\", \"role\": \"feed\",", StringComparison.Ordinal));

    private static Sent Drop(int step, double? volts, double? ohms = null, bool overRange = false) => new(Guid.CreateVersion7(), step, ohms, overRange, volts);

    private static async Task<(long Job, JsonElement Run, JsonElement Step)> StartAsync(Visitor visitor)
    {
        var job = await visitor.JobWithLoomAsync(Fed);
        var run = await visitor.StartRunAsync(job, new { meterId = Typed, isolation = "neighbours", carryOver = false, lampWatts = 21 });
        return (job, run, run.GetProperty("steps").EnumerateArray().Single(s => s.GetProperty("kind").GetString() == "load"));
    }

    [Fact]
    public async Task What_the_meter_would_miss_is_told_before_the_run()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(Fed);
        var plan = await visitor.ReadAsync($"/api/jobs/{job}/plan?meterId={Typed}&isolation=neighbours&lampWatts=21");
        plan.GetProperty("loadSteps").GetInt32().ShouldBe(1);
        plan.GetProperty("sight").GetString()!.ShouldStartWith("This meter cannot tell a good joint from a poor one in 2 of 2 pairs");
        plan.GetProperty("weakPairs").EnumerateArray().Select(p => p.GetProperty("underLoad").ValueKind).ShouldBe([JsonValueKind.String, JsonValueKind.Null], ignoreOrder: true);

        var without = await visitor.ReadAsync($"/api/jobs/{job}/plan?meterId={Typed}&isolation=neighbours");
        without.GetProperty("loadSteps").GetInt32().ShouldBe(0);
        without.GetProperty("unproven").EnumerateArray().ShouldContain(u => u.GetString()!.Contains("not under load", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("lampWatts=500", "/lampWatts")]
    [InlineData("lampWatts=0", "/lampWatts")]
    [InlineData("resistorOhms=0.01", "/resistorOhms")]
    [InlineData("resistorOhms=1e9", "/resistorOhms")]
    [InlineData("lampWatts=21&resistorOhms=10", "/resistorOhms")]
    public async Task A_load_that_no_bench_has_is_refused(string load, string at)
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(Fed);
        (await Problems.OfAsync(await visitor.GetAsync($"/api/jobs/{job}/plan?meterId={Typed}&isolation=neighbours&{load}"))).ShouldHaveSingleItem().At.ShouldBe(at);
    }

    [Fact]
    public async Task A_drop_is_judged_kept_as_it_was_shown_and_said_in_the_pack()
    {
        var visitor = await shop.TechnicianAsync();
        var (job, run, step) = await StartAsync(visitor);
        var (id, number) = (run.GetProperty("id").GetInt64(), step.GetProperty("number").GetInt32());
        step.GetProperty("unit").GetString().ShouldBe("volt");
        step.GetProperty("remote").GetBoolean().ShouldBeFalse();
        step.GetProperty("setup").GetString()!.ShouldContain("21 W lamp from B:1");

        var answer = await visitor.TakeAsync(id, Drop(number, 0.0704));
        answer.GetProperty("stored")[0].GetProperty("standing").GetProperty("state").GetString().ShouldBe("pass");
        answer.GetProperty("stored")[0].GetProperty("reading").GetProperty("text").GetString().ShouldBe("70.4 mV");
        var again = (await visitor.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("run").GetProperty("steps")[number - 1];
        again.GetProperty("standing").GetProperty("last").GetProperty("value").GetDouble().ShouldBe(0.0704);
        (await (await visitor.GetAsync($"/api/runs/{id}/readings.csv")).Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain(",0.0704,,,pass,");
        (await visitor.ReadAsync($"/api/runs/{id}/steps/{number}/reason")).GetProperty("sentence").GetString()!.ShouldContain("turn into");
        (await visitor.ReadAsync($"/api/runs/{id}/steps/1/reason")).GetProperty("loadTest").GetString()!.ShouldContain($"step {number} tests the same pair under load");
        (await visitor.ReadAsync($"/api/jobs/{job}/handover")).GetProperty("notProven").EnumerateArray().Select(n => n.GetString()).ShouldContain(n => n!.Contains("but for the tests under load", StringComparison.Ordinal));

        var fails = await visitor.TakeAsync(id, Drop(number, 0.9));
        fails.GetProperty("stored")[0].GetProperty("standing").GetProperty("state").GetString().ShouldBe("fail");
    }

    [Fact]
    public async Task Readings_in_the_wrong_unit_are_refused_each_by_itself()
    {
        var visitor = await shop.TechnicianAsync();
        var (_, run, step) = await StartAsync(visitor);
        var (id, number) = (run.GetProperty("id").GetInt64(), step.GetProperty("number").GetInt32());
        Sent[] readings =
        [
            Drop(number, null, 0.04), Drop(number, 0.05, 0.04), Drop(number, null), Drop(number, 61), Drop(number, 0.05, overRange: true), Drop(1, 0.05), Drop(1, null, 0.04),
        ];
        var answer = await visitor.TakeAsync(id, readings);
        answer.GetProperty("stored").EnumerateArray().Select(s => s.GetProperty("standing").GetProperty("step").GetInt32()).ShouldBe([1]);
        answer.GetProperty("refused").EnumerateArray().Select(r => r.GetProperty("message").GetString()).ShouldBe(
        [
            "This step is read as a drop in volts.", "One value, in the unit of the step.", "This step is read as a drop in volts.",
            "A drop lies between 0 and 60 V.", "Either a value or over range, not both.", "A value in ohms is needed, or over range.",
        ]);
        (await visitor.PostAsync($"/api/runs/{id}/measure", new { step = number })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
    }
}
