using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Core.Handover;

/// <summary>Two plugs that fit into each other's places and reach them.</summary>
/// <param name="ApartMm">How far their places are apart along the loom, millimetres.</param>
/// <param name="Does">What happens then, in words.</param>
public sealed record MixUp(string One, string Other, double ApartMm, string Does)
{
    /// <summary>A plug is pulled no farther than this out of its place, millimetres.</summary>
    internal const double ReachMm = 400;

    /// <summary>So many pairs are looked at, the nearest first.</summary>
    internal const int Most = 60;

    /// <summary>Pairs of one housing and keying within reach of each other, the nearest first.</summary>
    internal static ImmutableArray<(string One, string Other, double ApartMm)> Pairs(Loom loom)
    {
        var tree = new TrunkTree(loom);
        var plugs = loom.Connectors.Where(c => c.Family.Kind == HousingKind.Housing && loom.DevicesOn(c.Ref).Any()).Select(c => (Connector: c, Place: tree.Place(c))).ToList();
        return
        [
            .. plugs.SelectMany((a, i) => plugs.Skip(i + 1).Where(b => b.Connector.Family.Id == a.Connector.Family.Id)
                    .Select(b => (a.Connector.Ref, b.Connector.Ref, Apart: Math.Abs(a.Place.TrunkMm - b.Place.TrunkMm) + Math.Abs(a.Place.OffTrunkMm - b.Place.OffTrunkMm))))
                .Where(p => p.Apart <= ReachMm).OrderBy(p => p.Apart).Take(Most),
        ];
    }

    /// <summary>What each of some pairs does.</summary>
    internal static ImmutableArray<MixUp> Of(BreakEffects effects, SymptomKinds kinds, ImmutableArray<(string One, string Other, double ApartMm)> pairs)
    {
        var byId = effects.All.Where(e => e.Break is Exchanged).ToDictionary(e => e.Break.Id, StringComparer.Ordinal);
        return [.. pairs.Select(p => new MixUp(p.One, p.Other, p.ApartMm, Consequence(effects.Loom, kinds, byId[new Exchanged(p.One, p.Other).Id])))];
    }

    private static string Consequence(Loom loom, SymptomKinds kinds, BreakEffect effect)
    {
        var seen = kinds.Of(effect).Select(s => s.Title).ToList();
        if (seen.Count > 0)
        {
            return string.Join(". ", seen) + ".";
        }

        var (one, other) = ((Exchanged)effect.Break is var pair ? (pair.One, pair.Other) : default);
        Device? On(string connector) => loom.DevicesOn(connector).FirstOrDefault();
        return (On(one)?.Model, On(other)?.Model) switch
        {
            (LoadModel { Verb.Length: > 0 }, LoadModel { Verb.Length: > 0 }) => Words.Of($"Each works when it is the other’s turn: {On(one)!.Title} with {On(other)!.Title}. Nothing tells it at rest."),
            (NtcModel or TransducerModel or PotModel, NtcModel or TransducerModel or PotModel) => Words.Text("Each value is shown under the other’s name: both can be possible, and no code is stored."),
            _ => Words.Text("Nothing tells it without driving one after the other."),
        };
    }
}
