using System.Text.Json;

namespace WiseLoom.Core.Formats;

/// <summary>The pinout of a pack as a table: a row for each wired pin.</summary>
public static class PinTable
{
    /// <summary>As comma-separated values; see <see cref="CsvText.Write"/>.</summary>
    /// <param name="pack">A pack as JSON, as it is frozen.</param>
    public static string Of(JsonElement pack)
    {
        var shows = pack.TryGetProperty("papers", out var papers) && papers.TryGetProperty("shows", out var all) ? all : default;
        var rows =
            from stop in pack.GetProperty("walk").EnumerateArray()
            let connector = stop.GetProperty("connector")
            let name = Text(connector, "ref")
            from pin in stop.GetProperty("pins").EnumerateArray()
            where pin.GetProperty("wires").GetArrayLength() > 0
            let cavity = Text(pin, "cavity")
            select new[]
            {
                name, Text(connector, "title"), cavity, string.Join(' ', pin.GetProperty("colours").EnumerateArray().Select(c => Text(c, "text"))), Text(pin, "section"), Text(pin, "goesTo"), Text(pin, "function"), Text(pin, "kind"),
                shows.ValueKind == JsonValueKind.Object ? Text(shows, $"{name}:{cavity}") : "", Text(pin, "reads"),
            };
        return CsvText.Write(new(
            "pins", "pins.csv", 1, ["connector", "title", "cavity", "colour", "section", "goes to", "function", "kind", "shows", "ohms"], [.. rows.Select((r, i) => new TextRow(i + 2, [.. r.Select(FormulaGuard.Neutralise)]))]));
    }

    private static string Text(JsonElement of, string name) => of.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.String ? value.GetString()! : "";
}
