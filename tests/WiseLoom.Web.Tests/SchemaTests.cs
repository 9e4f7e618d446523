using System.Reflection;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Options;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Json;

namespace WiseLoom.Web.Tests;

/// <summary>The published schemas of what customers and programs read, <c>pack.json</c> and <c>record.json</c>, are those of the types that are written.</summary>
/// <remarks><c>WISELOOM_WRITE_SCHEMAS</c> names the folder into which they are written anew. Samples are left in <c>WISELOOM_SAMPLES</c>, where a validator holds them to the schemas.</remarks>
public sealed partial class SchemaTests(Shop shop)
{
    private static readonly Lazy<Dictionary<string, XElement>> Documented = new(() =>
        XDocument.Load(Path.Combine(AppContext.BaseDirectory, "WiseLoom.Core.xml")).Descendants("member").DistinctBy(m => m.Attribute("name")!.Value).ToDictionary(m => m.Attribute("name")!.Value));

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task The_schema_of_a_pack_is_that_of_what_is_written() => await HoldAsync("pack.schema.json", "A signed pack as JSON: everything that its HTML says.", CoreJson.Options, typeof(PackModel));

    [Fact]
    public async Task The_schema_of_a_record_is_that_of_what_is_written() =>
        await HoldAsync("record.schema.json", "The record of a run as JSON: each step with all its readings, checks of the meter, faults.", shop.Services.GetRequiredService<IOptions<JsonOptions>>().Value.SerializerOptions, typeof(RunSheet));

    [Fact]
    public async Task Samples_are_left_for_the_validator()
    {
        if (Environment.GetEnvironmentVariable("WISELOOM_SAMPLES") is not { } folder)
        {
            return;
        }

        var lead = await shop.LeadAsync();
        await File.WriteAllTextAsync(Path.Combine(folder, "record.json"), await (await lead.GetAsync("/api/runs/1/record.json")).Content.ReadAsStringAsync(Cancel), Cancel);
        await File.WriteAllTextAsync(Path.Combine(folder, "signed-pack.json"), await (await lead.GetAsync("/api/packs/1/json")).Content.ReadAsStringAsync(Cancel), Cancel);
    }

    private static async Task HoldAsync(string file, string title, JsonSerializerOptions options, Type type)
    {
        var made = options.GetJsonSchemaAsNode(type, new() { TransformSchemaNode = Described }).AsObject();
        made.Insert(0, "$schema", "https://json-schema.org/draft/2020-12/schema");
        made.Insert(1, "title", title);
        var text = made.ToJsonString(new(JsonSerializerOptions.Web) { WriteIndented = true, IndentSize = 1, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping });
        if (Environment.GetEnvironmentVariable("WISELOOM_WRITE_SCHEMAS") is { } folder)
        {
            await File.WriteAllTextAsync(Path.Combine(folder, file), text + "\n", Cancel);
            return;
        }

        (await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "formats", file), Cancel)).Trim().ShouldBe(text.Trim(), $"{file} is out of date: run this test once with WISELOOM_WRITE_SCHEMAS=$PWD/docs/formats");
    }

    /// <summary>A node with what the code says of it; a value that a converter writes is text, unless a number may stand there.</summary>
    private static JsonNode Described(JsonSchemaExporterContext context, JsonNode node)
    {
        if (node is JsonValue)
        {
            // Written by a converter of its own: a place, a colour, a language.
            node = new JsonObject { ["description"] = "Text, or a value of its own form." };
        }

        var words = context.PropertyInfo is { } property ? OfProperty(property) : Summary($"T:{context.TypeInfo.Type.FullName}");
        // What is null is left out.
        if (context.TypeInfo.Options.DefaultIgnoreCondition == JsonIgnoreCondition.WhenWritingNull && node is JsonObject whole && whole["required"] is JsonArray required && whole["properties"] is JsonObject properties)
        {
            foreach (var name in required.Select(r => (string)r!).Where(n => MayBeNull(properties[n])).ToList())
            {
                required.RemoveAll(r => (string)r! == name);
            }
        }

        if (words is { Length: > 0 } && node is JsonObject described && !described.ContainsKey("$ref"))
        {
            described.Remove("description");
            described.Insert(0, "description", words);
        }

        return node;
    }

    private static bool MayBeNull(JsonNode? schema) => schema is not JsonObject own || !own.ContainsKey("type") || (own["type"] is JsonArray types && types.Any(t => (string)t! == "null"));

    private static string? OfProperty(JsonPropertyInfo property)
    {
        if (property.AttributeProvider is not MemberInfo member)
        {
            return null;
        }

        var owner = member.DeclaringType!.FullName;
        return Summary($"P:{owner}.{member.Name}") ?? (Documented.Value.GetValueOrDefault($"T:{owner}")?.Elements("param").FirstOrDefault(p => p.Attribute("name")!.Value == member.Name) is { } param ? Plain(param) : null);
    }

    private static string? Summary(string name) => Documented.Value.GetValueOrDefault(name)?.Element("summary") is { } summary ? Plain(summary) : null;

    private static string Plain(XElement text)
    {
        foreach (var see in text.Descendants("see").ToList())
        {
            see.ReplaceWith(see.Value is { Length: > 0 } said ? said : see.Attribute("cref")?.Value.Split('.')[^1] ?? "");
        }

        return Blanks().Replace(text.Value, " ").Trim();
    }

    [GeneratedRegex(@"\s+")]
    private static partial Regex Blanks();
}
