using System.Collections.Immutable;
using System.Globalization;
using System.Net;
using System.Text;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Handover;

/// <summary>The lid of a box of fuses and relays: each where it sits, as one looks at the box from above, with its rating.</summary>
public static class FuseCard
{
    /// <summary>Millimetres of a cell on a card that is printed at the size of a lid.</summary>
    private const double CellMm = 9;

    private const double Cell = 30;

    /// <summary>Connectors into which fuses are pushed, with the relays beside them.</summary>
    internal static IEnumerable<Connector> Boxes(Loom loom) => loom.Connectors.Where(c => Parts(loom, c).Any(d => d.Model is FuseModel));

    /// <summary>A page to print and to cut out, with what each feeds and what stops when it is gone.</summary>
    /// <param name="fuses">What each does; empty where that is not worked out.</param>
    public static string Render(Loom loom, ImmutableArray<FuseRow> fuses)
    {
        ArgumentNullException.ThrowIfNull(loom);
        var html = new StringBuilder();
        html.Append("<!doctype html><html lang=\"").Append(Words.Language.Code).Append("\"><head><meta charset=\"utf-8\"><title>").Append(Text(Words.Of($"{loom.Name} {loom.Revision}, fuse and relay card"))).Append("</title><style>@page{size:A4;margin:10mm}")
            .Append(PackHtml.Resource("labels.css")).Append("</style></head><body><h1>").Append(Text(Words.Of($"{loom.Name} {loom.Revision}: fuses and relays"))).Append("</h1>");
        foreach (var box in Boxes(loom))
        {
            var face = FaceLayout.Of(box.Family, FaceSide.MatingFace);
            html.Append(CultureInfo.InvariantCulture, $"<h2>{Text($"{box.Ref}, {box.Title}")}</h2><div style=\"width:{face.Columns * CellMm:0.#}mm\">{Draw(loom, box)}</div>");
        }

        html.Append($"<table><thead><tr><th>{Text(Words.Text("Fuse"))}</th><th>{Text(Words.Text("Rating"))}</th><th>{Text(Words.Text("Feeds"))}</th><th>{Text(Words.Text("When it is gone"))}</th></tr></thead><tbody>");
        foreach (var fuse in fuses.IsDefault ? [] : fuses)
        {
            html.Append("<tr><th>").Append(Text(fuse.Title)).Append("</th><td>").Append(Rating.InWords(fuse.Amps)).Append("</td><td>").Append(Text(fuse.Feeds)).Append("</td><td>").Append(Text(fuse.Stops)).Append("</td></tr>");
        }

        return html.Append("</tbody></table></body></html>").ToString();
    }

    /// <summary>A box as one looks at it, a cell for each cavity that a fuse or a relay sits in.</summary>
    internal static string Draw(Loom loom, Connector box)
    {
        var face = FaceLayout.Of(box.Family, FaceSide.MatingFace);
        var cells = face.Cells.ToDictionary(c => c.Cavity, StringComparer.Ordinal);
        var svg = new StringBuilder();
        svg.Append(CultureInfo.InvariantCulture, $"<svg class=\"lid\" viewBox=\"0 0 {face.Columns * Cell} {face.Rows * Cell}\" role=\"img\" aria-label=\"{Text(Words.Of($"{box.Ref}: fuses and relays where they sit"))}\">");
        var sitting = Parts(loom, box).SelectMany(d => d.Pins.Values.Where(p => p.Connector == box.Ref && cells.ContainsKey(p.Cavity)).Select(p => (p.Cavity, Part: d))).ToLookup(x => x.Cavity, x => x.Part, StringComparer.Ordinal);
        foreach (var place in sitting)
        {
            var (x, y) = (cells[place.Key].X * Cell, cells[place.Key].Y * Cell);
            var titles = string.Join(", ", place.Select(d => d.Title));
            // A cavity in which several fuses meet is the feed that they share.
            var ratings = place.Count(d => d.Model is FuseModel) > 1 ? "+" : string.Join("/", place.Select(d => d.Model is FuseModel fuse ? Words.Figure(fuse.Amps, "0.##") : "R").Distinct());
            svg.Append(CultureInfo.InvariantCulture, $"<g><title>{Text(titles)}</title><rect x=\"{x - 14:0.#}\" y=\"{y - 14:0.#}\" width=\"28\" height=\"28\" rx=\"3\"/><text x=\"{x:0.#}\" y=\"{y:0.#}\">{ratings}</text><text class=\"name\" x=\"{x:0.#}\" y=\"{y + 10:0.#}\">{Text(place.Key)}</text></g>");
        }

        return svg.Append("</svg>").ToString();
    }

    private static IEnumerable<Device> Parts(Loom loom, Connector box) => loom.DevicesOn(box.Ref).Where(d => d.Model is FuseModel or RelayModel);

    private static string Text(string text) => WebUtility.HtmlEncode(text);
}
