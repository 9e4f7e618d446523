using System.Net;
using System.Text;

namespace WiseLoom.Core.Handover;

/// <summary>The guide as parts that fold open one in the other: it needs no script, and works with a keyboard and a screen reader.</summary>
internal static class GuideHtml
{
    internal static string Draw(PackPapers papers)
    {
        var html = new StringBuilder();
        foreach (var start in papers.Guide)
        {
            html.Append("<details class=\"see\"><summary>").Append(Text(start.Title)).Append("</summary>");
            Node(html, start.Begin, 1);
            html.Append("</details>\n");
        }

        return html.ToString();
    }

    private static void Node(StringBuilder html, PackGuide node, int check)
    {
        if (node.Do is { } act)
        {
            html.Append("<p><b>").Append(Text(Words.Of($"Check {check}."))).Append("</b> ").Append(Text(act)).Append("</p>");
            foreach (var answer in node.Answers)
            {
                html.Append("<details><summary>").Append(Text(answer.Answer)).Append("</summary>");
                Node(html, answer.Next, check + 1);
                html.Append("</details>");
            }

            return;
        }

        html.Append("<p class=\"end\">");
        if (node.Code is { } code)
        {
            html.Append("<b>").Append(Text(Words.Of($"Call the shop and tell them code {code}."))).Append("</b> ").Append(Text(Words.Text("It is one of: ")));
        }
        else if (node.Causes.Length > 1)
        {
            html.Append(Text(Words.Text("It is one of these, which lie on one way; battery and plugs off, measure each from end to end: ")));
        }
        else
        {
            html.Append(Text(Words.Text("Found: ")));
        }

        html.Append(string.Join("; ", node.Causes.Take(12).Select(Text))).Append(node.Causes.Length > 12 ? Text(Words.Text(" and more")) : "").Append(".</p>");
    }

    private static string Text(string text) => WebUtility.HtmlEncode(text);
}
