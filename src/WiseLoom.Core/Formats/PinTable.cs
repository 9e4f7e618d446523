using WiseLoom.Core.Handover;

namespace WiseLoom.Core.Formats;

/// <summary>The pinout of a pack as a table: a row for each wired pin.</summary>
public static class PinTable
{
    /// <summary>As comma-separated values; see <see cref="CsvText.Write"/>.</summary>
    public static string Of(PackModel pack)
    {
        ArgumentNullException.ThrowIfNull(pack);
        var rows =
            from stop in pack.Walk
            from pin in stop.Pins
            where !pin.Wires.IsEmpty
            select new[]
            {
                stop.Connector.Ref, stop.Connector.Title, pin.Cavity, string.Join(' ', pin.Colours.Select(c => c.Text)), pin.Section, pin.GoesTo, pin.Function, pin.Kind,
                pack.Papers?.Shows.GetValueOrDefault($"{stop.Connector.Ref}:{pin.Cavity}") ?? "", pin.Reads,
            };
        return CsvText.Write(new(
            "pins", "pins.csv", 1, ["connector", "title", "cavity", "colour", "section", "goes to", "function", "kind", "shows", "ohms"], [.. rows.Select((r, i) => new TextRow(i + 2, [.. r.Select(FormulaGuard.Neutralise)]))]));
    }
}
