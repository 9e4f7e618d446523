using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.States;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Core.Handover;

/// <summary>What happens when one connector is left off.</summary>
/// <param name="Computed">What a person sees then, from the states of the loom without it.</param>
/// <param name="Contradicts">What the shop's own sentence says otherwise, in words; null where the two agree.</param>
public sealed record LeftOff(string Connector, string Computed, string? Contradicts);

/// <summary>A fuse of the card.</summary>
/// <param name="Feeds">Parts that hang on it.</param>
/// <param name="Stops">What a person sees when it is gone.</param>
public sealed record FuseRow(string Title, double Amps, string Feeds, string Stops);

/// <summary>A pin that the customer joins to something of their own.</summary>
/// <param name="Is">What it is: a constant feed, an ignition feed that must stay up while cranking, a lamp lead.</param>
/// <param name="FuseAmps">The fuse it needs or has, amperes; null where it carries no load.</param>
public sealed record ConnectRow(string Pin, string Wire, string Function, string Is, double MostAmps, double? FuseAmps);

/// <summary>What an installer needs and the bench does not: all of it computed from the loom. Some seconds for 300 wires; made once for a revision and kept.</summary>
public sealed record CustomerPapers(
    ImmutableArray<LeftOff> LeftOff,
    SymptomTable Symptoms,
    FaultGuide Guide,
    GuidePlay Played,
    ImmutableArray<HowItWorks> How,
    ImmutableArray<FuseRow> Fuses,
    ImmutableArray<ConnectRow> Connects,
    MinimumToRun Minimum,
    ImmutableArray<MixUp> MixUps,
    ImmutableArray<string> FirstStart,
    ImmutableDictionary<ProbePoint, string> Shows)
{
    /// <summary>Causes that the guide is played against.</summary>
    private const int Causes = 200;

    /// <summary>Makes them; null for a loom that is too large, or that has no devices to be powered.</summary>
    public static CustomerPapers? Of(Loom loom, double ambientC, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(loom);
        if (loom.Wires.Length > BreakEffects.MostWires || loom.Devices.All(d => d.Model is not BatteryModel))
        {
            return null;
        }

        var pairs = MixUp.Pairs(loom);
        var all = BreakEffects.Of(loom, ambientC, pairs.Select(p => new Exchanged(p.One, p.Other)), cancel);
        var single = all.Only(e => e.Break is not Exchanged);
        var kinds = new SymptomKinds(single);
        var table = SymptomTable.Of(single);
        var guide = FaultGuide.Of(single, table);
        var titles = single.All.ToDictionary(e => e.Break.Id, e => string.Join(". ", kinds.Of(e).Select(s => s.Title)), StringComparer.Ordinal);
        var minimum = MinimumToRun.ForEngine(loom, BenchFit.AsDrawn, ambientC);
        string Seen(Break broken) => titles.GetValueOrDefault(broken.Id) is { Length: > 0 } words ? $"{words}." : "Nobody notices it at once.";
        return new(
            [.. loom.Connectors.Where(c => titles.ContainsKey(new Unplugged(c.Ref).Id)).Select(c => new LeftOff(c.Ref, Seen(new Unplugged(c.Ref)), Contradiction(single, c)))],
            table, guide, guide.Play(Causes, 1), HowItWorks.Of(single),
            [.. loom.Devices.Where(d => d.Model is FuseModel).Select(d => new FuseRow(d.Title, ((FuseModel)d.Model!).Amps, Feeds(single, d), Seen(new Blown(d.Ref))))],
            CustomerConnections.Of(single, minimum),
            minimum,
            MixUp.Of(all, kinds, pairs),
            Handover.FirstStart.Of(single),
            PinShows.Of(single));
    }

    /// <summary>Parts that work no longer without a fuse.</summary>
    private static string Feeds(BreakEffects effects, Device fuse) =>
        string.Join(", ", effects.All.First(e => e.Break.Id == new Blown(fuse.Ref).Id).Sees.Where(d => d is { Was: true, Now: false }).Select(d => effects.Loom.Devices.First(x => x.Ref == d.Device).Title).Distinct());

    /// <summary>A sentence of the shop that names a part as stopped which the loom's states keep working.</summary>
    private static string? Contradiction(BreakEffects effects, Connector connector)
    {
        // What a controller does about a switch or sensor that it misses is its own affair: the states of the loom do not know it.
        if (connector.IfLeftOff is not { Length: > 0 } said || effects.Loom.DevicesOn(connector.Ref).Any(d => d.Model is not (LoadModel { Verb.Length: > 0 } or RelayModel or FuseModel or ControllerModel)))
        {
            return null;
        }

        var effect = effects.All.First(e => e.Break.Id == new Unplugged(connector.Ref).Id);
        var touched = effect.Sees.Select(d => d.Device).Concat(effect.Silent).Concat(effects.Loom.DevicesOn(connector.Ref).Select(d => d.Ref)).ToHashSet(StringComparer.Ordinal);
        var named = effects.Loom.Devices.Where(d => d.Model is LoadModel { Verb.Length: > 0 } && said.Contains(d.Title, StringComparison.OrdinalIgnoreCase) && !touched.Contains(d.Ref)).Select(d => d.Title).ToList();
        return named.Count == 0 ? null : $"It names {string.Join(" and ", named)}, which {(named.Count == 1 ? "goes" : "go")} on working by the drawing.";
    }
}
