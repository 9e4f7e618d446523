using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Formats;

/// <summary>A loom and what was measured of it as tables for other people: a list of wires, a pinout for each connector, and the cross tables.</summary>
public static class ResultTables
{
    /// <summary>A loom with more places than this has no cross table: nobody reads one of that size, and no spreadsheet opens it in good time.</summary>
    public const int MostCrossed = 300;

    private const string Reads = "reads", Verdict = "verdict";

    private static readonly ImmutableArray<(string Heading, Meaning Meaning)> Usual =
    [
        ("wire", Meaning.Wire), ("from", Meaning.End), ("to", Meaning.OtherEnd), ("colour", Meaning.Colour), ("section", Meaning.Section), ("length (mm)", Meaning.Length),
        ("function", Meaning.Signal), ("twisted with", Meaning.Twisted),
    ];

    /// <summary>All tables, the list of wires first.</summary>
    /// <param name="mapping">Whose headings and order the list of wires has; null for the usual.</param>
    public static ImmutableArray<TextTable> Of(Loom loom, PairResults results, IntakeMapping? mapping = null)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(results);
        ImmutableArray<ProbePoint> points = [.. loom.ProbePoints()];
        return
        [
            Wires(loom, results, mapping),
            .. loom.Connectors.Select(c => Chart(loom, c, results)),
            .. points.Length > MostCrossed ? (ImmutableArray<TextTable>)[] :
            [
                Cross("cross expected", points, (a, b) => results.Of(a, b) is { Must.Length: > 0 } known ? known.Must : results.AreJoined(a, b) ? "joined" : ""),
                Cross("cross measured", points, (a, b) => results.Of(a, b).Reads),
                Cross("cross verdict", points, (a, b) => results.Of(a, b).Verdict),
            ],
        ];
    }

    private static TextTable Wires(Loom loom, PairResults results, IntakeMapping? mapping)
    {
        var columns = mapping is { Headings.IsDefaultOrEmpty: false }
            ? [.. mapping.Headings.Select((h, i) => (Heading: h, Column: mapping.Columns.GetValueOrDefault(h.Length > 0 ? h : $"#{i + 1}") ?? new MappedColumn(Meaning.Ignore)))]
            : Usual.Select(u => (u.Heading, Column: new MappedColumn(u.Meaning, u.Meaning == Meaning.Length ? "mm" : null))).ToList();
        return Table("wires", [.. columns.Select(c => c.Heading), Reads, Verdict], loom.Wires.Select(w => (string[])
        [
            .. columns.Select(c => Cell(w, c.Column)), .. Result(w, results) is var known ? [known.Reads, known.Verdict] : Array.Empty<string>(),
        ]));
    }

    /// <summary>What is known of a wire: of its two ends where probes reach both, else of its circuit.</summary>
    private static PairResult Result(Wire wire, PairResults results) => (wire.From.IsSplice, wire.To.IsSplice) switch
    {
        (false, false) => results.Of(wire.From.Point, wire.To.Point),
        (false, true) => results.Of(wire.From.Point),
        (true, false) => results.Of(wire.To.Point),
        _ => PairResult.Nothing,
    };

    private static string Cell(Wire wire, MappedColumn column) => column.Meaning switch
    {
        Meaning.Wire => wire.Id,
        Meaning.Connector => Plug(wire.From),
        Meaning.Pin => Pin(wire.From),
        Meaning.End => wire.From.Text,
        Meaning.OtherConnector => Plug(wire.To),
        Meaning.OtherPin => Pin(wire.To),
        Meaning.OtherEnd => wire.To.Text,
        Meaning.Colour => wire.Colour.Text,
        Meaning.Section => wire.SectionRange is not null ? "" : column.Unit == "awg" && wire.Section.Awg is { } awg ? awg.ToString(CultureInfo.InvariantCulture) : wire.Section.InWords(),
        Meaning.Length => wire.LengthRange is not null ? "" : Quantities.In(wire.LengthMm, column.Unit ?? "mm").ToString("0.###", CultureInfo.InvariantCulture),
        Meaning.Signal => wire.Circuit ?? "",
        Meaning.Twisted => wire.Group ?? "",
        Meaning.Role => wire.Role?.ToString().ToLowerInvariant() ?? "",
        Meaning.Splice => wire.From.IsSplice ? wire.From.Text : wire.To.IsSplice ? wire.To.Text : "",
        _ => "",
    };

    private static string Plug(WireEnd end) => end.IsSplice ? end.Text : end.Point.Connector;

    private static string Pin(WireEnd end) => end.IsSplice ? "" : end.Point.Cavity;

    private static TextTable Chart(Loom loom, Connector connector, PairResults results)
    {
        var ends = loom.Wires.SelectMany(w => new[] { (Here: w.From, There: w.To, Wire: w), (Here: w.To, There: w.From, Wire: w) }).Where(e => !e.Here.IsSplice && e.Here.Point.Connector == connector.Ref).ToLookup(e => e.Here.Point.Cavity, StringComparer.Ordinal);
        var rows = connector.Family.Cavities.OrderBy(c => c, NaturalOrder.Comparer).SelectMany(cavity => ends[cavity].DefaultIfEmpty().Select(e => e.Wire is null
            ? [cavity, "", "", "", "", ""]
            : (string[])
            [
                cavity, e.Wire.Colour.Text, e.Wire.Circuit ?? "", e.There.Text,
                .. (e.There.IsSplice ? results.Of(e.Here.Point) : results.Of(e.Here.Point, e.There.Point)) is var known ? [known.Reads, known.Verdict] : Array.Empty<string>(),
            ]));
        return Table($"pinout {connector.Ref}", ["pin", "colour", "function", "goes to", Reads, Verdict], rows);
    }

    private static TextTable Cross(string name, ImmutableArray<ProbePoint> points, Func<ProbePoint, ProbePoint, string> cell) =>
        Table(name, ["", .. points.Select(p => p.ToString())], points.Select((a, i) => (string[])[a.ToString(), .. points.Select((b, j) => i == j ? "" : cell(a, b))]));

    private static TextTable Table(string name, ImmutableArray<string> head, IEnumerable<string[]> rows) =>
        new(name, name, 1, [.. head.Select(FormulaGuard.Neutralise)], [.. rows.Select((r, i) => new TextRow(i + 2, [.. r.Select(FormulaGuard.Neutralise)]))]);
}
