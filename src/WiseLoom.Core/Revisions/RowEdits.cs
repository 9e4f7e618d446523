using System.Buffers;
using System.Text.Json;

namespace WiseLoom.Core.Revisions;

/// <summary>A row of a list that says something else now.</summary>
/// <param name="List">The list's field in the loom file: <c>wires</c>.</param>
/// <param name="Index">Which entry, from 0.</param>
/// <param name="Row">What stands there now.</param>
public sealed record RowEdit(string List, int Index, JsonElement Row);

/// <summary>Puts changed rows into a loom file without taking the rest apart: a key's worth of change in a file of thousands of wires.</summary>
public static class RowEdits
{
    /// <summary>The file with the rows in their places; every other byte stays as it was.</summary>
    /// <param name="file">A JSON object, UTF-8, that has been read before.</param>
    /// <returns>Null when a row's place is not in the file, or is named twice.</returns>
    public static byte[]? Apply(ReadOnlySpan<byte> file, IReadOnlyCollection<RowEdit> edits)
    {
        ArgumentNullException.ThrowIfNull(edits);
        var wanted = new Dictionary<(string, int), JsonElement>();
        if (edits.Any(e => !wanted.TryAdd((e.List, e.Index), e.Row)))
        {
            return null;
        }

        var result = new ArrayBufferWriter<byte>(file.Length + 4096);
        var (kept, found) = (0, 0);
        var reader = new Utf8JsonReader(file);
        reader.Read();
        while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
        {
            var list = reader.GetString()!;
            reader.Read();
            if (reader.TokenType != JsonTokenType.StartArray || !wanted.Keys.Any(k => k.Item1 == list))
            {
                reader.Skip();
                continue;
            }

            for (var index = 0; reader.Read() && reader.TokenType != JsonTokenType.EndArray; index++)
            {
                var start = (int)reader.TokenStartIndex;
                reader.Skip();
                if (wanted.TryGetValue((list, index), out var row))
                {
                    result.Write(file[kept..start]);
                    result.Write(System.Text.Encoding.UTF8.GetBytes(row.GetRawText()));
                    kept = (int)reader.BytesConsumed;
                    found++;
                }
            }
        }

        result.Write(file[kept..]);
        return found == wanted.Count ? result.WrittenSpan.ToArray() : null;
    }
}
