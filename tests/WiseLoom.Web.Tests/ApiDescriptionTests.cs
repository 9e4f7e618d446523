using System.Text.Json;

namespace WiseLoom.Web.Tests;

/// <summary>The pages' typed client is generated from a description that is kept with them; it must be the one this build serves.</summary>
public sealed class ApiDescriptionTests(Shop shop)
{
    private static readonly JsonSerializerOptions Pretty = new() { WriteIndented = true, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    [Fact]
    public async Task The_description_the_pages_are_built_from_is_the_one_that_is_served()
    {
        var served = await (await shop.TechnicianAsync()).ReadAsync("/openapi/v1.json");
        var fresh = JsonSerializer.Serialize(served, Pretty);
        if (Environment.GetEnvironmentVariable("WISELOOM_WRITE_OPENAPI") is { Length: > 0 } path)
        {
            await File.WriteAllTextAsync(path, fresh + "\n", TestContext.Current.CancellationToken);
        }
        else
        {
            var kept = await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "openapi.json"), TestContext.Current.CancellationToken);
            string.Equals(kept.Trim(), fresh, StringComparison.Ordinal).ShouldBeTrue("web/src/api/openapi.json is out of date: see docs/architecture.md, “Changing the API”.");
        }
    }
}
