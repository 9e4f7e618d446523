using System.Collections.Immutable;

namespace WiseLoom.Core.Formats;

/// <summary>A column of a loom's table.</summary>
/// <param name="Name">As the head says it.</param>
/// <param name="Field">The field of the loom file.</param>
/// <param name="Also">Other heads that people write for it, in small letters with underscores.</param>
internal sealed record LoomColumn(string Name, string Field, CellCodec Codec, params string[] Also);

/// <summary>A list of the loom file as a table.</summary>
/// <param name="Name">Of the table: <c>wires</c> in <c>wires.csv</c>.</param>
/// <param name="Field">The list's field in the loom file.</param>
internal sealed record LoomTable(string Name, string Field, ImmutableArray<LoomColumn> Columns);

/// <summary>Which table has which columns.</summary>
internal static class LoomColumns
{
    /// <summary>Column for all that no other column carries, as one JSON object.</summary>
    internal const string More = "more";

    /// <summary>In the cell of the file's other fields: columns, by list, whose empty cells stand for <c>null</c> and not for a field that is not there.</summary>
    internal const string NullWhenEmpty = "nullWhenEmpty";

    /// <summary>The table of the loom's own facts; it has one row.</summary>
    internal static LoomTable Head { get; } = new("loom", "loom",
    [
        new("name", "name", CellCodec.Text), new("revision", "revision", CellCodec.Text),
        new("supply_volts", "supplyVolts", CellCodec.Number), new("ambient_c", "ambientC", CellCodec.Number), new("weight_kg", "weightKg", CellCodec.Number),
    ]);

    internal static ImmutableArray<LoomTable> Lists { get; } =
    [
        new("families", "families",
        [
            new("family", "id", CellCodec.Text, "id"), new("title", "title", CellCodec.Text), new("kind", "kind", CellCodec.Text),
            new("rows", "rows", CellCodec.Face), new("numbered_from", "numberedFrom", CellCodec.Text), new("large", "large", CellCodec.Names),
            new("keying", "keying", CellCodec.Text), new("sealed", "sealed", CellCodec.Flag), new("contact_milliohm", "contactMilliohm", CellCodec.Range),
            new("wires_per_cavity", "wiresPerCavity", CellCodec.Number), new("confirmed", "confirmed", CellCodec.Flag),
        ]),
        new("branches", "branches",
        [
            new("branch", "id", CellCodec.Text, "id"), new("parent", "parent", CellCodec.Text), new("at_mm", "atMm", CellCodec.Number, "at"), new("length_mm", "lengthMm", CellCodec.Number, "length"),
        ]),
        new("landmarks", "landmarks",
        [
            new("landmark", "id", CellCodec.Text, "id"), new("kind", "kind", CellCodec.Text), new("branch", "branch", CellCodec.Text), new("at_mm", "atMm", CellCodec.Number, "at"),
        ]),
        new("connectors", "connectors",
        [
            new("connector", "ref", CellCodec.Text, "ref"), new("title", "title", CellCodec.Text), new("family", "family", CellCodec.Text), new("branch", "branch", CellCodec.Text),
            new("at_mm", "atMm", CellCodec.Number, "at"), new("blanked", "blanked", CellCodec.Names), new("place", "place", CellCodec.Text), new("unlock", "unlock", CellCodec.Text),
            new("if_left_off", "ifLeftOff", CellCodec.Text), new("note", "note", CellCodec.Text),
        ]),
        new("splices", "splices",
        [
            new("splice", "ref", CellCodec.Text, "ref"), new("kind", "kind", CellCodec.Text), new("branch", "branch", CellCodec.Text), new("at_mm", "atMm", CellCodec.Number, "at"),
            new("leg_milliohm", "legMilliohm", CellCodec.Range),
        ]),
        new("wires", "wires",
        [
            new("wire", "id", CellCodec.Text, "id", "wire_id", "no"), new("from", "from", CellCodec.Text, "start", "from_pin"), new("to", "to", CellCodec.Text, "end", "to_pin"),
            new("colour", "colour", CellCodec.Text, "color"), new("mm2", "mm2", CellCodec.Range, "mm²", "section", "size", "section_mm2"), new("awg", "awg", CellCodec.Number, "gauge"),
            new("length_mm", "lengthMm", CellCodec.Range, "length"), new("circuit", "circuit", CellCodec.Text, "function", "signal"), new("group", "group", CellCodec.Text, "twisted_with"),
            new("role", "role", CellCodec.Text), new("note", "note", CellCodec.Text),
        ]),
        new("devices", "devices",
        [
            new("device", "ref", CellCodec.Text, "ref"), new("title", "title", CellCodec.Text), new("kind", "kind", CellCodec.Text), new("pins", "pins", CellCodec.Pins), new("ohm", "ohm", CellCodec.Range),
        ]),
        new("box", "box",
        [
            new("thing", "id", CellCodec.Text, "id"), new("title", "title", CellCodec.Text), new("kind", "kind", CellCodec.Text), new("count", "count", CellCodec.Number), new("years", "years", CellCodec.Number), new("note", "note", CellCodec.Text),
        ]),
        new("fitting", "fitting", [new("step", "id", CellCodec.Text, "id"), new("do", "do", CellCodec.Text), new("branch", "branch", CellCodec.Text)]),
        new("code_readings", "codeReadings",
        [
            new("way", "id", CellCodec.Text, "id"), new("socket", "socket", CellCodec.Text), new("bridge", "bridge", CellCodec.Names), new("how", "how", CellCodec.Text),
        ]),
    ];

    /// <summary>A head as it is compared: small letters, underscores.</summary>
    internal static string Plain(string head) => head.Trim().ToLowerInvariant().Replace(' ', '_').Replace('-', '_');
}
