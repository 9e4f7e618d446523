using System.Net.Http.Json;
using System.Text.Json;

namespace WiseLoom.Bench;

/// <summary>Somebody at a bench with a session of their own.</summary>
internal sealed class BenchPerson(HttpClient client)
{
    private string token = "";
    private Guid id;

    internal static async Task<BenchPerson> AtAsync(Uri address)
    {
        var person = new BenchPerson(new HttpClient(new SocketsHttpHandler { CookieContainer = new() }) { BaseAddress = address });
        await person.LookAsync();
        (await person.SendAsync("/api/session", new { signIn = "mira", password = "copper-and-crimp" })).EnsureSuccessStatusCode();
        await person.LookAsync();
        return person;
    }

    internal async Task TakeAsync(long run, int step, int n)
    {
        var reading = new { key = Guid.CreateVersion7(), step, ohms = 0.04 + (n % 10 * 0.001), overRange = false, fromMeter = true, takenAt = DateTimeOffset.UtcNow, seen = 0 };
        var answer = await PostAsync($"/api/runs/{run}/readings", new { takenBy = id, readings = new[] { reading } });
        if (answer.GetProperty("stored").GetArrayLength() != 1)
        {
            throw new InvalidOperationException($"A reading was not stored: {answer}");
        }
    }

    internal async Task<JsonElement> PostAsync(string path, object body)
    {
        using var answer = await SendAsync(path, body);
        answer.EnsureSuccessStatusCode();
        return await answer.Content.ReadFromJsonAsync<JsonElement>();
    }

    internal Task<JsonElement> ReadAsync(string path) => client.GetFromJsonAsync<JsonElement>(new Uri(path, UriKind.Relative));

    private async Task<HttpResponseMessage> SendAsync(string path, object body)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, path) { Content = JsonContent.Create(body) };
        request.Headers.Add("X-Wise-Loom-Token", token);
        return await client.SendAsync(request);
    }

    private async Task LookAsync()
    {
        var session = await ReadAsync("/api/session");
        token = session.GetProperty("token").GetString()!;
        id = session.GetProperty("person") is { ValueKind: JsonValueKind.Object } person ? person.GetProperty("id").GetGuid() : Guid.Empty;
    }
}
