using System.Globalization;
using System.Text.Encodings.Web;
using Fluid;
using Fluid.Values;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Handover;

/// <summary>Lays a run's record out as one self-contained HTML file: no script, no outside resource.</summary>
public static class RunSheetHtml
{
    private static readonly TemplateOptions Options = new() { MemberAccessStrategy = new UnsafeMemberAccessStrategy(), CultureInfo = CultureInfo.InvariantCulture };

    private static readonly Lazy<IFluidTemplate> Template = new(() => new FluidParser().Parse(PackHtml.Resource("run-sheet.liquid")));

    /// <summary>The whole file as text. Everything from the loom file or typed by a person is encoded.</summary>
    public static string Render(RunSheet sheet)
    {
        ArgumentNullException.ThrowIfNull(sheet);
        var context = new TemplateContext(Options);
        context.SetValue("css", new StringValue(PackHtml.Resource("pack.css"), false));
        context.SetValue("head", sheet.Head);
        context.SetValue("sheet", new { sheet.Loom, sheet.Revision, sheet.Result, AmbientC = sheet.AmbientC.ToString("0.#", CultureInfo.InvariantCulture), Isolation = sheet.Isolation == Isolation.Thorough ? "thorough" : "neighbours" });
        context.SetValue("startedAt", PackHtml.Moment(sheet.Head.StartedAt));
        context.SetValue("notProven", sheet.NotProven.ToArray());
        context.SetValue("checks", sheet.Checks.Select(c => new { c.Check, c.Showed, Was = c.Passed ? "right" : "not right", c.By, At = PackHtml.Moment(c.At) }).ToArray());
        context.SetValue("faults", sheet.Faults.Select(f => new { f.Number, f.Step, f.Seen, Cause = f.Cause ?? "not found yet", Did = f.Did is null ? "nothing yet" : $"{f.Did}: {string.Join(", ", f.Places)}", f.State, f.By }).ToArray());
        context.SetValue("steps", sheet.Steps.Select(Step).ToArray());
        context.SetValue("probes", sheet.Probes.Select(p => new { p.Reading, p.By, At = PackHtml.Moment(p.At), Counts = p.Counts ? "yes" : "not any more" }).ToArray());
        return Template.Value.Render(context, HtmlEncoder.Default);
    }

    private static object Step(SheetStep s) => new
    {
        s.Number,
        s.Kind,
        s.Black,
        Red = s.Subject ?? s.Red ?? "all other circuits",
        s.MustRead,
        s.State,
        Why = s.Why ?? "",
        Readings = s.Readings.Select(r => new { Value = new Reading(r.Value, r.Unit).InWords(), r.Verdict, Note = $"{r.By}, {PackHtml.Moment(r.At)}, {r.From}{(r.Counts ? "" : "; does not count")}" }).ToArray(),
    };
}
