using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Unicode;

namespace WiseLoom.Core.Json;

/// <summary>Turns bytes into a JSON document that every later step can trust, or says why not.</summary>
internal static class JsonText
{
    /// <summary>Nesting beyond this is refused; a loom file needs 7.</summary>
    internal const int DeepestNesting = 32;

    private static readonly JsonDocumentOptions Options = new()
    {
        MaxDepth = DeepestNesting,
        AllowDuplicateProperties = false,
        AllowTrailingCommas = false,
        CommentHandling = JsonCommentHandling.Disallow,
    };

    internal static JsonDocument? Parse(ReadOnlyMemory<byte> bytes, List<Problem> problems)
    {
        if (bytes.Span.StartsWith(Encoding.UTF8.Preamble))
        {
            bytes = bytes[Encoding.UTF8.Preamble.Length..];
        }

        if (!Utf8.IsValid(bytes.Span))
        {
            var (row, column) = FirstBadByte(bytes.Span);
            problems.Add(new("", string.Create(CultureInfo.InvariantCulture, $"Row {row}, byte {column}: not UTF-8. Save the file as UTF-8 text.")));
            return null;
        }

        try
        {
            var document = JsonDocument.Parse(bytes, Options);
            if (NeedsAScan(bytes.Span))
            {
                Scan(document.RootElement, "", problems);
            }

            if (problems.Count == 0)
            {
                return document;
            }

            document.Dispose();
            return null;
        }
        catch (JsonException e)
        {
            var row = (e.LineNumber ?? 0) + 1;
            var column = (e.BytePositionInLine ?? 0) + 1;
            problems.Add(new("", string.Create(CultureInfo.InvariantCulture, $"Row {row}, byte {column}: not JSON as it stands. {Reason(e)}")));
            return null;
        }
    }

    private static string Reason(JsonException e)
    {
        var message = e.Message;
        var end = message.IndexOf(" LineNumber:", StringComparison.Ordinal);
        return end > 0 ? message[..end] : message;
    }

    private static (int Row, int Column) FirstBadByte(ReadOnlySpan<byte> bytes)
    {
        int at = 0, row = 1, lineStart = 0;
        while (at < bytes.Length && Rune.DecodeFromUtf8(bytes[at..], out _, out var length) == System.Buffers.OperationStatus.Done)
        {
            if (bytes[at] == '\n')
            {
                row++;
                lineStart = at + 1;
            }

            at += length;
        }

        return (row, at - lineStart + 1);
    }

    /// <summary>Whether any text or number could be one that cannot be kept. Most files have none, and are read in a fraction of the time.</summary>
    private static bool NeedsAScan(ReadOnlySpan<byte> bytes)
    {
        // Half a character and a null can only be written as an escape.
        if (bytes.IndexOf("\\u"u8) >= 0)
        {
            return true;
        }

        var reader = new Utf8JsonReader(bytes, new JsonReaderOptions { MaxDepth = DeepestNesting });
        while (reader.Read())
        {
            if (reader.TokenType == JsonTokenType.Number && (reader.ValueSpan.Length > 15 || reader.ValueSpan.IndexOfAny((byte)'e', (byte)'E') >= 0))
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>Every text and number, known field or not, must be one that can be stored and written back.</summary>
    private static void Scan(JsonElement element, string at, List<Problem> problems)
    {
        switch (element.ValueKind)
        {
            case JsonValueKind.Object:
                foreach (var property in element.EnumerateObject())
                {
                    if (Readable(() => property.Name) is { } name)
                    {
                        Scan(property.Value, $"{at}/{name}", problems);
                    }
                    else
                    {
                        problems.Add(new(at, "A field's name holds half a character (a lone surrogate) or a null character."));
                    }
                }

                break;
            case JsonValueKind.Array:
                var index = 0;
                foreach (var item in element.EnumerateArray())
                {
                    Scan(item, string.Create(CultureInfo.InvariantCulture, $"{at}/{index++}"), problems);
                }

                break;
            case JsonValueKind.String:
                if (Readable(element.GetString) is null)
                {
                    problems.Add(new(at, "This text holds half a character (a lone surrogate) or a null character."));
                }

                break;
            case JsonValueKind.Number:
                var raw = element.GetRawText();
                if (raw.Length > 60 || !double.IsFinite(element.GetDouble()) || (element.GetDouble() == 0 && raw.AsSpan().IndexOfAnyInRange('1', '9') is var digit && digit >= 0 && raw.IndexOfAny(['e', 'E']) is var e && (e < 0 || digit < e)))
                {
                    problems.Add(new(at, $"The number {(raw.Length > 60 ? raw[..60] + "…" : raw)} is too large, too small or too long to be kept."));
                }

                break;
        }
    }

    private static string? Readable(Func<string?> read)
    {
        try
        {
            return read() is { } text && !text.Contains('\0', StringComparison.Ordinal) ? text : null;
        }
        catch (InvalidOperationException)
        {
            return null;
        }
    }
}
