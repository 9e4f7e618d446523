using System.Globalization;
using System.Reflection;
using System.Text.Encodings.Web;
using System.Text.RegularExpressions;
using Fluid;
using Fluid.Values;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Handover;

/// <summary>Lays a pack out as one self-contained HTML file: no outside resource, and no script but its own for finding and ticking, which a hash lets through.</summary>
public static partial class PackHtml
{
    private static readonly Lazy<IFluidTemplate> Template = new(() => new FluidParser().Parse(Resource("pack.liquid")));

    private static readonly Lazy<Dictionary<string, IFluidTemplate>> Sections = new(() => PackSection.All.ToDictionary(s => s.Id, s => new FluidParser().Parse(Resource($"sections.{s.Id}.liquid")), StringComparer.Ordinal));

    private static readonly Lazy<string> Style = new(() => $"{Face("regular", 400)}{Face("bold", 700)}{Resource("pack.css")}");

    private static readonly Lazy<string> Script = new(() => Resource("pack.js"));

    /// <summary>What a content policy must name so that the pack's own script runs, quotes and all.</summary>
    public static string ScriptHash { get; } = $"'sha256-{Convert.ToBase64String(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(Resource("pack.js"))))}'";

    /// <summary>The whole file as text. Everything from the loom file or typed by a person is encoded.</summary>
    public static string Render(PackModel pack, Loom loom)
    {
        var language = Language.Of(pack.Head.Language);
        using var spoken = Words.In(language);
        var context = new TemplateContext(Liquid.Options);
        var sections = PackSection.Of(pack).ToList();
        context.SetValue("css", new StringValue(Style.Value, false));
        context.SetValue("head", pack.Head);
        context.SetValue("lang", language.Code);
        context.SetValue("translated", language != Language.English);
        context.SetValue("signedAt", Moment(pack.Head.SignedAt));
        context.SetValue("result", pack.Result);
        context.SetValue("testedBy", string.Join(", ", pack.TestedBy));
        context.SetValue("notTested", pack.NotTested.ToArray());
        context.SetValue("cautions", pack.Cautions.ToArray());
        context.SetValue("stem", new StringValue(StemSvg.Draw(StemLayout.Of(loom)), false));
        context.SetValue("script", new StringValue(Script.Value, false));
        context.SetValue("scriptHash", new StringValue(ScriptHash, false));
        context.SetValue("packKey", $"pack {pack.Head.Job} {pack.Head.Version}");
        context.SetValue("parts", sections.Select(s => new { s.Id, Title = Words.Text(s.Title) }).Prepend(new { Id = "care", Title = Words.Text("Before you start") }).ToArray());
        context.SetValue("index", pack.Walk.Select(s => new { s.Number, s.Connector.Ref, s.Connector.Title }).ToArray());
        context.SetValue("groups", AlikeStops.Of(pack.Walk).Select(g => Group(g, pack)).ToArray());
        context.SetValue("papers", pack.Papers is { } papers ? Papers(papers, loom) : null);
        context.SetValue("guide", pack.Papers is { Guide.IsEmpty: false } guided ? new StringValue(GuideHtml.Draw(guided), false) : new StringValue(""));
        context.SetValue("firstStart", pack.Papers?.FirstStart.ToArray() ?? []);
        context.SetValue("connects", pack.Papers?.Connects.Select(c => new { c.Pin, c.Wire, c.Function, c.Is, Most = c.MostAmps < 0.001 ? Words.Text("under 1 mA") : Say.Amps(c.MostAmps), Fuse = c.FuseAmps is { } fuse ? Rating.InWords(fuse) : "" }).ToArray() ?? []);
        context.SetValue("questions", pack.Questions.Select(q => new { q.Asks, Choices = q.Choices.ToArray(), q.Answer }).ToArray());
        context.SetValue("settings", pack.Settings.Select(r => new { r.Controller, r.Setting.Name, r.Setting.Text, r.Why }).ToArray());
        context.SetValue("changes", pack.Changes.ToArray());
        context.SetValue("fitting", pack.Fitting.ToArray());
        context.SetValue("box", pack.Box.GroupBy(b => b.Kind).OrderBy(g => g.Key).Select(g => new { Title = Words.Text(InBox(g.Key)), Things = g.Select(b => new { b.Title, b.Count, Age = b.Years is { } years ? Words.Of($"{years:0.#} years old") : "", b.Note }).ToArray() }).ToArray());
        context.SetValue("boxPhotos", pack.BoxPhotos.IsDefault ? [] : pack.BoxPhotos.ToArray());
        context.SetValue("weight", pack.WeightKg is { } kg ? $"{Words.Figure(kg, "0.#")} kg" : null);
        context.SetValue("codes", pack.CodeReadings.Select(c => new { c.Socket, Bridge = c.Bridge.IsDefaultOrEmpty ? null : Words.And(c.Bridge.Select(b => b.ToString())), c.How }).ToArray());
        context.SetValue("options", pack.Options.Select(o => new { o.Where, o.Words }).ToArray());
        context.SetValue("boxes", FuseCard.Boxes(loom).Select(b => new { Rem = FaceLayout.Of(b.Family, FaceSide.MatingFace).Columns * 4, Title = $"{b.Ref}, {b.Title}", Drawing = new StringValue(FuseCard.Draw(loom, b), false) }).ToArray());
        context.SetValue("wires", loom.Wires.OrderBy(w => w.Circuit ?? "", NaturalOrder.Comparer).Select(w => new { Function = w.Circuit ?? "", w.Id, From = w.From.Text, To = w.To.Text, Colour = w.Colour.Text, Section = w.SectionInWords() }).ToArray());
        context.SetValue("steps", pack.Record.Select(Step).ToArray());
        context.SetValue("power", pack.PowerUp is { } power ? PowerUp(power) : null);
        context.SetValue("faults", pack.Faults.Select(Fault).ToArray());
        context.SetValue("decisions", pack.Decisions.Select(d => new { d.What, d.Reason, d.By, At = Moment(d.At) }).ToArray());
        context.SetValue("earlier", pack.Earlier.Select(e => new { e.Id, e.Revision, e.Done, e.Steps, By = e.SetAsideBy, At = Moment(e.SetAsideAt), Found = e.Found.ToArray() }).ToArray());
        context.SetValue("sections", sections.Select(s => new StringValue(Sections.Value[s.Id].Render(context, HtmlEncoder.Default), false)).ToArray());
        return Unit().Replace(Template.Value.Render(context, HtmlEncoder.Default), "\u00a0");
    }

    /// <summary>The space between a number and its unit, where no line may break.</summary>
    [GeneratedRegex(@"(?<=\d) (?=(?:[mkM]?(?:V|A|&#x3A9;|Ω)|mm&#xB2;|mm²?|%|s|min|&#xB0;C|°C)(?![\w]))")]
    private static partial Regex Unit();

    /// <summary>A frozen pack with a warning at its head, for a reader who opens it after something has spoken against it.</summary>
    /// <param name="html">A pack as <see cref="Render"/> made it.</param>
    /// <param name="against">What speaks against it; null for nothing, then the pack is left as it is.</param>
    public static string Warned(string html, string? against)
    {
        ArgumentNullException.ThrowIfNull(html);
        const string Body = "<body>";
        return against is null || html.IndexOf(Body, StringComparison.Ordinal) is var at && at < 0
            ? html
            : html.Insert(at + Body.Length, $"\n<p class=\"against\" role=\"alert\" lang=\"en\"><b>This pack no longer holds.</b> {HtmlEncoder.Default.Encode(against)} Ask the shop before going by it.</p>");
    }

    private static string InBox(BoxKind kind) => kind switch
    {
        BoxKind.Packed => "In the box",
        BoxKind.Returned => "Yours, comes back",
        BoxKind.Replaced => "Replaced",
        BoxKind.Reused => "Kept as it was",
        _ => "Not in the box: have it at hand",
    };

    private static object PowerUp(PackPowerUp power) => new
    {
        power.Where,
        Fitted = power.Fitted.ToArray(),
        Stages = power.Stages.Select(s => new { s.Number, s.Name, s.Words, Checks = s.Checks.Select(c => new { c.Do, c.Expected, c.Said, c.Note, c.By, Passed = c.State == CheckState.Passed }).ToArray() }).ToArray(),
    };

    private static object Papers(PackPapers papers, Loom loom) => new
    {
        Minimum = papers.Minimum.Sentence,
        Runs = papers.Minimum.Functions.ToArray(),
        Feed = papers.Minimum.Feed.Select(f => new { At = f.At.ToString(), Volts = Say.Volts(f.Volts), Amps = Say.Amps(f.Amps), Peak = Say.Amps(f.PeakAmps), Fuse = Rating.InWords(f.FuseAmps) }).ToArray(),
        Untold = string.Join(", ", papers.Minimum.LeftOut),
        Played = papers.Played.Causes,
        Named = Words.Figure(Math.Round(100 * papers.Played.Named), "0"),
        Checks = Words.Figure(papers.Played.MeanChecks, "0.0"),
        Symptoms = papers.Symptoms.Select(s => new { s.Title, Suspects = s.Suspects.Select(x => new { x.Cause, x.Check, Share = x.Share.ToString(CultureInfo.InvariantCulture) }).ToArray() }).ToArray(),
        How = papers.How.Select(h => new { h.Name, h.Sentence, Drawing = new StringValue(WayDrawing.Draw(h, loom), false) }).ToArray(),
        Codes = papers.Codes.Select(c => new { c.Code.Code, c.Code.Text, c.Reason }).ToArray(),
        Fuses = papers.Fuses.Select(f => new { f.Title, Amps = Rating.InWords(f.Amps), f.Feeds, f.Stops }).ToArray(),
        MixUps = papers.MixUps.Select(m => new { Pair = Words.And([m.One, m.Other]), Apart = string.Create(CultureInfo.InvariantCulture, $"{m.ApartMm:0} mm"), m.Does }).ToArray(),
    };

    /// <summary>Connectors that are alike under one heading, or one by itself.</summary>
    private static object Group(AlikeStops group, PackModel pack)
    {
        var papers = pack.Papers;
        var (first, last, many) = (group.Stops[0], group.Stops[^1], group.Stops.Length > 1);
        string Computed(WalkStop stop) => papers?.LeftOff.FirstOrDefault(l => l.Connector == stop.Connector.Ref)?.Computed ?? "";
        var mixed = papers?.MixUps.Where(m => group.Stops.Any(s => s.Connector.Ref == m.One || s.Connector.Ref == m.Other)).ToList() ?? [];
        string Other(MixUp m) => many ? Words.Of($"{m.One} with {m.Other}") : m.One == first.Connector.Ref ? m.Other : m.One;
        return new
        {
            first.Number,
            Many = many,
            Numbers = many ? $"{first.Number} …" : first.Number.ToString(CultureInfo.InvariantCulture),
            Ref = string.Join(", ", group.Stops.Select(s => s.Connector.Ref)),
            Edge = many ? $"{first.Connector.Ref} … {last.Connector.Ref}" : first.Connector.Ref,
            Title = many ? $"{first.Connector.Title} – {last.Connector.Title}" : first.Connector.Title,
            Place = string.Join(" · ", group.Stops.Select(s => s.Connector.Place).OfType<string>().Distinct()) is { Length: > 0 } place ? place : null,
            first.Connector.Unlock,
            IfLeftOff = string.Join(" ", group.Stops.Select(s => s.Connector.IfLeftOff).OfType<string>().Distinct()) is { Length: > 0 } said ? said : null,
            Computed = string.Join(" ", group.Stops.Select(Computed).Distinct()),
            MixUp = mixed.Count == 0 ? "" : Words.Of($"{string.Join(", ", mixed.Select(Other).Distinct().Take(8))}{(mixed.Count > 8 ? Words.Text(" and more") : "")}: same housing, within reach."),
            first.Connector.Note,
            Family = first.Connector.Family.Title,
            PlugsInto = many ? $"{string.Join(", ", first.PlugsInto)} – {string.Join(", ", last.PlugsInto)}" : string.Join(", ", first.PlugsInto),
            Photos = group.Stops.Where(s => pack.Photos.ContainsKey(s.Connector.Ref)).Select(s => new { s.Connector.Ref, Data = pack.Photos[s.Connector.Ref] }).ToArray(),
            Along = Along(first),
            Mating = new StringValue(FaceSvg.Draw(first, first.MatingFace), false),
            WireSide = new StringValue(FaceSvg.Draw(first, first.WireSide), false),
            Stops = group.Stops.Select(s => new { s.Number, s.Connector.Ref, Along = Along(s), Pins = s.Pins.Where(p => !p.Wires.IsEmpty).Select(p => Pin(p, papers?.Shows.GetValueOrDefault($"{s.Connector.Ref}:{p.Cavity}") ?? "")).ToArray() }).ToArray(),
            Unwired = string.Join(", ", first.Pins.Where(p => p.Wires.IsEmpty).GroupBy(p => p.Kind).Select(g => $"{g.Key}: {string.Join(' ', g.Select(p => p.Cavity))}")),
        };
    }

    private static string Along(WalkStop stop) => stop.OffTrunkMm > 0 ? Words.Of($"{stop.FromStartMm:0} mm along the trunk, then {stop.OffTrunkMm:0} mm out") : Words.Of($"{stop.FromStartMm:0} mm along the trunk");

    private static object Pin(PinRow pin, string shows) => new
    {
        pin.Cavity,
        Colours = pin.Colours.Select(c => new { c.Text, c.Spoken, Bands = c.Bands.ToArray() }).ToArray(),
        pin.Section,
        pin.GoesTo,
        pin.Function,
        pin.Kind,
        pin.Reads,
        Shows = shows,
    };

    private static object Step(RecordedStep step)
    {
        var last = step.Last;
        return new
        {
            step.Step.Number,
            Kind = Words.Text(step.Step.MustBe),
            Between = $"{step.Step.Black} – {step.Step.RedInWords}",
            Limits = step.Step.Passes(),
            Reading = last is null ? "—" : last.Reading.InWords(),
            Verdict = Words.Text(step.State == StepState.Skipped ? "not tested" : last is not null ? last.Verdict.InWords() : step.Carried is not null ? "pass, carried over" : step.Group is not null ? "pass, in a group" : "not tested"),
            Earlier = string.Join(", ", step.Readings.Where(r => r != last).Select(r => $"{r.Reading.InWords()} ({Words.Text(r.Verdict.InWords())}{(r.Bearing == Bearing.Stands ? "" : Words.Text(", came late"))})")),
            By = last is null ? step.Skipped ?? step.Carried ?? step.Group ?? "" : $"{last.By}, {Moment(last.At)}",
        };
    }

    private static object Fault(LoggedFault fault) => new
    {
        fault.Number,
        fault.Step,
        fault.Seen,
        Cause = fault.Cause?.Words ?? Words.Text("not found"),
        Did = fault.Fix is null ? Words.Text("nothing") : $"{fault.Fix.Did}: {string.Join(", ", fault.Fix.Places)}",
        fault.Fix?.Note,
        By = fault.FixedBy ?? fault.LoggedBy,
        Retests = fault.Fix is null ? "" : string.Join(", ", fault.Fix.Retests),
        fault.LetPass,
        From = fault.From?.Run,
    };

    internal static string Moment(DateTimeOffset at) => at.ToUniversalTime().ToString("yyyy-MM-dd HH:mm 'UTC'", CultureInfo.InvariantCulture);

    internal static string Resource(string name)
    {
        using var reader = new StreamReader(Stream(name));
        return reader.ReadToEnd();
    }

    /// <summary>A face of the pack's type, in the file itself: it looks the same without a network and on any machine.</summary>
    private static string Face(string name, int weight)
    {
        using var bytes = new MemoryStream();
        using (var stream = Stream($"fonts.{name}.woff2"))
        {
            stream.CopyTo(bytes);
        }

        return $"@font-face{{font-family:\"Atkinson Hyperlegible\";font-weight:{weight};src:url(data:font/woff2;base64,{Convert.ToBase64String(bytes.ToArray())}) format(\"woff2\")}}\n";
    }

    private static Stream Stream(string name) => Assembly.GetExecutingAssembly().GetManifestResourceStream($"WiseLoom.Core.Handover.{name}") ?? throw new InvalidOperationException($"The build left out {name}.");
}
