using System.Net.Http.Json;
using System.Text.Json;

namespace WiseLoom.Web.Tests;

/// <summary>The problems named in an answer.</summary>
internal static class Problems
{
    internal static async Task<List<(string At, string Message)>> OfAsync(HttpResponseMessage answer)
    {
        answer.Content.Headers.ContentType!.MediaType.ShouldBe("application/problem+json");
        var body = await answer.Content.ReadFromJsonAsync<JsonElement>(TestContext.Current.CancellationToken);
        return [.. body.GetProperty("problems").EnumerateArray().Select(p => (p.GetProperty("at").GetString()!, p.GetProperty("message").GetString()!))];
    }
}
