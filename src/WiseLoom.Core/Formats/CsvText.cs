using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using CsvHelper;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Formats;

/// <summary>Reads and writes comma-separated text (RFC 4180), and reads what spreadsheets make of it: semicolons, tabs, other encodings.</summary>
public static class CsvText
{
    private static readonly UTF8Encoding Strict = new(false, true);

    private static readonly char[] Separators = [',', ';', '\t'];

    /// <summary>Reads a file or pasted rows.</summary>
    /// <param name="bytes">UTF-8 with or without a mark, UTF-16 with one, else taken as Latin-1 (Windows-1252 signs are not used by looms).</param>
    /// <param name="source">How problems name it.</param>
    /// <returns>The table; null when there is a problem, which is then listed with its row and column.</returns>
    public static TextTable? Read(ReadOnlySpan<byte> bytes, string name, string source, List<Problem> problems) => Read(Decode(bytes), name, source, problems);

    /// <inheritdoc cref="Read(ReadOnlySpan{byte}, string, string, List{Problem})"/>
    public static TextTable? Read(string text, string name, string source, List<Problem> problems)
    {
        var before = problems.Count;
        var (lines, budget) = (new List<TextRow>(), new SheetBudget());
        var options = CsvReaderOptions.Default with
        {
            HasHeader = false,
            TrackLineNumbers = true,
            OnMalformedRecord = bad => problems.Add(new($"{source} row {bad.LineNumber}, column {ColumnOfStrayQuote(bad.RawRecord)}", bad.Reason switch
            {
                CsvMalformedReason.UnterminatedQuote => "A quotation mark opens this cell and none closes it.",
                _ => "A quotation mark stands inside this cell. Put the whole cell in quotation marks and double the one inside: \"5\"\" pipe\".",
            })),
        };
        using var reader = CsvReader.Create(new StringReader(text), options);
        while (reader.Read())
        {
            if (lines.Count > TextTable.MostRows)
            {
                problems.Add(new($"{source} row {reader.LineNumber}", string.Create(CultureInfo.InvariantCulture, $"At most {TextTable.MostRows} rows are read.")));
                return null;
            }

            if (reader.FieldCount > TextTable.MostColumns)
            {
                problems.Add(new($"{source} row {reader.LineNumber}, column {TextTable.MostColumns + 1}", $"At most {TextTable.MostColumns} columns are read."));
                return null;
            }

            for (var i = 0; i < reader.FieldCount; i++)
            {
                if (budget.TakeCell() is { } tooMuch)
                {
                    problems.Add(new($"{source} row {reader.LineNumber}", tooMuch));
                    return null;
                }
            }

            lines.Add(new((int)reader.LineNumber, [.. Enumerable.Range(0, reader.FieldCount).Select(reader.GetString)]));
        }

        if (problems.Count > before)
        {
            return null;
        }

        var filled = lines.Where(l => l.Cells.Any(c => c.Length > 0)).ToList();
        if (filled.Count == 0)
        {
            problems.Add(new(source, "Nothing stands in it; the first row names the columns."));
            return null;
        }

        return new(name, source, filled[0].Number, filled[0].Cells, [.. filled.Skip(1)]);
    }

    /// <summary>Writes a table: commas, quotation marks where needed, Windows line ends as RFC 4180 says, formulas neutralised.</summary>
    public static string Write(TextTable table)
    {
        using var stream = new MemoryStream();
        using (var csv = CsvWriter.Create(stream, CsvWriterOptions.Default with { Quoting = CsvQuoting.WhenNeededOrWhitespace }, leaveOpen: true))
        {
            foreach (var row in table.Rows.Select(r => r.Cells).Prepend(table.Head))
            {
                foreach (var cell in row)
                {
                    csv.WriteField(cell);
                }

                csv.EndRecord();
            }
        }

        return Encoding.UTF8.GetString(stream.ToArray());
    }

    internal static string Decode(ReadOnlySpan<byte> bytes)
    {
        if (bytes.StartsWith(Encoding.UTF8.Preamble))
        {
            bytes = bytes[Encoding.UTF8.Preamble.Length..];
        }
        else if (bytes.StartsWith(Encoding.Unicode.Preamble))
        {
            return Encoding.Unicode.GetString(bytes[2..]);
        }
        else if (bytes.StartsWith(Encoding.BigEndianUnicode.Preamble))
        {
            return Encoding.BigEndianUnicode.GetString(bytes[2..]);
        }

        try
        {
            return Strict.GetString(bytes);
        }
        catch (DecoderFallbackException)
        {
            return Encoding.Latin1.GetString(bytes);
        }
    }

    /// <summary>Which cell of a record breaks the rules, from 1: one with a quotation mark inside, or the one that is never closed.</summary>
    private static int ColumnOfStrayQuote(string record)
    {
        var separator = Separators.MaxBy(s => record.Count(c => c == s));
        var (column, start, quoted) = (1, true, false);
        for (var i = 0; i < record.Length; i++)
        {
            var c = record[i];
            if (quoted)
            {
                var closes = c == '"' && !(i + 1 < record.Length && record[i + 1] == '"');
                i += c == '"' && !closes ? 1 : 0;
                quoted = !closes;
                if (closes && i + 1 < record.Length && record[i + 1] != separator)
                {
                    return column;
                }
            }
            else if (c == separator)
            {
                column++;
                start = true;
                continue;
            }
            else if (c == '"' && !start)
            {
                return column;
            }
            else
            {
                quoted = c == '"';
            }

            start = false;
        }

        return column;
    }
}
