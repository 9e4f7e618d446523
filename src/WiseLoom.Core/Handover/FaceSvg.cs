using System.Collections.Immutable;
using System.Globalization;
using System.Net;
using System.Text;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Handover;

/// <summary>Draws a connector's face for papers: each cavity with its name and a band in the colours of its wire.</summary>
internal static class FaceSvg
{
    private const double Cell = 30;

    internal static string Draw(WalkStop stop, FaceLayout face)
    {
        var pins = stop.Pins.ToDictionary(p => p.Cavity, StringComparer.Ordinal);
        var (width, height) = ((face.Columns * Cell) + 12, (face.Rows * Cell) + 12);
        var side = face.Side == FaceSide.MatingFace ? Words.Text("mating face") : Words.Text("wire side");
        var svg = new StringBuilder();
        svg.Append(CultureInfo.InvariantCulture, $"<svg class=\"face\" viewBox=\"0 0 {width} {height}\" style=\"width:{width / 10:0.0}rem\" role=\"img\" aria-label=\"{Text(stop.Connector.Ref)}, {side}\">");
        svg.Append(CultureInfo.InvariantCulture, $"<rect class=\"shell\" x=\"1\" y=\"1\" width=\"{width - 2}\" height=\"{height - 2}\" rx=\"7\"/>");
        foreach (var cell in face.Cells)
        {
            Draw(svg, pins[cell.Cavity], 6 + ((cell.X - 0.5) * Cell), 6 + ((cell.Y - 0.5) * Cell));
        }

        return svg.Append("</svg>").ToString();
    }

    private static void Draw(StringBuilder svg, PinRow pin, double x, double y)
    {
        var wired = !pin.Wires.IsEmpty;
        svg.Append(CultureInfo.InvariantCulture, $"<g transform=\"translate({x:0.#} {y:0.#})\"><rect class=\"{(wired ? "cavity" : "cavity unwired")}\" x=\"1.5\" y=\"1.5\" width=\"{Cell - 3}\" height=\"{Cell - 3}\" rx=\"4\"/>");
        if (wired && pin.Colours[0].Bands.ToImmutableArray() is { Length: > 0 } bands)
        {
            var each = 6.5 / bands.Length;
            svg.Append(string.Concat(bands.Select((hex, i) => string.Create(CultureInfo.InvariantCulture, $"<rect x=\"3.5\" y=\"{19 + (i * each):0.##}\" width=\"{Cell - 7}\" height=\"{each:0.##}\" fill=\"{hex}\"/>"))));
            svg.Append(CultureInfo.InvariantCulture, $"<rect class=\"band\" x=\"3.5\" y=\"19\" width=\"{Cell - 7}\" height=\"6.5\"/>");
        }

        svg.Append(CultureInfo.InvariantCulture, $"<text x=\"{Cell / 2}\" y=\"{(wired ? 15.5 : 19)}\">{Text(pin.Cavity)}</text></g>");
    }

    private static string Text(string text) => WebUtility.HtmlEncode(text);
}
