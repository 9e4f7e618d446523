using System.Globalization;
using System.Reflection;
using System.Text.Encodings.Web;
using Fluid;
using Fluid.Values;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

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
        context.SetValue("faults", pack.Faults.Select(Fault).ToArray());
        return Template.Value.Render(context, HtmlEncoder.Default);
    }

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
        var last = step.Readings.LastOrDefault();
        return new
        {
            step.Step.Number,
            Kind = step.Step.Kind switch { StepKind.Continuity => "joined", StepKind.Load => "under load", _ => "apart" },
            Black = step.Step.Black.ToString(),
            Red = step.Step.Red?.ToString() ?? "all other circuits",
            Limits = Say.Passes(step.Step),
            Reading = last is null ? "—" : Say.Reading(last.Reading),
            Verdict = step.State == StepState.Skipped ? "not tested" : last is not null ? Say.Verdict(last.Verdict) : step.Carried is not null ? "pass, carried over" : "not tested",
            Earlier = string.Join(", ", step.Readings.SkipLast(1).Select(r => $"{Say.Reading(r.Reading)} ({Say.Verdict(r.Verdict)})")),
            By = last is null ? step.Skipped ?? step.Carried ?? "" : $"{last.By}, {Moment(last.At)}",
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

    private static string Moment(DateTimeOffset at) => at.ToUniversalTime().ToString("yyyy-MM-dd HH:mm 'UTC'", CultureInfo.InvariantCulture);

    private static string Resource(string name)
    {
        var assembly = Assembly.GetExecutingAssembly();
        using var stream = assembly.GetManifestResourceStream($"WiseLoom.Core.Handover.{name}")
            ?? throw new InvalidOperationException($"The build left out {name}.");
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }
}
