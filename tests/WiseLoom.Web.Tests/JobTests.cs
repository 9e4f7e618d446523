using System.Net;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

public sealed class JobTests(Shop shop)
{
    private static object Fields(string customer = "Skerry Harbour Works", string machine = "Launch Tern", string? promised = "2027-03-01", string? waitingFor = null, string? assignedId = null) =>
        new { customer, machine, promised, assignedId, waitingFor };

    [Fact]
    public async Task The_demo_shop_has_a_job_in_each_state()
    {
        var jobs = (await (await shop.TechnicianAsync()).ReadAsync("/api/jobs?before=5")).GetProperty("jobs").EnumerateArray()
            .ToDictionary(j => j.GetProperty("id").GetInt64());

        jobs[4].GetProperty("stage").GetString().ShouldBe("waiting-for-bench");
        jobs[3].GetProperty("stage").GetString().ShouldBe("on-bench");
        jobs[3].GetProperty("heldBy").GetString().ShouldBe("1 fault not proven");
        jobs[2].GetProperty("heldBy").GetString().ShouldBe("Waits for the customer’s controller");
        jobs[1].GetProperty("stage").GetString().ShouldBe("released");
    }

    [Fact]
    public async Task A_job_is_made_read_and_changed()
    {
        var visitor = await shop.LeadAsync();
        var job = await visitor.PostForAsync("/api/jobs", Fields());
        var path = $"/api/jobs/{job.GetProperty("id").GetInt64()}";
        job.GetProperty("stage").GetString().ShouldBe("no-loom");

        var read = await visitor.GetAsync(path);
        read.Headers.ETag!.Tag.ShouldBe("\"1\"");
        var changed = await visitor.PutAsync(path, Fields(waitingFor: "a housing"), "\"1\"");
        changed.StatusCode.ShouldBe(HttpStatusCode.OK);
        changed.Headers.ETag!.Tag.ShouldBe("\"2\"");
        (await visitor.ReadAsync(path)).GetProperty("heldBy").GetString().ShouldBe("Waits for a housing");
    }

    [Fact]
    public async Task The_second_of_two_changes_is_told_what_the_first_did_and_changes_nothing()
    {
        var visitor = await shop.LeadAsync();
        var path = $"/api/jobs/{(await visitor.PostForAsync("/api/jobs", Fields())).GetProperty("id").GetInt64()}";
        (await visitor.PutAsync(path, Fields(machine: "first"), "\"1\"")).StatusCode.ShouldBe(HttpStatusCode.OK);
        var second = await visitor.PutAsync(path, Fields(machine: "second"), "\"1\"");

        second.StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed);
        JsonSerializer.Deserialize<JsonElement>(await second.Content.ReadAsStringAsync(TestContext.Current.CancellationToken))
            .GetProperty("now").GetProperty("machine").GetString().ShouldBe("first");
        (await visitor.ReadAsync(path)).GetProperty("machine").GetString().ShouldBe("first");
        (await visitor.PutAsync(path, Fields())).StatusCode.ShouldBe(HttpStatusCode.PreconditionRequired);
    }

    [Theory]
    [InlineData("", "x", "/customer")]
    [InlineData("   ", "x", "/customer")]
    [InlineData("x", "", "/machine")]
    [InlineData("x", "a\u0007b", "/machine")]
    public async Task What_cannot_be_a_job_is_named_at_its_field(string customer, string machine, string at)
    {
        var answer = await (await shop.LeadAsync()).PostAsync("/api/jobs", Fields(customer, machine));

        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Problems.OfAsync(answer)).ShouldContain(p => p.At == at);
    }

    [Theory]
    [InlineData("{\"customer\":5,\"machine\":\"x\"}")]
    [InlineData("{\"customer\":null,\"machine\":\"x\"}")]
    [InlineData("{")]
    [InlineData("[]")]
    [InlineData("")]
    public async Task A_body_of_the_wrong_shape_is_a_bad_request(string body)
    {
        var visitor = await shop.LeadAsync();
        using var content = new StringContent(body, System.Text.Encoding.UTF8, "application/json");
        var answer = await visitor.SendAsync(HttpMethod.Post, "/api/jobs", content);

        answer.StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        answer.Content.Headers.ContentType!.MediaType.ShouldBe("application/problem+json");
    }

    [Fact]
    public async Task Nobody_outside_the_shop_can_be_given_a_job()
    {
        var answer = await (await shop.LeadAsync()).PostAsync("/api/jobs", Fields(assignedId: Guid.NewGuid().ToString()));

        (await Problems.OfAsync(answer)).ShouldHaveSingleItem().At.ShouldBe("/assignedId");
    }

    [Fact]
    public async Task Jobs_come_in_pages_newest_first()
    {
        var visitor = await shop.LeadAsync();
        var newest = (await visitor.PostForAsync("/api/jobs", Fields())).GetProperty("id").GetInt64();
        var older = (await visitor.ReadAsync($"/api/jobs?before={newest}")).GetProperty("jobs").EnumerateArray().Select(j => j.GetProperty("id").GetInt64()).ToList();

        older.ShouldAllBe(id => id < newest);
        older.ShouldBe(older.OrderDescending());
        (await visitor.GetAsync("/api/jobs/999999")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }
}
