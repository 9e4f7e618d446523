using System.Globalization;
using System.Reflection;
using System.Text.Encodings.Web;
using Fluid;
using Fluid.Values;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Handover;

/// <summary>Lays a pack out as one self-contained HTML file: no script, no outside resource.</summary>
public static class PackHtml
{
    private static readonly TemplateOptions Options = new() { MemberAccessStrategy = new UnsafeMemberAccessStrategy(), CultureInfo = CultureInfo.InvariantCulture };

    private static readonly Lazy<IFluidTemplate> Template = new(() => new FluidParser().Parse(Resource("pack.liquid")));

    /// <summary>The whole file as text. Everything from the loom file or typed by a person is encoded.</summary>
    public static string Render(PackModel pack, Loom loom)
    {
        var context = new TemplateContext(Options);
        context.SetValue("css", new StringValue(Resource("pack.css"), false));
        context.SetValue("head", pack.Head);
        context.SetValue("signedAt", Moment(pack.Head.SignedAt));
        context.SetValue("result", pack.Result);
        context.SetValue("testedBy", string.Join(", ", pack.TestedBy));
        context.SetValue("notTested", pack.NotTested.ToArray());
        context.SetValue("cautions", pack.Cautions.ToArray());
        context.SetValue("stem", new StringValue(StemSvg.Draw(StemLayout.Of(loom)), false));
        context.SetValue("stops", pack.Walk.Select(Stop).ToArray());
        context.SetValue("steps", pack.Record.Select(Step).ToArray());
        context.SetValue("power", pack.PowerUp is { } power ? PowerUp(power) : null);
        context.SetValue("faults", pack.Faults.Select(Fault).ToArray());
        return Template.Value.Render(context, HtmlEncoder.Default);
    }

    /// <summary>A frozen pack with a warning at its head, for a reader who opens it after something has spoken against it.</summary>
    /// <param name="html">A pack as <see cref="Render"/> made it.</param>
    /// <param name="against">What speaks against it; null for nothing, then the pack is left as it is.</param>
    public static string Warned(string html, string? against)
    {
        ArgumentNullException.ThrowIfNull(html);
        const string Body = "<body>";
        return against is null || html.IndexOf(Body, StringComparison.Ordinal) is var at && at < 0
            ? html
            : html.Insert(at + Body.Length, $"\n<p class=\"against\" role=\"alert\"><b>This pack no longer holds.</b> {HtmlEncoder.Default.Encode(against)} Ask the shop before going by it.</p>");
    }

    private static object PowerUp(PackPowerUp power) => new
    {
        power.Where,
        Fitted = power.Fitted.ToArray(),
        Stages = power.Stages.Select(s => new { s.Number, s.Name, s.Words, Checks = s.Checks.Select(c => new { c.Do, c.Expected, c.Said, c.Note, c.By, Passed = c.State == CheckState.Passed }).ToArray() }).ToArray(),
        Settings = power.Settings.Select(r => new { r.Setting.Name, r.Setting.Text, r.Why }).ToArray(),
    };

    private static object Stop(WalkStop stop) => new
    {
        stop.Number,
        stop.Connector.Ref,
        stop.Connector.Title,
        stop.Connector.Place,
        stop.Connector.Unlock,
        stop.Connector.IfLeftOff,
        stop.Connector.Note,
        Family = stop.Connector.Family.Title,
        PlugsInto = string.Join(", ", stop.PlugsInto),
        Along = string.Create(CultureInfo.InvariantCulture, $"{stop.FromStartMm:0} mm along the trunk{(stop.OffTrunkMm > 0 ? $", then {stop.OffTrunkMm:0} mm out" : "")}"),
        Mating = new StringValue(FaceSvg.Draw(stop, stop.MatingFace), false),
        WireSide = new StringValue(FaceSvg.Draw(stop, stop.WireSide), false),
        Pins = stop.Pins.Where(p => !p.Wires.IsEmpty).Select(Pin).ToArray(),
        Unwired = string.Join(", ", stop.Pins.Where(p => p.Wires.IsEmpty).GroupBy(p => p.Kind).Select(g => $"{g.Key}: {string.Join(' ', g.Select(p => p.Cavity))}")),
    };

    private static object Pin(PinRow pin) => new
    {
        pin.Cavity,
        Colours = pin.Colours.Select(c => new { c.Text, c.Spoken, Stripes = c.Stripes.ToArray() }).ToArray(),
        pin.Section,
        pin.GoesTo,
        pin.Function,
        pin.Kind,
        pin.Reads,
    };

    private static object Step(RecordedStep step)
    {
        var last = step.Last;
        return new
        {
            step.Step.Number,
            Kind = step.Step.MustBe,
            Black = step.Step.Black.ToString(),
            Red = step.Step.RedInWords,
            Limits = step.Step.Passes(),
            Reading = last is null ? "—" : last.Reading.InWords(),
            Verdict = step.State == StepState.Skipped ? "not tested" : last is not null ? last.Verdict.InWords() : step.Carried is not null ? "pass, carried over" : step.Group is not null ? "pass, in a group" : "not tested",
            Earlier = string.Join(", ", step.Readings.Where(r => r != last).Select(r => $"{r.Reading.InWords()} ({r.Verdict.InWords()}{(r.Bearing == Bearing.Stands ? "" : ", came late")})")),
            By = last is null ? step.Skipped ?? step.Carried ?? step.Group ?? "" : $"{last.By}, {Moment(last.At)}",
        };
    }

    private static object Fault(LoggedFault fault) => new
    {
        fault.Number,
        fault.Step,
        fault.Seen,
        Cause = fault.Cause?.Words ?? "not found",
        Did = fault.Fix is null ? "nothing" : $"{fault.Fix.Did}: {string.Join(", ", fault.Fix.Places)}",
        fault.Fix?.Note,
        By = fault.FixedBy ?? fault.LoggedBy,
        Retests = fault.Fix is null ? "" : string.Join(", ", fault.Fix.Retests),
    };

    internal static string Moment(DateTimeOffset at) => at.ToUniversalTime().ToString("yyyy-MM-dd HH:mm 'UTC'", CultureInfo.InvariantCulture);

    internal static string Resource(string name)
    {
        var assembly = Assembly.GetExecutingAssembly();
        using var stream = assembly.GetManifestResourceStream($"WiseLoom.Core.Handover.{name}")
            ?? throw new InvalidOperationException($"The build left out {name}.");
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }
}
