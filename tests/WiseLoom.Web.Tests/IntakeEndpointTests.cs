using System.Net;
using System.Text;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

/// <summary>A stranger's table over HTTP: looked at without storing, with what a person says of its columns, and taken.</summary>
public sealed class IntakeEndpointTests(Shop shop)
{
    private static readonly byte[] Wires = "Wire No,From Connector,From Pin,To Connector,To Pin,Color,AWG,Length (cm)\n1,ECU,17,INJ1,1,BU/WH,20,145\n2,ECU,18,INJ2,1,RD,20,160\n"u8.ToArray();

    private static async Task<long> JobAsync(Visitor visitor) =>
        (await visitor.PostForAsync("/api/jobs", new { customer = "x", machine = "Pump cart", promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null })).GetProperty("id").GetInt64();

    private static async Task<JsonElement> LookAsync(Visitor visitor, long job, byte[] file, string more = "") =>
        await Visitor.BodyAsync(await visitor.SendFileAsync($"/api/jobs/{job}/import?name=wires%20of%20the%20cart.csv{more}", file), "import");

    private static string Mapped(string json) => $"&mapping={Uri.EscapeDataString(json)}";

    [Fact]
    public async Task A_strangers_list_is_understood_mapped_and_taken_and_nothing_is_stored_by_looking()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await JobAsync(visitor);
        var intake = (await LookAsync(visitor, job, Wires)).GetProperty("intake");
        intake.GetProperty("wires").GetInt32().ShouldBe(2);
        intake.GetProperty("tables")[0].GetProperty("columns")[7].GetProperty("unit").GetString().ShouldBe("cm");
        intake.GetProperty("problems").GetArrayLength().ShouldBe(0);

        var mapped = await LookAsync(visitor, job, Wires, Mapped("""{"columns":{"Length (cm)":{"meaning":"length","unit":"in"},"AWG":{"meaning":"ignore"}}}"""));
        mapped.GetProperty("document").GetProperty("wires")[0].GetProperty("lengthMm").GetDouble().ShouldBe(3683);
        mapped.GetProperty("intake").GetProperty("estimated").GetInt32().ShouldBe(2);
        (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("stage").GetString().ShouldBe("no-loom");

        (await visitor.ImportAsync(job, Encoding.UTF8.GetBytes(mapped.GetProperty("document").GetRawText()))).StatusCode.ShouldBe(HttpStatusCode.Created);
        var revision = (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("revisionId").GetInt64();
        (await visitor.ReadAsync($"/api/revisions/{revision}/loom")).GetProperty("wires")[0].GetProperty("section").GetString()!.ShouldEndWith("estimated");
    }

    [Theory]
    [InlineData("[]")]
    [InlineData("{}")]
    [InlineData("nothing")]
    [InlineData("""{"columns":{"AWG":{"meaning":"everything"}}}""")]
    [InlineData("""{"columns":{"AWG":null}}""")]
    [InlineData("""{"columns":{"AWG":{"meaning":99}}}""")]
    public async Task A_mapping_that_is_none_is_refused_in_words(string mapping)
    {
        var visitor = await shop.TechnicianAsync();
        var answer = await visitor.SendFileAsync($"/api/jobs/{await JobAsync(visitor)}/import?name=a.csv{Mapped(mapping)}", Wires);
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Problems.OfAsync(answer)).ShouldNotBeEmpty();
    }

    [Fact]
    public async Task A_chart_of_one_connector_is_asked_for_its_name()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await JobAsync(visitor);
        var pins = "Pin,Colour,Goes to\n1,RD,BOX:7\n2,BK,RING1:1\n"u8.ToArray();
        var asked = (await LookAsync(visitor, job, pins)).GetProperty("intake");
        (asked.GetProperty("asks").GetBoolean(), asked.GetProperty("wires").GetInt32()).ShouldBe((true, 0));
        var named = (await LookAsync(visitor, job, pins, "&connector=ECU")).GetProperty("intake");
        (named.GetProperty("asks").GetBoolean(), named.GetProperty("wires").GetInt32()).ShouldBe((false, 2));
    }

    /// <summary>Tables of our own shape with a slip in them are told so, and not read as something else.</summary>
    [Fact]
    public async Task Our_own_tables_stay_our_own()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var own = await LookAsync(visitor, job, "wire,from,to,colour,mm2,length_mm\nW1,A:1,Q:1,RD,0.5,1000\n"u8.ToArray());
        own.GetProperty("intake").ValueKind.ShouldBe(JsonValueKind.Null);
        own.GetProperty("problems")[0].GetProperty("message").GetString()!.ShouldContain("'Q'");
    }
}
