using System.Globalization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Looks for what tells causes apart where resistances of the bare loom cannot: volts and lamps with the key on, a part by itself, a load.</summary>
internal sealed class NextLook(DrawnLoom drawn, Evidence evidence, Witness? witness)
{
    /// <summary>So many causes are told apart, so many places and situations are tried, and so many wires and devices.</summary>
    private const int MostCauses = 10, MostPoints = 24, MostSituations = 3, MostParts = 12;

    /// <summary>Seconds of a meter or lamp with power on; of unplugging a device and measuring it; of lifting an end out and putting it back; of a load test.</summary>
    private const double Probe = 12, Unplug = 40, Lift = 120, Load = 45;

    /// <summary>Two voltages nearer than this look the same, volts; two resistances nearer than this share, or this many ohms.</summary>
    private const double SameVolts = 1, SameShare = 0.25, SameOhms = 0.1;

    /// <summary>Current of a load test, amperes, and a drop nearer than this looks the same, ohms.</summary>
    private const double LoadAmps = 2, SameDropOhms = 0.02;

    /// <summary>The best look, with the bits that it tells in a second; null when none tells more.</summary>
    /// <param name="groups">Causes with their shares, falling; members of a group are told apart too.</param>
    internal (Look? Look, double Rate) Of(List<(List<Weighed> Members, double Share)> groups, CancellationToken cancel)
    {
        var all = groups.SelectMany(g => g.Members.Select(m => (Cause: m, Share: g.Share * Math.Exp(m.Score - g.Members[0].Score) / g.Members.Sum(x => Math.Exp(x.Score - g.Members[0].Score))))).ToList();
        var told = all.OrderByDescending(x => x.Share).Take(MostCauses).Where(x => x.Share > 0.01).ToList();
        if (told.Count < 2)
        {
            return default;
        }

        var total = told.Sum(t => t.Share);
        var best = (Look: (Look?)null, Rate: 0.0);
        void Try(Look look, double seconds, Func<Weighed, double?> outcome, Func<double, double, bool> same)
        {
            var bits = Bits([.. told.Select(t => (t.Share / total, outcome(t.Cause)))], same);
            if (bits > NextMeasurement.LeastBits && bits / seconds > best.Rate)
            {
                best = (look, bits / seconds);
            }
        }

        var done = (witness?.Sightings ?? []).Select(s => s.Subject()).ToHashSet(StringComparer.Ordinal);
        OfParts(told.ConvertAll(t => t.Cause), done, Try);
        if (witness is not null)
        {
            WithPower(told.ConvertAll(t => t.Cause), done, Try, cancel);
        }

        return best;
    }

    private void OfParts(List<Weighed> causes, HashSet<string> done, Action<Look, double, Func<Weighed, double?>, Func<double, double, bool>> offer)
    {
        static bool Near(double a, double b) => Math.Abs(a - b) < Math.Max(SameOhms, SameShare * Math.Max(Math.Abs(a), Math.Abs(b)));
        var faults = causes.SelectMany(c => c.Faults).ToList();
        foreach (var wire in faults.SelectMany(f => f.Places(drawn.Loom)).Select(drawn.Loom.FindWire).OfType<Wire>().Distinct().Take(MostParts))
        {
            if (!done.Contains(new WireAlone(wire.Id, null).Subject()))
            {
                offer(new(LookKind.Wire, null, wire.Id, null, $"Lift {wire.Id} out at one end and measure it by itself, from {wire.From} to {wire.To}."), Lift, c => Alone(c, wire), Near);
            }

            if (!wire.From.IsSplice && !wire.To.IsSplice && !done.Contains(new DropSeen(wire.From.Point, wire.To.Point, LoadAmps, 0).Subject()))
            {
                offer(
                    new(LookKind.Drop, null, wire.From.Text, wire.To.Text, string.Create(CultureInfo.InvariantCulture, $"Send some {LoadAmps:0.#} A through {wire.From} to {wire.To} and read the drop in millivolts.")),
                    Load, c => Between(c, wire), (a, b) => Math.Abs(a - b) < Math.Max(SameDropOhms, SameShare * Math.Max(a, b)));
            }
        }

        foreach (var device in faults.OfType<DeviceFault>().Select(f => f.Device).Distinct().Where(d => !done.Contains(new DeviceAlone(d, null).Subject())).Take(MostParts))
        {
            if (witness?.Sound.DeviceAlone(device) is not null)
            {
                offer(new(LookKind.Device, null, device, null, $"Unplug {drawn.Loom.Devices.First(d => d.Ref == device).Title} and measure it by itself."), Unplug, c => (c.As ?? witness.With(c.Faults)).DeviceAlone(device)?.Nominal, Near);
            }
        }
    }

    /// <summary>What a wire measures by itself, whatever else is wrong.</summary>
    private double? Alone(Weighed cause, Wire wire)
    {
        var own = new BuiltLoom(drawn.Loom, cause.Faults, [wire]).Wire(wire.Id)!;
        return own.Open ? null : drawn.PartOf(drawn.PlaceOf(wire.Id)).Mean + own.AddedOhm;
    }

    private double? Between(Weighed cause, Wire wire) =>
        evidence.Predict(Observation.Of(wire.From.Point, wire.To.Point, 0), cause.Altered)?.Ohms;

    private void WithPower(List<Weighed> causes, HashSet<string> done, Action<Look, double, Func<Weighed, double?>, Func<double, double, bool>> offer, CancellationToken cancel)
    {
        var situations = witness!.Sightings.Select(s => s.Meanwhile).OfType<Situation>().DistinctBy(ProbedPlaces.Key).TakeLast(MostSituations).ToList();
        if (situations.Count == 0)
        {
            situations.Add(Situation.At(KeyPosition.On));
        }

        var points = causes.SelectMany(c => c.Faults).SelectMany(f => f.Places(drawn.Loom)).Concat(witness.Odd.SelectMany(s => s.Begins(drawn.Loom)).Select(p => p.ToString()))
            .Select(p => ProbePoint.TryParse(p, out var point) ? point : (ProbePoint?)null).OfType<ProbePoint>().Where(p => drawn.NetOf(p) >= 0).Distinct().Take(MostPoints).ToList();
        var held = new ProbedPlaces();
        foreach (var situation in situations)
        {
            points.ForEach(p => held.Add(situation, p));
        }

        var looms = causes.Each(c =>
        {
            var loom = witness.With(c.Faults, held);
            situations.ForEach(s => loom.State(s));
            return (c, loom);
        }, cancel).ToDictionary(x => x.c, x => x.loom);
        foreach (var situation in situations)
        {
            foreach (var at in points)
            {
                ProbeShows? Shows(Weighed c) => looms[c].At(situation, at)?.Shows;
                void Offer(LookKind kind, Sighting blank, string text, Func<ProbeShows, double> value, Func<double, double, bool> same)
                {
                    if (!done.Contains(blank.Subject()))
                    {
                        offer(new(kind, situation, at.ToString(), null, text), Probe, c => Shows(c) is { } shows ? value(shows) : null, same);
                    }
                }

                var when = $"key {KeyPositions.Word(situation.Key)}{(situation.Conditions.IsEmpty ? "" : $", {string.Join(", ", situation.Conditions.Order(StringComparer.Ordinal))}")}";
                string[] set = [.. situation.Conditions], without = [.. situation.Without];
                Offer(LookKind.Volts, new VoltsSeen(situation.Key, [.. set], [.. without], at, 0), $"With {when}, read the volts at {at}.", s => s.Meter, (a, b) => Math.Abs(a - b) < SameVolts);
                Offer(LookKind.LampToGround, new LampSeen(situation.Key, [.. set], [.. without], at, false, Glow.Dark), $"With {when}, hold a test lamp from {at} to ground.", s => (double)s.LampToGround.Glow, (a, b) => a.Equals(b));
                Offer(LookKind.LampToSupply, new LampSeen(situation.Key, [.. set], [.. without], at, true, Glow.Dark), $"With {when}, hold a test lamp from supply to {at}.", s => (double)s.LampToSupply.Glow, (a, b) => a.Equals(b));
            }
        }
    }

    /// <summary>Information of outcomes of which some look the same; null is an outcome of its own.</summary>
    private static double Bits(List<(double Share, double? Outcome)> outcomes, Func<double, double, bool> same)
    {
        static double Of(double share) => share > 0 ? -share * Math.Log2(share) : 0;
        var bits = Of(outcomes.Where(o => o.Outcome is null).Sum(o => o.Share));
        var (cluster, last) = (0.0, double.NaN);
        foreach (var (share, outcome) in outcomes.Where(o => o.Outcome is not null).OrderBy(o => o.Outcome))
        {
            if (cluster > 0 && !same(last, outcome!.Value))
            {
                bits += Of(cluster);
                cluster = 0;
            }

            (cluster, last) = (cluster + share, outcome!.Value);
        }

        return bits + Of(cluster);
    }
}
