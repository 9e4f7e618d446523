using System.Net;
using System.Text;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Handover;

/// <summary>The way of one function as a drawing that breaks into rows as a page is wide: from the battery's plus through wires, fuses and contacts to the part that works, and on to the minus. Wires are drawn in their own colours.</summary>
internal static class WayDrawing
{
    internal static string Draw(HowItWorks how, Loom loom)
    {
        var pieces = how.Way.Select(label => Piece(loom, label)).Where(p => p.Name.Length > 0).ToList();
        var html = new StringBuilder();
        html.Append("<p class=\"way\" role=\"img\" aria-label=\"").Append(Text(Words.Of($"{how.Name}: from plus to minus by {string.Join(", ", pieces.Select(p => p.Name))}"))).Append("\"><span class=\"pole\">+</span>");
        foreach (var (_, drawn) in pieces)
        {
            html.Append(drawn);
        }

        return html.Append("<span class=\"pole\">−</span></p>").ToString();
    }

    private static (string Name, string Drawn) Piece(Loom loom, string label)
    {
        if (loom.FindWire(label) is { } wire)
        {
            var stripes = string.Concat(wire.Colour.Bands.Select(hex => $"<i style=\"background:{hex}\"></i>"));
            return (wire.Id, $"<span class=\"line\"><small>{Text(wire.Id)}</small><span class=\"copper\">{stripes}</span><small>{Text(wire.Colour.Text)}</small></span>");
        }

        if (loom.Devices.FirstOrDefault(d => d.Ref == label) is not { Model: not BatteryModel } device)
        {
            return ("", "");
        }

        var rating = device.Model is FuseModel fuse ? Rating.InWords(fuse.Amps) : device.Model is RelayModel ? Words.Text("contact") : "";
        return (device.Title, $"<span class=\"part{(device.Model is LoadModel ? " works" : "")}\">{Text(device.Title)}{(rating.Length > 0 ? $"<small>{Text(rating)}</small>" : "")}</span>");
    }

    private static string Text(string text) => WebUtility.HtmlEncode(text);
}
