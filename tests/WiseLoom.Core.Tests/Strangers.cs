using System.Collections.Immutable;
using System.Text;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>Files of a shape that nobody foresaw, read as they come.</summary>
internal static class Strangers
{
    internal static IntakeReading Read(string text, string name = "pump cart.csv", IntakeMapping? mapping = null, string? connector = null) => Said(text, new(mapping?.Columns, connector), name: name);

    internal static IntakeReading Said(string text, IntakeSaid said, IntakeMemory? memory = null, string name = "pump cart.csv") => LoomIntake.Read(Encoding.UTF8.GetBytes(text), name, said, memory);

    internal static IntakeReading Book(params (string Sheet, string[][] Rows)[] sheets) =>
        LoomIntake.Read(Workbook.Write(sheets.Select(s => new TextTable(s.Sheet, s.Sheet, 1, [.. s.Rows[0]], [.. s.Rows.Skip(1).Select((r, i) => new TextRow(i + 2, [.. r]))]))), "book.xlsx");

    /// <summary>Nets as <c>A:1 B:1</c>, sorted.</summary>
    internal static ImmutableArray<string> Nets(IntakeReading reading)
    {
        reading.Loom.ShouldNotBeNull(string.Join('\n', reading.Problems));
        return [.. WireGraph.Topology(reading.Loom).Nets.Where(n => n.Points.Length > 1).Select(n => string.Join(' ', n.Points.Select(p => $"{p}").Order(StringComparer.Ordinal))).Order(StringComparer.Ordinal)];
    }
}
