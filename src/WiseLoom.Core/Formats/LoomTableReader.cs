using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Formats;

/// <summary>Reads tables into a loom file, and remembers where each value stood.</summary>
internal sealed class LoomTableReader(List<Problem> problems)
{
    private static readonly JsonDocumentOptions Strict = new() { AllowDuplicateProperties = false, MaxDepth = JsonText.DeepestNesting };

    private readonly Dictionary<string, (TextTable Table, ImmutableArray<int> Rows, Dictionary<string, string> Columns)> places = new(StringComparer.Ordinal);

    /// <summary>Lays tables over a file: each table takes the place of the list it stands for; lists without a table stay.</summary>
    internal JsonObject Over(JsonObject document, IEnumerable<TextTable> tables)
    {
        var result = document.DeepClone().AsObject();
        foreach (var table in tables)
        {
            if (Shape(table) is not { } shape)
            {
                var known = string.Join(", ", LoomColumns.Lists.Select(t => t.Name));
                problems.Add(new(table.Source, $"Neither its name nor its columns are those of a loom's table. Known are {known}; a table of wires has the columns wire, from, to, colour, mm2, length_mm."));
            }
            else if (places.ContainsKey(shape.Field))
            {
                problems.Add(new(table.Source, $"A second table of {shape.Name}; bring one at a time."));
            }
            else if (shape == LoomColumns.Head)
            {
                ReadHead(table, result);
            }
            else
            {
                result[shape.Field] = new JsonArray([.. Items(table, shape)]);
            }
        }

        Nulls(result);
        return result;
    }

    /// <summary>Puts null where an empty cell stands for it.</summary>
    private static void Nulls(JsonObject result)
    {
        if (result[LoomColumns.NullWhenEmpty] is not JsonObject said)
        {
            return;
        }

        result.Remove(LoomColumns.NullWhenEmpty);
        if (said.TryGetPropertyValue("", out var own))
        {
            result[LoomColumns.NullWhenEmpty] = own?.DeepClone();
        }

        foreach (var (list, fields) in said)
        {
            foreach (var item in (result[list] as JsonArray ?? []).OfType<JsonObject>())
            {
                foreach (var field in (fields as JsonArray ?? []).OfType<JsonValue>().Where(f => f.GetValueKind() == JsonValueKind.String).Select(f => f.GetValue<string>()))
                {
                    item.TryAdd(field, null);
                }
            }
        }
    }

    /// <summary>A problem's place said as file, row and column when its value came from a table.</summary>
    internal Problem Placed(Problem problem)
    {
        var parts = problem.At.Split('/');
        if (parts.Length < 2 || !places.TryGetValue(parts[1], out var place))
        {
            return problem;
        }

        var single = place.Table.Name == LoomColumns.Head.Name;
        var row = single ? place.Rows.FirstOrDefault() : parts.Length > 2 && int.TryParse(parts[2], NumberStyles.None, CultureInfo.InvariantCulture, out var index) && index < place.Rows.Length ? place.Rows[index] : 0;
        var field = parts.ElementAtOrDefault(single ? 2 : 3);
        return row == 0
            ? problem with { At = place.Table.Source }
            : problem with { At = place.Table.Place(row, field is null ? null : place.Columns.GetValueOrDefault(field, field)) };
    }

    /// <summary>The table's shape by its name, else by how many of its columns it shares.</summary>
    private static LoomTable? Shape(TextTable table)
    {
        var name = LoomColumns.Plain(table.Name);
        LoomTable[] all = [LoomColumns.Head, .. LoomColumns.Lists];
        if (all.FirstOrDefault(t => t.Name == name) is { } named)
        {
            return named;
        }

        var heads = table.Head.Select(LoomColumns.Plain).ToHashSet(StringComparer.Ordinal);
        var best = LoomColumns.Lists.Select(t => (Shape: t, Shared: t.Columns.Count(c => heads.Contains(c.Name) || c.Also.Any(heads.Contains)))).MaxBy(t => t.Shared);
        return best.Shared >= 3 ? best.Shape : null;
    }

    private void ReadHead(TextTable table, JsonObject result)
    {
        var fileColumn = table.Head.Select(LoomColumns.Plain).ToList().IndexOf("file");
        var own = table with { Rows = [.. table.Rows.Take(1).Select(r => r with { Cells = [.. r.Cells.Select((c, i) => i == fileColumn ? "" : c)] })] };
        var facts = Items(own, LoomColumns.Head);
        if (fileColumn >= 0 && table.Rows is [var first, ..] && FormulaGuard.Restore(first[fileColumn]) is { Length: > 0 } text)
        {
            if (Object(text) is { } rest)
            {
                foreach (var (field, value) in rest)
                {
                    result[field] = value?.DeepClone();
                }
            }
            else
            {
                problems.Add(new(table.Place(first.Number, "file"), "A JSON object is needed here, or nothing."));
            }
        }

        if (facts is [JsonObject { Count: > 0 } loom] || !result.ContainsKey("loom"))
        {
            result["loom"] = facts is [var given] ? given : new JsonObject();
        }
    }

    private List<JsonNode> Items(TextTable table, LoomTable shape)
    {
        var columns = table.Head.Select(h => (Head: h, Column: Column(shape, h))).ToList();
        foreach (var twice in columns.Where(c => c.Column is not null).GroupBy(c => c.Column!.Field).Where(g => g.Count() > 1))
        {
            problems.Add(new(table.Place(table.HeadRow, twice.Last().Head), $"The columns {string.Join(" and ", twice.Select(c => c.Head))} mean the same; keep one."));
        }

        var idColumn = columns.FindIndex(c => c.Column == shape.Columns[0]);
        var items = table.Rows.Select((row, i) => (JsonNode)Item(table, row, columns, shape.Name == "wires" && idColumn < 0 ? string.Create(CultureInfo.InvariantCulture, $"W{i + 1}") : null)).ToList();
        places[shape.Field] = (table, [.. table.Rows.Select(r => r.Number)], columns.Where(c => c.Column is not null).DistinctBy(c => c.Column!.Field).ToDictionary(c => c.Column!.Field, c => c.Head, StringComparer.Ordinal));
        return items;
    }

    private static LoomColumn? Column(LoomTable shape, string head)
    {
        var plain = LoomColumns.Plain(head);
        return shape.Columns.FirstOrDefault(c => c.Name == plain || c.Also.Contains(plain));
    }

    private JsonObject Item(TextTable table, TextRow row, List<(string Head, LoomColumn? Column)> columns, string? numbered)
    {
        var item = new JsonObject();
        if (numbered is not null)
        {
            item["id"] = numbered;
        }

        for (var i = 0; i < Math.Max(columns.Count, row.Cells.Length); i++)
        {
            var cell = FormulaGuard.Restore(row[i]);
            if (cell.Length == 0)
            {
                continue;
            }

            var (head, column) = i < columns.Count ? columns[i] : ("", null);
            if (head.Length == 0)
            {
                problems.Add(new($"{table.Place(row.Number)}, column {i + 1}", "A value stands here, but the first row names no column above it."));
            }
            else if (column is not null)
            {
                // What does not read stays as it was typed, so that the loom's own check names it.
                item[column.Field] = column.Codec.Read(cell) ?? JsonValue.Create(cell);
            }
            else if (LoomColumns.Plain(head) != LoomColumns.More)
            {
                item[head] = JsonValue.Create(cell);
            }
            else if (Object(cell) is { } more)
            {
                foreach (var (field, value) in more)
                {
                    item[field] = value?.DeepClone();
                }
            }
            else
            {
                problems.Add(new(table.Place(row.Number, head), "A JSON object is needed here, or nothing."));
            }
        }

        return item;
    }

    private static JsonObject? Object(string text)
    {
        try
        {
            return JsonNode.Parse(text, documentOptions: Strict) as JsonObject;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
