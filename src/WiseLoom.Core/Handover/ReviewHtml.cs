using System.Collections.Immutable;
using System.Globalization;
using System.Text.Encodings.Web;
using Fluid;
using Fluid.Values;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Handover;

/// <summary>A question with what was answered.</summary>
public sealed record ReviewQuestion(long Id, string Asks, ImmutableArray<string> Choices, ImmutableArray<ReviewLine> Answers);

/// <summary>Something that was said.</summary>
/// <param name="Old">Whether it was said of an earlier revision.</param>
public sealed record ReviewLine(string Name, string Subject, string Words, DateTimeOffset At, bool Old);

/// <summary>The page on which a customer answers before a loom is boxed: plain forms, no script.</summary>
public static class ReviewHtml
{
    private static readonly Lazy<IFluidTemplate> Template = new(() => new FluidParser().Parse(PackHtml.Resource("review.liquid")));

    /// <summary>The page; all that is from the file or from people is encoded.</summary>
    /// <param name="path">Address of the review, without a slash at its end.</param>
    /// <param name="told">What came of the last thing that was said, in English; empty for nothing.</param>
    /// <param name="language">What the customer reads.</param>
    public static string Render(Loom loom, string machine, string path, ImmutableArray<ReviewQuestion> questions, ImmutableArray<ReviewLine> comments, ImmutableArray<ReviewLine> gos, ImmutableArray<string> told, Language language)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(language);
        using var spoken = Words.In(language);
        static object Line(ReviewLine line) => new { line.Name, line.Subject, line.Words, At = PackHtml.Moment(line.At), line.Old };
        var context = new TemplateContext(Liquid.Options);
        context.SetValue("css", new StringValue(PackHtml.Resource("pack.css"), false));
        context.SetValue("loom", loom.Name);
        context.SetValue("revision", loom.Revision);
        context.SetValue("machine", machine);
        context.SetValue("path", path);
        context.SetValue("told", told.IsDefaultOrEmpty ? null : string.Join(' ', told.Select(Words.Text)));
        context.SetValue("lang", language.Code);
        context.SetValue("changed", !gos.IsDefaultOrEmpty && gos.All(g => g.Old));
        context.SetValue("questions", questions.Select(q => new { q.Id, q.Asks, Choices = q.Choices.ToArray(), Answers = q.Answers.Select(Line).ToArray(), Key = Guid.CreateVersion7().ToString() }).ToArray());
        context.SetValue("comments", comments.Select(Line).ToArray());
        context.SetValue("gos", gos.Select(Line).ToArray());
        context.SetValue("connectors", new TrunkTree(loom).WalkingOrder().Select(c => new { c.Ref, c.Title }).ToArray());
        context.SetValue("commentKey", Guid.CreateVersion7().ToString());
        context.SetValue("goKey", Guid.CreateVersion7().ToString());
        return Template.Value.Render(context, HtmlEncoder.Default);
    }
}
