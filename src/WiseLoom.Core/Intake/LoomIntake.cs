using System.Collections.Immutable;
using System.Text.Json.Nodes;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>What came of reading a stranger's tables.</summary>
/// <param name="Document">The loom that would come out; null when nothing could be read.</param>
/// <param name="Loom">The same, read; null when it has problems still.</param>
/// <param name="Guessed">What was taken for granted, in sentences.</param>
/// <param name="Problems">What was not understood, what contradicts, what is asked.</param>
/// <param name="UnknownColours">Words in columns of colours that nobody has explained yet; the first fifty.</param>
public sealed record IntakeReading(
    ImmutableArray<TableReading> Tables, JsonObject? Document, Loom? Loom, ImmutableArray<string> Guessed, ImmutableArray<IntakeProblem> Problems, ImmutableArray<string> UnknownColours)
{
    /// <summary>Connectors that come out, with the faces that they can have.</summary>
    public ImmutableArray<FoundConnector> Connectors { get; init; } = [];

    /// <summary>Each row of a list or a chart with the places that it joins.</summary>
    public ImmutableArray<PlacedRow> Placed { get; init; } = [];
}

/// <summary>A row of a file and the places of the loom that it is about.</summary>
/// <param name="Row">In the file, from 1.</param>
/// <param name="Other">Null where it names only one place that a probe reaches.</param>
public sealed record PlacedRow(string Sheet, int Row, ProbePoint One, ProbePoint? Other);

/// <summary>Reads any table of wires, pinouts or crosses into a loom. Nothing is stored by reading.</summary>
public static class LoomIntake
{
    private const int MostProblems = 500;

    /// <summary>Reads a file.</summary>
    /// <param name="bytes">A workbook, or text with columns by commas, semicolons, tabs or blanks.</param>
    /// <param name="name">The file's name.</param>
    /// <param name="said">What a person said of this file; null for nothing.</param>
    /// <param name="memory">What the shop has learned of papers; null for nothing.</param>
    public static IntakeReading Read(byte[] bytes, string name, IntakeSaid? said = null, IntakeMemory? memory = null)
    {
        ArgumentNullException.ThrowIfNull(bytes);
        ArgumentNullException.ThrowIfNull(name);
        var (wrong, problems, guessed) = (new List<Problem>(), new List<IntakeProblem>(), new List<string>());
        if (bytes.Length > LoomReader.LargestFile)
        {
            return Nothing([new("", 0, "", $"At most {LoomReader.LargestFile / 1048576} MB are read.")]);
        }

        if (Grid.Read(bytes, name, wrong) is not { } grids)
        {
            return Nothing([.. wrong.Select(p => new IntakeProblem(p.At, 0, "", p.Message))]);
        }

        var saying = said ?? IntakeSaid.Nothing;
        var reader = new FileReader(saying, memory ?? IntakeMemory.Empty, grids.Length, problems);
        foreach (var grid in grids)
        {
            reader.Read(saying.Over(grid));
        }

        if (reader.Rows.Count == 0)
        {
            problems.Add(new("", 0, "", reader.Tables.Count == 0
                ? "No table was found in it. A table of wires has a row for each wire with both its ends; a pinout has a row for each pin; a cross table has pins down and across."
                : "No row says which places a wire joins. Say which columns hold the connectors and the pins."));
            return new(reader.Shown(), null, null, [], [.. problems.Take(MostProblems)], reader.UnknownColours);
        }

        var assembler = new Assembler(problems, guessed);
        var wires = assembler.Join(reader.Rows);
        var (document, connectors) = PaperLoom.Write(Path.GetFileNameWithoutExtension(name), wires, assembler.Splices, assembler.Alone, saying, memory ?? IntakeMemory.Empty, guessed);
        var reading = LoomReader.Read(LoomDocument.Bytes(document));
        problems.AddRange(reading.Problems.Select(p => Placed(p, wires)));
        return new(reader.Shown(), document, reading.Loom, [.. guessed], [.. problems.Take(MostProblems)], reader.UnknownColours) { Connectors = connectors, Placed = Places(reader.Rows, connectors) };
    }

    private static ImmutableArray<PlacedRow> Places(List<PaperRow> rows, ImmutableArray<FoundConnector> connectors)
    {
        var refs = connectors.ToDictionary(c => c.Title, c => c.Ref, StringComparer.Ordinal);
        ProbePoint? At(PaperEnd? end) => end is { } known && refs.TryGetValue(known.Connector, out var plug) ? new ProbePoint(plug, known.Pin.Length > 0 ? known.Pin : "1") : null;
        return [.. rows.Select(r => (Row: r, One: At(r.One), Other: At(r.Other))).Where(r => r.One is not null || r.Other is not null)
            .Select(r => new PlacedRow(r.Row.Sheet, r.Row.Row, (r.One ?? r.Other)!.Value, r.One is null ? null : r.Other))];
    }

    /// <summary>A problem of the loom that came out, said with the row that its wire came from.</summary>
    private static IntakeProblem Placed(Problem problem, ImmutableArray<PaperWire> wires) =>
        problem.At.Split('/') is [_, "wires", var index, ..] && int.TryParse(index, out var at) && at < wires.Length
            ? new(wires[at].Row.Sheet, wires[at].Row.Row, problem.At.Split('/').ElementAtOrDefault(3) ?? "", problem.Message)
            : new("", 0, "", $"{problem.At}: {problem.Message}");

    private static IntakeReading Nothing(ImmutableArray<IntakeProblem> problems) => new([], null, null, [], problems, []);
}
