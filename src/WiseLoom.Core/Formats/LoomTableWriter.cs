using System.Collections.Immutable;
using System.IO.Compression;
using System.Text;
using System.Text.Json.Nodes;

namespace WiseLoom.Core.Formats;

/// <summary>Writes a loom file as tables, without loss: reading them gives the same file again.</summary>
public static class LoomTableWriter
{
    /// <summary>Tables of a loom file, its own facts first. A list that the file does not have gives no table.</summary>
    public static ImmutableArray<TextTable> Tables(JsonObject document)
    {
        ArgumentNullException.ThrowIfNull(document);
        var lists = LoomColumns.Lists.Where(t => document[t.Field] is JsonArray list && list.All(i => i is JsonObject)).ToList();
        var rest = new JsonObject(document.Where(f => lists.All(t => t.Field != f.Key) && !(f.Key == "loom" && f.Value is JsonObject)).Select(f => KeyValuePair.Create(f.Key, f.Value?.DeepClone())));
        var nulls = lists.ToDictionary(t => t.Field, t => NullColumns(t, [.. document[t.Field]!.AsArray().Select(i => i!.AsObject())]));
        var said = new JsonObject(nulls.Where(n => n.Value.Count > 0).Select(n => KeyValuePair.Create(n.Key, (JsonNode?)new JsonArray([.. n.Value.Order(StringComparer.Ordinal).Select(f => (JsonNode)JsonValue.Create(f))]))));
        if (rest.Remove(LoomColumns.NullWhenEmpty, out var own))
        {
            // A file with a field of that name keeps it.
            said[""] = own;
        }

        if (said.Count > 0)
        {
            rest[LoomColumns.NullWhenEmpty] = said;
        }

        var head = Table(LoomColumns.Head, document["loom"] is JsonObject facts ? [facts] : [], []);
        head = head with { Head = head.Head.Add("file"), Rows = [.. head.Rows.DefaultIfEmpty(new(2, [.. head.Head.Select(_ => "")])).Select(r => r with { Cells = r.Cells.Add(FormulaGuard.Neutralise(rest.ToJsonString())) })] };
        return [head, .. lists.Select(t => Table(t, document[t.Field]!.AsArray().Select(i => i!.AsObject()), nulls.GetValueOrDefault(t.Field, [])))];
    }

    /// <summary>The tables as one archive of CSV files.</summary>
    public static byte[] CsvSet(IEnumerable<TextTable> tables)
    {
        ArgumentNullException.ThrowIfNull(tables);
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, true))
        {
            foreach (var table in tables)
            {
                using var entry = zip.CreateEntry($"{table.Name}.csv").Open();
                entry.Write(Encoding.UTF8.GetBytes(CsvText.Write(table)));
            }
        }

        return stream.ToArray();
    }

    /// <summary>Fields that are null wherever their cell is empty: said once, instead of in every row.</summary>
    private static HashSet<string> NullColumns(LoomTable shape, List<JsonObject> items) =>
    [
        .. shape.Columns.Where(c => items.Exists(i => i.ContainsKey(c.Field) && i[c.Field] is null)
            && items.TrueForAll(i => i.ContainsKey(c.Field) && (i[c.Field] is null || c.Codec.Write(i[c.Field]) is not null))).Select(c => c.Field),
    ];

    private static TextTable Table(LoomTable shape, IEnumerable<JsonObject> items, HashSet<string> nulls)
    {
        var rows = items.Select((item, i) => new TextRow(i + 2, Cells(shape, item, nulls)));
        return new(shape.Name, shape.Name, 1, [.. shape.Columns.Select(c => c.Name), LoomColumns.More], [.. rows]);
    }

    private static ImmutableArray<string> Cells(LoomTable shape, JsonObject item, HashSet<string> nulls)
    {
        var cells = ImmutableArray.CreateBuilder<string>(shape.Columns.Length + 1);
        var more = new JsonObject(item.Select(f => KeyValuePair.Create(f.Key, f.Value?.DeepClone())));
        foreach (var column in shape.Columns)
        {
            var cell = column.Codec.Write(item[column.Field]);
            if (cell is not null || nulls.Contains(column.Field))
            {
                more.Remove(column.Field);
            }

            cells.Add(cell is null ? "" : column.Codec == CellCodec.Number ? cell : FormulaGuard.Neutralise(cell));
        }

        // A row of nothing would not be read as a row.
        cells.Add(more.Count > 0 || cells.All(c => c.Length == 0) ? more.ToJsonString() : "");
        return cells.MoveToImmutable();
    }
}
