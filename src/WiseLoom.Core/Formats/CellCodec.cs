using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace WiseLoom.Core.Formats;

/// <summary>How a JSON value is written in a cell and read from it.</summary>
/// <remarks>Writing is checked by reading back: what a codec cannot carry without loss goes into the row's column <c>more</c>.</remarks>
internal abstract partial class CellCodec
{
    internal static CellCodec Text { get; } = new TextCodec();

    internal static CellCodec Number { get; } = new NumberCodec();

    internal static CellCodec Flag { get; } = new FlagCodec();

    internal static CellCodec Names { get; } = new NamesCodec();

    internal static CellCodec Range { get; } = new RangeCodec();

    internal static CellCodec Face { get; } = new FaceCodec();

    internal static CellCodec Pins { get; } = new PinsCodec();

    /// <summary>What the cell should hold, in words, for a person whose cell does not read.</summary>
    internal abstract string Wanted { get; }

    /// <summary>The value of a cell; null when the text is not of this kind. Blanks around it say something in a text only.</summary>
    internal JsonNode? Read(string cell) => Parse(this == Text ? cell : cell.Trim());

    /// <summary>The value of a cell without blanks around it.</summary>
    protected abstract JsonNode? Parse(string cell);

    /// <summary>The text of a value; null when it is not of this kind.</summary>
    protected abstract string? Say(JsonNode value);

    /// <summary>The cell that reads back as exactly this value; null when there is none.</summary>
    internal string? Write(JsonNode? value) =>
        value is not null && Say(value) is { Length: > 0 } text && !text.Any(c => (char.IsControl(c) && c != '\n') || c is '\uFFFE' or '\uFFFF') && JsonNode.DeepEquals(Read(text), value) ? text : null;

    private static JsonNode? NumberOf(string cell) =>
        JsonNumber().IsMatch(cell) && double.IsFinite(double.Parse(cell, CultureInfo.InvariantCulture)) ? JsonNode.Parse(cell) : null;

    /// <summary>A number; a decimal comma is taken as a point when nothing else can be meant.</summary>
    private static JsonNode? WithComma(string cell) =>
        NumberOf(cell) ?? (cell.Count(c => c == ',') == 1 && !cell.Contains('.', StringComparison.Ordinal) ? NumberOf(cell.Replace(',', '.')) : null);

    [GeneratedRegex(@"^-?(0|[1-9][0-9]*)(\.[0-9]+)?([eE][+-]?[0-9]+)?$")]
    private static partial Regex JsonNumber();

    private sealed class TextCodec : CellCodec
    {
        internal override string Wanted => "a text";

        protected override JsonNode? Parse(string cell) => JsonValue.Create(cell);

        protected override string? Say(JsonNode value) => value.GetValueKind() == JsonValueKind.String ? value.GetValue<string>() : null;
    }

    private sealed class NumberCodec : CellCodec
    {
        internal override string Wanted => "a number, such as 1450 or 0.5";

        protected override JsonNode? Parse(string cell) => WithComma(cell);

        protected override string? Say(JsonNode value) => value.GetValueKind() == JsonValueKind.Number ? value.ToJsonString() : null;
    }

    private sealed class FlagCodec : CellCodec
    {
        internal override string Wanted => "yes or no";

        protected override JsonNode? Parse(string cell) => cell.ToLowerInvariant() switch
        {
            "yes" or "true" or "y" => JsonValue.Create(true),
            "no" or "false" or "n" => JsonValue.Create(false),
            _ => null,
        };

        protected override string? Say(JsonNode value) => value.GetValueKind() switch { JsonValueKind.True => "yes", JsonValueKind.False => "no", _ => null };
    }

    private sealed class NamesCodec : CellCodec
    {
        internal override string Wanted => "names with blanks between them";

        protected override JsonNode? Parse(string cell) => new JsonArray([.. Parts(cell).Select(p => (JsonNode)JsonValue.Create(p))]);

        protected override string? Say(JsonNode value) => Texts(value) is { } names ? string.Join(' ', names) : null;
    }

    private sealed class RangeCodec : CellCodec
    {
        private static readonly string[] Corners = ["min", "nominal", "max"];

        internal override string Wanted => "one number, or least, usual and greatest with blanks between them";

        protected override JsonNode? Parse(string cell)
        {
            var numbers = Parts(cell).Select(WithComma).ToList();
            return numbers switch
            {
                [{ } only] => only,
                [{ } min, { } nominal, { } max] => new JsonObject { ["min"] = min, ["nominal"] = nominal, ["max"] = max },
                _ => null,
            };
        }

        protected override string? Say(JsonNode value) => value is JsonObject o
            ? string.Join(' ', Corners.Select(f => o[f]?.ToJsonString()))
            : value.ToJsonString();
    }

    private sealed class FaceCodec : CellCodec
    {
        internal override string Wanted => "rows with / between them, cavities with blanks between them, _ for a gap: 1 2 3 / 4 _ 5";

        protected override JsonNode? Parse(string cell) => new JsonArray([.. cell.Split(" / ").Select(row =>
            (JsonNode)new JsonArray([.. Parts(row).Select(c => c == "_" ? null : (JsonNode)JsonValue.Create(c))]))]);

        protected override string? Say(JsonNode value) => value is JsonArray rows && rows.All(r => r is JsonArray { Count: > 0 } row && row.All(c => c is null || c.GetValueKind() == JsonValueKind.String))
            ? string.Join(" / ", rows.Select(r => string.Join(' ', r!.AsArray().Select(c => c?.GetValue<string>() ?? "_"))))
            : null;
    }

    private sealed class PinsCodec : CellCodec
    {
        internal override string Wanted => "pins with their cavities: 1=INJ1:1 2=INJ1:2";

        protected override JsonNode? Parse(string cell)
        {
            var pins = new JsonObject();
            foreach (var part in Parts(cell))
            {
                var equals = part.IndexOf('=', StringComparison.Ordinal);
                if (equals <= 0 || !pins.TryAdd(part[..equals], JsonValue.Create(part[(equals + 1)..])))
                {
                    return null;
                }
            }

            return pins;
        }

        protected override string? Say(JsonNode value) => value is JsonObject pins && pins.All(p => p.Value?.GetValueKind() == JsonValueKind.String)
            ? string.Join(' ', pins.Select(p => $"{p.Key}={p.Value!.GetValue<string>()}"))
            : null;
    }

    private static string[] Parts(string cell) => cell.Split(' ', StringSplitOptions.RemoveEmptyEntries);

    private static ImmutableArray<string>? Texts(JsonNode value) =>
        value is JsonArray list && list.All(i => i?.GetValueKind() == JsonValueKind.String) ? [.. list.Select(i => i!.GetValue<string>())] : null;
}
