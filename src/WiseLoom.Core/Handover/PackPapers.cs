using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.States;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Core.Handover;

/// <summary>What happens when one connector is left off.</summary>
/// <param name="Computed">What a person sees then, from the states of the loom without it.</param>
/// <param name="Contradicts">What the shop's own sentence says otherwise, in words for the shop; null where the two agree.</param>
public sealed record LeftOff(string Connector, string Computed, string? Contradicts);

/// <summary>A fuse of the card.</summary>
/// <param name="Feeds">Parts that hang on it.</param>
/// <param name="Stops">What a person sees when it is gone.</param>
public sealed record FuseRow(string Title, double Amps, string Feeds, string Stops);

/// <summary>A pin that the customer joins to something of their own.</summary>
/// <param name="Is">What it is: a constant feed, an ignition feed that must stay up while cranking, a lamp lead.</param>
/// <param name="FuseAmps">The fuse it needs or has, amperes; null where it carries no load.</param>
public sealed record ConnectRow(string Pin, string Wire, string Function, string Is, double MostAmps, double? FuseAmps);

/// <summary>A suspect as a pack prints it.</summary>
/// <param name="Share">Of all suspects of its symptom, in whole percent.</param>
public sealed record PackSuspect(string Cause, string Check, int Share);

/// <summary>Something seen, with what may be behind it, as a pack prints it.</summary>
public sealed record PackSymptom(string Title, ImmutableArray<PackSuspect> Suspects);

/// <summary>A place in the guide as a pack holds it: a check with answers, or an end with its causes.</summary>
public sealed record PackGuide(string? Do, ImmutableArray<PackAnswer> Answers, ImmutableArray<string> Causes, string? Code)
{
    internal static PackGuide Of(Loom loom, GuideNode node) =>
        new(node.Do, [.. node.Answers.Select(a => new PackAnswer(a.Answer, Of(loom, a.Next)))], [.. node.Causes.Select(c => c.Title(loom))], node.Code);
}

/// <summary>An answer and where it leads.</summary>
public sealed record PackAnswer(string Answer, PackGuide Next);

/// <summary>Where the guide begins.</summary>
public sealed record PackGuideStart(string Title, PackGuide Begin);

/// <summary>What an installer needs and the bench does not, in the words of <see cref="Words.Language"/>: all of it computed from the loom. Some seconds for 300 wires; made once for a revision and a language, kept, and frozen with each pack.</summary>
/// <param name="LeftOff">By connector.</param>
/// <param name="Played">How the guide did when it was played.</param>
/// <param name="Codes">Codes that the controller stores with everything as drawn.</param>
/// <param name="Shows">By pin: what a meter and a test lamp show in each key position, and what the part reads through its plug.</param>
public sealed record PackPapers(
    ImmutableArray<LeftOff> LeftOff,
    ImmutableArray<PackSymptom> Symptoms,
    ImmutableArray<PackGuideStart> Guide,
    GuidePlay Played,
    ImmutableArray<HowItWorks> How,
    ImmutableArray<FuseRow> Fuses,
    ImmutableArray<ConnectRow> Connects,
    MinimumToRun Minimum,
    ImmutableArray<MixUp> MixUps,
    ImmutableArray<string> FirstStart,
    ImmutableArray<ExpectedCode> Codes,
    ImmutableSortedDictionary<string, string> Shows)
{
    /// <summary>Causes that the guide is played against.</summary>
    private const int Causes = 200;

    /// <summary>So many suspects of one symptom are printed; the guide knows them all.</summary>
    private const int MostSuspects = 12;

    /// <summary>Makes them; null for a loom that is too large, or that has no devices to be powered.</summary>
    public static PackPapers? Of(Loom loom, double ambientC, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(loom);
        if (loom.Wires.Length > BreakEffects.MostWires || loom.Devices.All(d => d.Model is not BatteryModel))
        {
            return null;
        }

        var pairs = MixUp.Pairs(loom);
        var effects = BreakEffects.Of(loom, ambientC, [.. pairs.Select(p => new Exchanged(p.One, p.Other)), .. NotFitted.OfRelays(loom), .. WrongFeed.OfKeys(loom, LoomStates.For(loom, ambientC).Bare(Situation.At(KeyPosition.Off)))], cancel);
        var byBreak = effects.All.ToDictionary(e => e.Break.Id, StringComparer.Ordinal);
        var kinds = new SymptomKinds(effects);
        var table = SymptomTable.Of(effects);
        var guide = FaultGuide.Of(effects, table);
        var minimum = MinimumToRun.ForEngine(loom, BenchFit.AsDrawn, ambientC);
        string Seen(Break broken) => string.Join(". ", kinds.Of(byBreak[broken.Id]).Select(s => s.Title)) is { Length: > 0 } words ? $"{words}." : Words.Text("Nobody notices it at once.");
        return new(
            [.. loom.Connectors.Where(c => byBreak.ContainsKey(new Unplugged(c.Ref).Id)).Select(c => new LeftOff(c.Ref, byBreak[new Unplugged(c.Ref).Id] is var off && kinds.Of(off).Any() ? Seen(off.Break) : Missed(loom, c), Contradiction(loom, byBreak[new Unplugged(c.Ref).Id], c)))],
            [.. table.Symptoms.Select(s => new PackSymptom(s.Title, [.. s.Suspects.Take(MostSuspects).Select(x => new PackSuspect(x.Break.Title(loom), x.Check.Do, (int)Math.Round(100 * x.Share)))]))],
            [.. guide.Starts.Select(s => new PackGuideStart(s.Symptom.Title, PackGuide.Of(loom, s.Begin)))],
            guide.Play(effects, Causes, 1),
            HowItWorks.Of(effects),
            [.. loom.Devices.Where(d => d.Model is FuseModel).Select(d => new FuseRow(d.Title, ((FuseModel)d.Model!).Amps, Feeds(loom, byBreak[new Blown(d.Ref).Id]), Seen(new Blown(d.Ref))))],
            CustomerConnections.Of(effects, minimum),
            minimum,
            MixUp.Of(effects, kinds, pairs),
            Handover.FirstStart.Of(effects),
            ExpectedCodes.Of(loom, BenchFit.AsDrawn, ambientC),
            PinShows.Of(effects).ToImmutableSortedDictionary(s => s.Key.ToString(), s => s.Value, NaturalOrder.Comparer));
    }

    /// <summary>What is said of a plug without which everything goes on: what a controller does about a switch that it misses, only itself knows.</summary>
    private static string Missed(Loom loom, Connector connector)
    {
        var switches = loom.DevicesOn(connector.Ref).Where(d => d.Model is SwitchModel).Select(d => d.Title).ToList();
        return switches.Count == 0 ? Words.Text("Nobody notices it at once.") : Words.Of($"Nothing stops by itself. Whoever reads {Words.And(switches)} misses it, and does then as it is set.");
    }

    /// <summary>Parts that work no longer without a fuse.</summary>
    private static string Feeds(Loom loom, BreakEffect blown) =>
        string.Join(", ", blown.Sees.Where(d => d is { Was: true, Now: false }).Select(d => loom.Devices.First(x => x.Ref == d.Device).Title).Distinct());

    /// <summary>A sentence of the shop that names a part as stopped which the loom's states keep working.</summary>
    private static string? Contradiction(Loom loom, BreakEffect off, Connector connector)
    {
        // What a controller does about a switch or sensor that it misses is its own affair: the states of the loom do not know it.
        if (connector.IfLeftOff is not { Length: > 0 } said || loom.DevicesOn(connector.Ref).Any(d => d.Model is not (LoadModel { Verb.Length: > 0 } or RelayModel or FuseModel or ControllerModel)))
        {
            return null;
        }

        var touched = off.Sees.Select(d => d.Device).Concat(off.Silent).Concat(loom.DevicesOn(connector.Ref).Select(d => d.Ref)).ToHashSet(StringComparer.Ordinal);
        var named = loom.Devices.Where(d => d.Model is LoadModel { Verb.Length: > 0 } && said.Contains(d.Title, StringComparison.OrdinalIgnoreCase) && !touched.Contains(d.Ref)).Select(d => d.Title).ToList();
        return named.Count == 0 ? null : $"It names {string.Join(" and ", named)}, which {(named.Count == 1 ? "goes" : "go")} on working by the drawing.";
    }
}
