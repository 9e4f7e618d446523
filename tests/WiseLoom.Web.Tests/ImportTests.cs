using System.Net;
using System.Text;
using System.Text.Json.Nodes;
using Npgsql;

namespace WiseLoom.Web.Tests;

public sealed class ImportTests(Shop shop)
{
    internal static byte[] Small => Encoding.UTF8.GetBytes("""
        { "format": "wise-loom/loom", "version": 1, "loom": { "name": "Small", "revision": "A", "owner": "kept as it is" },
          "families": [ { "id": "three", "rows": [["1","2","3"]] } ],
          "connectors": [ { "ref": "A", "family": "three" }, { "ref": "B", "family": "three" } ],
          "wires": [ { "id": "W1", "from": "A:1", "to": "B:1", "mm2": 0.5, "lengthMm": 1000 },
                     { "id": "W2", "from": "A:2", "to": "B:2", "mm2": 0.5, "lengthMm": 1000 } ] }
        """);

    [Fact]
    public async Task A_loom_file_is_taken_whole_and_comes_back_with_the_fields_nobody_knows()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(Small);
        var revision = (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("revisionId").GetInt64();

        var back = JsonNode.Parse((await visitor.ReadAsync($"/api/revisions/{revision}/file")).GetRawText());
        JsonNode.DeepEquals(back, JsonNode.Parse(Small)).ShouldBeTrue();
        (await visitor.ReadAsync($"/api/revisions/{revision}/loom")).GetProperty("wires").GetArrayLength().ShouldBe(2);
    }

    public static TheoryData<string, byte[]> Bad => new()
    {
        { "malformed", "{ \"format\": "u8.ToArray() },
        { "wrong type", Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(Small).Replace("0.5", "\"thick\"", StringComparison.Ordinal)) },
        { "unknown reference", Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(Small).Replace("B:2", "Q:2", StringComparison.Ordinal)) },
        { "duplicate ref", Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(Small).Replace("\"ref\": \"B\"", "\"ref\": \"A\"", StringComparison.Ordinal)) },
        { "not UTF-8", [.. "{\"x\":\""u8, 0xC3, 0x28, .. "\"}"u8] },
        { "deep nesting", Encoding.UTF8.GetBytes(string.Concat(Enumerable.Repeat("{\"a\":", 10_000))) },
        { "null character", Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(Small).Replace("kept as it is", "a\\u0000b", StringComparison.Ordinal)) },
        { "number no store can hold", Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(Small).Replace("\"kept as it is\"", "1e-40000", StringComparison.Ordinal)) },
        { "empty", [] },
    };

    [Theory]
    [MemberData(nameof(Bad))]
    public async Task A_bad_file_is_refused_with_its_problems_and_nothing_is_stored(string what, byte[] file)
    {
        var visitor = await shop.TechnicianAsync();
        var job = (await visitor.PostForAsync("/api/jobs", new { customer = "x", machine = what, promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null })).GetProperty("id").GetInt64();
        var answer = await visitor.ImportAsync(job, file);

        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity, what);
        (await Problems.OfAsync(answer)).ShouldNotBeEmpty();
        (await visitor.ReadAsync($"/api/jobs/{job}")).GetProperty("stage").GetString().ShouldBe("no-loom");
    }

    [Fact]
    public async Task Fifty_megabytes_are_too_large_and_the_server_says_so()
    {
        var visitor = await shop.TechnicianAsync();
        var answer = await visitor.ImportAsync(4, new byte[50 * 1024 * 1024]);

        answer.StatusCode.ShouldBe(HttpStatusCode.RequestEntityTooLarge);
        (await Problems.OfAsync(answer)).ShouldHaveSingleItem().Message.ShouldContain("8 MB");
    }

    [Fact]
    public async Task A_revision_can_be_neither_changed_nor_deleted_not_even_in_the_database()
    {
        await using var connection = new NpgsqlConnection(shop.Database);
        await connection.OpenAsync(TestContext.Current.CancellationToken);
        foreach (var sql in new[]
        {
            "update loom_revisions set name = 'x'", "delete from loom_revisions", "update run_events set body = '{}'", "delete from run_events",
            "delete from packs", "update packs set html = ''",
        })
        {
            await using var command = new NpgsqlCommand(sql, connection);
            (await Should.ThrowAsync<PostgresException>(() => command.ExecuteNonQueryAsync(TestContext.Current.CancellationToken))).MessageText.ShouldContain("append-only");
        }
    }
}
