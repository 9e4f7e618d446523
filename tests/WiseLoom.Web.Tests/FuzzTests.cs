using System.Globalization;
using System.Net;
using System.Text;
using System.Text.Json.Nodes;

namespace WiseLoom.Web.Tests;

/// <summary>Every endpoint gets bodies and addresses from its own description, bent out of shape: nothing answers that it broke, nor with more than anybody reads.</summary>
public sealed class FuzzTests
{
    private const int MostBytes = 1_000_000;

    private static readonly string[] Odd =
    [
        "null", "\"\\u0000\"", "\"a\\ud800b\"", "1e400", "-1", "0", "1e308", "99999999999999999999", "\"\"", "[]", "{}", "[null]", "[[null]]", "{\"a\":1,\"a\":2}", "true", "\"\\u202e\"", "{\"\":null}",
        "\"00000000-0000-0000-0000-000000000000\"", "\"9999-12-31T23:59:59.9999999Z\"", "\"0001-01-01T00:00:00Z\"", "[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[1]]]]]]]]]]]]]]]]]]]]]]]]]]]]]]]]]]]]", "NaN",
    ];

    private static readonly string[] OddAddresses = ["1", "2", "3", "4", "999999", "-1", "0", "9223372036854775807", "99999999999999999999", "%00", "a%00b", "%ED%A0%80", "..%2f..", "ECU-A:25", "running", "", "x".PadRight(3000, 'x')];

    /// <summary>Files, which may be long, and answers that go on.</summary>
    private static readonly string[] Files = ["/file", "/html", "/pdf", "/json", "/tables", "readings.csv", "/loom", "/events", "/bench", "/draft"];

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <remarks>Long: more than a thousand requests, each answered.</remarks>
    [Fact]
    public async Task Whatever_is_sent_the_answer_is_in_words()
    {
        var count = int.TryParse(Environment.GetEnvironmentVariable("WISELOOM_FUZZ"), NumberStyles.None, CultureInfo.InvariantCulture, out var asked) ? asked : Shop.Effort(600, 20_000);
        // A shop of its own: what is sent changes whatever it can.
        await using var shop = await Shop.OpenAsync();
        var visitor = await shop.LeadAsync();
        var description = JsonNode.Parse(await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "openapi.json"), Cancel))!;
        var operations = description["paths"]!.AsObject()
            .SelectMany(p => p.Value!.AsObject().Where(o => o.Key is "get" or "post" or "put" or "patch" or "delete").Select(o => (Path: p.Key, Method: o.Key.ToUpperInvariant(), Said: o.Value!)))
            .Where(o => o.Path != "/api/session" && !o.Path.EndsWith("/events", StringComparison.Ordinal)).ToArray();
        var wrong = new List<string>();
        for (var n = 0; n < count; n++)
        {
            var random = new Random(n);
            var operation = operations[n % operations.Length];
            var address = Address(operation.Path, operation.Said, random);
            var schema = operation.Said["requestBody"]?["content"]?["application/json"]?["schema"];
            var body = operation.Method == "GET" ? null : Bent(schema is null ? "{}" : Valid(schema, description, random, 0)?.ToJsonString() ?? "null", random);
            using var content = body is null ? null : new StringContent(body, Encoding.UTF8, "application/json");
            using var answer = await visitor.SendAsync(new(operation.Method), address, content, random.Next(4) == 0 ? null : $"\"{random.Next(4)}\"");
            var length = (await answer.Content.ReadAsByteArrayAsync(Cancel)).Length;
            if ((int)answer.StatusCode >= 500 && answer.StatusCode != HttpStatusCode.ServiceUnavailable)
            {
                wrong.Add($"seed {n}: {operation.Method} {address[..Math.Min(160, address.Length)]} {body?[..Math.Min(300, body.Length)]} answered {(int)answer.StatusCode}");
            }
            else if (length > MostBytes && !Files.Any(f => operation.Path.Contains(f, StringComparison.Ordinal)))
            {
                wrong.Add($"seed {n}: {operation.Method} {operation.Path} answered {length} bytes");
            }
        }

        wrong.Take(12).ShouldBeEmpty();
    }

    private static string Address(string path, JsonNode said, Random random)
    {
        var address = path;
        var query = new List<string>();
        foreach (var parameter in said["parameters"]?.AsArray() ?? [])
        {
            var (name, where) = (parameter!["name"]!.GetValue<string>(), parameter["in"]!.GetValue<string>());
            var value = random.Next(3) == 0 ? OddAddresses[random.Next(OddAddresses.Length)] : random.Next(1, 6).ToString(CultureInfo.InvariantCulture);
            if (where == "path")
            {
                // A null in the path is refused by the web server itself, before any of this.
                address = address.Replace($"{{{name}}}", value.Length == 0 || value.Contains("%00", StringComparison.Ordinal) ? "0" : value, StringComparison.Ordinal);
            }
            else if (where == "query" && random.Next(5) != 0)
            {
                query.Add($"{name}={value}");
            }
        }

        return query.Count > 0 ? $"{address}?{string.Join('&', query)}" : address;
    }

    /// <summary>A value that the description allows.</summary>
    private static JsonNode? Valid(JsonNode schema, JsonNode description, Random random, int depth)
    {
        if (schema["$ref"]?.GetValue<string>() is { } reference)
        {
            return depth > 12 ? null : Valid(description["components"]!["schemas"]![reference.Split('/')[^1]]!, description, random, depth + 1);
        }

        if ((schema["oneOf"] ?? schema["anyOf"])?.AsArray() is { Count: > 0 } choices)
        {
            return Valid(choices[random.Next(choices.Count)]!, description, random, depth + 1);
        }

        if (schema["enum"]?.AsArray() is { Count: > 0 } words)
        {
            return words[random.Next(words.Count)]?.DeepClone();
        }

        var type = schema["type"] is JsonArray several ? several[random.Next(several.Count)]!.GetValue<string>() : schema["type"]?.GetValue<string>();
        return type switch
        {
            "object" when depth < 12 => new JsonObject((schema["properties"]?.AsObject() ?? []).Select(p => KeyValuePair.Create(p.Key, Valid(p.Value!, description, random, depth + 1)))),
            "array" when depth < 12 => new JsonArray([.. Enumerable.Range(0, random.Next(3)).Select(_ => Valid(schema["items"]!, description, random, depth + 1))]),
            "integer" => random.Next(-1, 6),
            "number" => random.Next(4) == 0 ? random.NextDouble() * 1e9 : random.NextDouble(),
            "boolean" => random.Next(2) == 0,
            "string" => schema["format"]?.GetValue<string>() switch
            {
                "uuid" => new Guid(random.Next(), 4, 0x7000, [0x80, 1, 2, 3, 4, 5, 6, 7]).ToString(),
                "date-time" => "2031-03-04T08:00:00Z",
                "date" => "2031-03-04",
                _ => random.Next(5) switch { 0 => "A:1", 1 => "W1", 2 => "", 3 => new string('x', 500), _ => "Fan relay" },
            },
            _ => null,
        };
    }

    /// <summary>The same with one of its values replaced, its end cut off, or as it was.</summary>
    private static string Bent(string json, Random random)
    {
        var kind = random.Next(10);
        if (kind == 0)
        {
            return json[..random.Next(json.Length + 1)];
        }

        if (kind < 3)
        {
            return json;
        }

        // Places at which a value begins.
        var places = Enumerable.Range(0, json.Length).Where(i => i == 0 || json[i - 1] is ':' or '[' or ',').Where(i => json[i] is not (']' or '}')).ToList();
        var at = places[random.Next(places.Count)];
        var end = at;
        for (var (depth, quoted) = (0, false); end < json.Length; end++)
        {
            quoted ^= json[end] == '"' && (end == 0 || json[end - 1] != '\\');
            depth += quoted ? 0 : json[end] is '[' or '{' ? 1 : json[end] is ']' or '}' ? -1 : 0;
            if (depth < 0 || (depth == 0 && !quoted && json[end] == ','))
            {
                break;
            }
        }

        return string.Concat(json.AsSpan(0, at), Odd[random.Next(Odd.Length)], json.AsSpan(end));
    }
}
