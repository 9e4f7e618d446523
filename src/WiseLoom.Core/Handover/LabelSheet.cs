using System.Collections.Immutable;
using System.Globalization;
using System.Net;
using System.Text;
using QRCoder;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Handover;

/// <summary>How a label sits on its wires.</summary>
public enum LabelKind
{
    /// <summary>Folded round the wires, the text twice, one side upside down to the fold.</summary>
    Flag,

    /// <summary>Wound round the branch, the text again and again so that one can be read from any side.</summary>
    Wrap,

    /// <summary>Stuck on flat.</summary>
    Plain,
}

/// <summary>What labels are printed on.</summary>
public enum LabelPaper
{
    /// <summary>210 × 297 mm.</summary>
    A4,

    /// <summary>8.5 × 11 inches.</summary>
    Letter,

    /// <summary>One after the other on a strip of 24 mm.</summary>
    Strip,
}

/// <summary>Labels for the connectors of a loom: ref, title and place, and a code that leads to the connector's part of the pack.</summary>
/// <param name="OnlyMistaken">Whether only plugs are labelled that fit into another's place within reach; else all.</param>
/// <param name="Link">Address of the pack, to which the connector's part is added; null for labels whose code holds plain text.</param>
public sealed record LabelSheet(Loom Loom, LabelKind Kind, LabelPaper Paper, bool OnlyMistaken, string? Link)
{
    /// <summary>Connectors that get one, in walking order with their number in the walk.</summary>
    public ImmutableArray<(int Number, Connector Connector)> Labelled
    {
        get
        {
            var mistaken = OnlyMistaken ? MixUp.Pairs(Loom).SelectMany(p => new[] { p.One, p.Other }).ToHashSet(StringComparer.Ordinal) : null;
            return [.. new TrunkTree(Loom).WalkingOrder().Select((c, i) => (Number: i + 1, Connector: c)).Where(x => mistaken?.Contains(x.Connector.Ref) != false)];
        }
    }

    /// <summary>A page to print at its own size: no script, no outside resource, everything from the file encoded.</summary>
    public string Render()
    {
        var html = new StringBuilder();
        html.Append("<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><title>").Append(Text($"{Loom.Name} {Loom.Revision}, labels")).Append("</title><style>")
            .Append(PageStyle).Append(PackHtml.Resource("labels.css")).Append("</style></head><body><h1>").Append(Text($"{Loom.Name} {Loom.Revision}: {Labelled.Length} labels, {Kind.ToString().ToLowerInvariant()}")).Append("</h1><main>");
        foreach (var (number, connector) in Labelled)
        {
            Label(html, number, connector);
        }

        return html.Append("</main></body></html>").ToString();
    }

    private string PageStyle => Paper switch
    {
        LabelPaper.A4 => "@page{size:A4;margin:10mm}",
        LabelPaper.Letter => "@page{size:letter;margin:10mm}",
        _ => "@page{size:24mm 70mm;margin:1mm}main{display:block!important}.label{break-after:page;margin:0}h1{display:none}",
    };

    private void Label(StringBuilder html, int number, Connector connector)
    {
        var side = $"<span class=\"side\"><b{(connector.Ref.Length > 6 ? " class=\"long\"" : "")}>{Text(connector.Ref)}</b><span>{Text(connector.Title)}</span></span>";
        html.Append(CultureInfo.InvariantCulture, $"<article class=\"label {Kind.ToString().ToLowerInvariant()}\">");
        html.Append(Kind switch
        {
            LabelKind.Flag => $"{side}<span class=\"fold\"></span>{Code(number, connector)}{side}",
            LabelKind.Wrap => $"{side}{side}{Code(number, connector)}{side}",
            _ => $"{Code(number, connector)}{side}",
        });
        html.Append("</article>\n");
    }

    private string Code(int number, Connector connector)
    {
        var content = Link is { } link ? string.Create(CultureInfo.InvariantCulture, $"{link}#c{number}") : $"{Loom.Name} {Loom.Revision} {connector.Ref}: {connector.Title}";
        // A code of plain text stays within what a small label can carry.
        using var data = QRCodeGenerator.GenerateQrCode(content.Length > 200 ? content[..200] : content, QRCodeGenerator.ECCLevel.M, forceUtf8: true);
        var rows = data.ModuleMatrix;
        var path = new StringBuilder();
        for (var y = 0; y < rows.Count; y++)
        {
            for (var x = 0; x < rows[y].Count; x++)
            {
                if (rows[y][x])
                {
                    path.Append(CultureInfo.InvariantCulture, $"M{x} {y}h1v1h-1z");
                }
            }
        }

        return $"<svg class=\"code\" viewBox=\"0 0 {rows.Count} {rows.Count}\" role=\"img\" aria-label=\"{Text(content)}\"><path d=\"{path}\"/></svg>";
    }

    private static string Text(string text) => WebUtility.HtmlEncode(text);
}
