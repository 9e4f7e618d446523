using System.Collections.Immutable;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Pinouts;

/// <summary>A plug of a sheet.</summary>
/// <param name="Family">Id of its family in the shop's library; empty when nobody has said yet.</param>
public sealed record SheetConnector(string Ref, string Title, string Family);

/// <summary>One line of a sheet, as written.</summary>
/// <param name="Direction">One of <see cref="PinRoles.Directions"/>, or empty.</param>
public sealed record SheetLine(string Connector, string Cavity, string Function, string Direction, string Colour, string Section, string Note)
{
    /// <summary>The line as it is compared and merged.</summary>
    public PinoutLine AsPinout() => new(new(Connector, Cavity), Function, PinRoles.Of(Function, Direction), Colour, Section, Note);
}

/// <summary>What stands on a sheet of the pinout book.</summary>
public sealed record Sheet(string Title, ImmutableArray<SheetConnector> Connectors, ImmutableArray<SheetLine> Lines)
{
    /// <summary>No sheet has more lines.</summary>
    public const int MostLines = 2000;

    private static readonly (string Field, string[] Heads)[] Columns =
    [
        ("connector", ["connector", "plug", "ref", "housing"]), ("cavity", ["cavity", "pin", "pin_no", "terminal", "position"]), ("function", ["function", "circuit", "signal", "description"]),
        ("direction", ["direction", "dir", "type", "kind"]), ("colour", ["colour", "color", "wire_colour"]), ("section", ["section", "mm2", "size"]), ("note", ["note", "notes", "remark"]),
    ];

    /// <summary>The sheet as a pinout, its plugs' families taken from the shop's library.</summary>
    public Pinout AsPinout(IReadOnlyDictionary<string, ConnectorFamily> library) => new(
        Title,
        [.. Connectors.Select(c => new PinoutConnector(c.Ref, c.Title, library.GetValueOrDefault(c.Family)))],
        [.. Lines.Where(l => l.Connector.Length > 0 && l.Cavity.Length > 0).Select(l => l.AsPinout())]);

    /// <summary>What keeps the sheet from being stored, and what is only doubtful.</summary>
    public (ImmutableArray<Problem> Problems, ImmutableArray<Problem> Warnings) Check(IReadOnlyDictionary<string, ConnectorFamily> library)
    {
        var (problems, warnings) = (new List<Problem>(), new List<Problem>());
        void Text(string at, string text, int most, bool required)
        {
            if ((required && string.IsNullOrWhiteSpace(text)) || text.Length > most || text.Any(char.IsControl))
            {
                problems.Add(new(at, text.Length == 0 ? "Missing." : $"At most {most} plain characters."));
            }
        }

        Text("/title", Title, 120, true);
        if (Lines.Length > MostLines)
        {
            problems.Add(new("/lines", $"{Lines.Length} lines; at most {MostLines} make a sheet."));
        }

        for (var i = 0; i < Connectors.Length; i++)
        {
            var c = Connectors[i];
            Text($"/connectors/{i}/ref", c.Ref, 60, true);
            Text($"/connectors/{i}/title", c.Title, 120, false);
            if (c.Ref.Contains(':', StringComparison.Ordinal) || Connectors.Take(i).Any(o => o.Ref == c.Ref))
            {
                problems.Add(new($"/connectors/{i}/ref", $"'{c.Ref}' has a colon or stands twice."));
            }

            if (c.Family.Length > 0 && !library.ContainsKey(c.Family))
            {
                problems.Add(new($"/connectors/{i}/family", $"The shop has no family '{c.Family}'."));
            }
        }

        var families = Connectors.DistinctBy(c => c.Ref).ToDictionary(c => c.Ref, c => library.GetValueOrDefault(c.Family), StringComparer.Ordinal);
        var seen = new Dictionary<(string, string), int>();
        for (var i = 0; i < Lines.Length; i++)
        {
            CheckLine(Lines[i], $"/lines/{i}", families, seen.TryAdd((Lines[i].Connector, Lines[i].Cavity), i) ? null : seen[(Lines[i].Connector, Lines[i].Cavity)], Text, problems, warnings);
        }

        return ([.. problems], [.. warnings]);
    }

    private static void CheckLine(
        SheetLine line, string at, Dictionary<string, ConnectorFamily?> families, int? twin, Action<string, string, int, bool> text, List<Problem> problems, List<Problem> warnings)
    {
        text($"{at}/cavity", line.Cavity, 12, true);
        text($"{at}/function", line.Function, 200, false);
        text($"{at}/colour", line.Colour, 40, false);
        text($"{at}/section", line.Section, 40, false);
        text($"{at}/note", line.Note, 400, false);
        if (!families.TryGetValue(line.Connector, out var family))
        {
            problems.Add(new($"{at}/connector", $"The sheet has no plug '{line.Connector}'."));
        }
        else if (family is not null && !family.HasCavity(line.Cavity))
        {
            warnings.Add(new($"{at}/cavity", $"Family '{family.Id}' has no cavity {line.Cavity}: wrong cavity, or wrong family?"));
        }

        if (line.Direction.Length > 0 && !PinRoles.Directions.Contains(line.Direction))
        {
            problems.Add(new($"{at}/direction", $"'{line.Direction}' is not known here; write one of {string.Join(", ", PinRoles.Directions)}."));
        }

        if (twin is { } first)
        {
            problems.Add(new($"{at}/cavity", $"{line.Connector}:{line.Cavity} stands in line {first + 1} already."));
        }
    }

    /// <summary>Reads lines from a table, as it comes from a file or the clipboard.</summary>
    /// <param name="plug">The plug that the lines are of when the table has no such column.</param>
    /// <returns>The lines; what is wrong is listed with row and column.</returns>
    public static ImmutableArray<SheetLine> ReadLines(TextTable table, string plug, List<Problem> problems)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(problems);
        var heads = table.Head.Select(LoomColumns.Plain).ToList();
        int Column(string field) => heads.FindIndex(h => Columns.First(c => c.Field == field).Heads.Contains(h));
        var (connector, cavity, function) = (Column("connector"), Column("cavity"), Column("function"));
        if (cavity < 0 || function < 0)
        {
            problems.Add(new(table.Place(table.HeadRow), "The first row names the columns; cavity (or pin) and function are needed, connector, direction, colour, section and note may be there."));
            return [];
        }

        string Cell(TextRow row, int column) => FormulaGuard.Restore(row[column]).Trim();
        var lines = ImmutableArray.CreateBuilder<SheetLine>();
        foreach (var row in table.Rows)
        {
            var direction = Direction(Cell(row, Column("direction")));
            var line = new SheetLine(connector >= 0 && Cell(row, connector) is { Length: > 0 } named ? named : plug, Cell(row, cavity), Cell(row, function), direction ?? "", Cell(row, Column("colour")), Cell(row, Column("section")), Cell(row, Column("note")));
            if (line.Cavity.Length == 0)
            {
                problems.Add(new(table.Place(row.Number, table.Head[cavity]), "Missing. The cavity is needed."));
            }

            if (line.Connector.Length == 0)
            {
                problems.Add(new(table.Place(row.Number, "connector"), "Missing. Say which plug, here or beside the file."));
            }

            if (direction is null)
            {
                problems.Add(new(table.Place(row.Number, table.Head[Column("direction")]), $"'{Cell(row, Column("direction"))}' is not known here; write one of {string.Join(", ", PinRoles.Directions)}, or leave it empty."));
            }

            lines.Add(line);
        }

        foreach (var twice in lines.Zip(table.Rows).GroupBy(l => (l.First.Connector, l.First.Cavity)).Where(g => g.Key.Cavity.Length > 0 && g.Count() > 1))
        {
            problems.Add(new(table.Place(twice.Last().Second.Number, table.Head[cavity]), $"{twice.Key.Connector}:{twice.Key.Cavity} stands in row {twice.First().Second.Number} already."));
        }

        return lines.ToImmutable();
    }

    /// <summary>A direction as a sheet writes it; null when it is not understood.</summary>
    private static string? Direction(string written) => written.ToLowerInvariant() switch
    {
        "" or "-" => "",
        "in" or "i" => "input",
        "out" or "o" => "output",
        "gnd" or "earth" => "ground",
        "power" or "feed" or "pwr" => "supply",
        "can" or "bus" or "lin" => "network",
        "screen" => "shield",
        "nc" or "spare" or "unused" => "not used",
        "5v" or "ref" => "5 V",
        var word => PinRoles.Directions.FirstOrDefault(d => string.Equals(d, word, StringComparison.OrdinalIgnoreCase)),
    };
}

/// <summary>A line that a search found.</summary>
public sealed record FoundLine<T>(T Sheet, SheetLine Line);

/// <summary>Finds functions on sheets.</summary>
public static class FunctionSearch
{
    /// <summary>Lines that hold every word asked for, themselves or by a synonym; nearest first.</summary>
    /// <param name="sheets">Each with what it is called by the caller.</param>
    public static ImmutableArray<FoundLine<T>> Find<T>(string asked, IEnumerable<(T Key, Sheet Sheet)> sheets, Synonyms synonyms, int most = 200)
    {
        ArgumentNullException.ThrowIfNull(asked);
        ArgumentNullException.ThrowIfNull(sheets);
        var wanted = FunctionWords.Sense(asked, synonyms);
        var plain = asked.Trim().ToLowerInvariant();
        if (plain.Length == 0)
        {
            return [];
        }

        var found =
            from sheet in sheets
            from line in sheet.Sheet.Lines
            let sense = FunctionWords.Sense(line.Function, synonyms)
            let literally = line.Function.Contains(plain, StringComparison.OrdinalIgnoreCase) || line.Note.Contains(plain, StringComparison.OrdinalIgnoreCase)
            let byMeaning = !(wanted.Subjects.IsEmpty && wanted.Sides.IsEmpty) && wanted.Subjects.IsSubsetOf(sense.Subjects) && wanted.Sides.IsSubsetOf(sense.Sides) && wanted.Numbers.All(n => sense.Numbers.Contains(n))
            where literally || byMeaning
            orderby sense.Key == wanted.Key ? 0 : byMeaning ? 1 : 2, line.Function.Length
            select new FoundLine<T>(sheet.Key, line);
        return [.. found.Take(most)];
    }
}
