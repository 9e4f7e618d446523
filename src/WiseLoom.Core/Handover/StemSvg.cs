using System.Globalization;
using System.Net;
using System.Text;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Handover;

/// <summary>Draws the stem for papers: the trunk to scale, each connector numbered as it is met.</summary>
internal static class StemSvg
{
    private const double Width = 1000;
    private const double TagHeight = 34;
    private const double Gap = 34;

    internal static string Draw(StemLayout stem)
    {
        var side = Gap + (stem.Lanes * (TagHeight + 6));
        var svg = new StringBuilder();
        svg.Append(CultureInfo.InvariantCulture, $"<svg class=\"stem\" viewBox=\"0 0 {Width} {(2 * side) + 12}\" role=\"group\" aria-label=\"{WebUtility.HtmlEncode(Words.Of($"The trunk to scale, {stem.TrunkMm:0} millimetres, with {stem.Tags.Length} connectors"))}\">");
        var y = side + 6;
        svg.Append(string.Concat(stem.Tags.Select(t => Branch(t, y))));
        svg.Append(CultureInfo.InvariantCulture, $"<line class=\"trunk\" x1=\"0\" y1=\"{y}\" x2=\"{Width}\" y2=\"{y}\"/>");
        foreach (var (id, _, at) in stem.Marks)
        {
            svg.Append(CultureInfo.InvariantCulture, $"<g class=\"mark\"><rect x=\"{(at * Width) - 3:0.#}\" y=\"{y - 9}\" width=\"6\" height=\"18\"/><title>{WebUtility.HtmlEncode(id)}</title></g>");
        }

        for (var i = 0; i < stem.Tags.Length; i++)
        {
            svg.Append(Tag(stem.Tags[i], i + 1, y, stem.TagWidth * Width));
        }

        return svg.Append("</svg>").ToString();
    }

    private static double Top(StemTag tag, double y) => tag.Above
        ? y - Gap - ((tag.Lane + 1) * (TagHeight + 6)) + 6
        : y + Gap + (tag.Lane * (TagHeight + 6));

    private static string Branch(StemTag tag, double y)
    {
        var near = tag.Above ? Top(tag, y) + TagHeight : Top(tag, y);
        var bend = tag.Above ? y - 10 : y + 10;
        return string.Create(CultureInfo.InvariantCulture, $"<path class=\"branch\" d=\"M{tag.LeavesAt * Width:0.#} {y} L{tag.LeavesAt * Width:0.#} {bend} L{tag.Centre * Width:0.#} {near:0.#}\"/>");
    }

    private static string Tag(StemTag tag, int number, double y, double width)
    {
        var (left, top) = ((tag.Centre * Width) - (width / 2) + 1, Top(tag, y));
        var reference = WebUtility.HtmlEncode(tag.Connector);
        var size = Math.Clamp((width - 4) / tag.Connector.Length * 1.7, 6, 11);
        return string.Create(
            CultureInfo.InvariantCulture,
            $"<a href=\"#c{number}\"><rect class=\"tag\" x=\"{left:0.#}\" y=\"{top:0.#}\" width=\"{width - 2:0.#}\" height=\"{TagHeight}\" rx=\"3\"/><text class=\"number\" x=\"{left + (width / 2) - 1:0.#}\" y=\"{top + 14:0.#}\">{number}</text><text class=\"ref\" font-size=\"{size:0.#}\" x=\"{left + (width / 2) - 1:0.#}\" y=\"{top + 28:0.#}\">{reference}</text></a>");
    }
}
