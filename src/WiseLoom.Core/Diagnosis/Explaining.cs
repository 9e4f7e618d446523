using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Says what was seen, why a supposition explains it, and what speaks against it.</summary>
internal sealed class Explaining(DrawnLoom drawn, Evidence evidence, WaysBeside ways, Witness? witness)
{
    /// <summary>A place along a wire is told when one standard deviation is at most this share of the wire.</summary>
    private const double Supported = 0.2;

    /// <summary>So many that read the same are named.</summary>
    private const int MostOthers = 4;

    internal string Of(Weighed one)
    {
        if (witness is { Odd.IsEmpty: false } && one.As is { } live)
        {
            return OfSightings(one, witness, live);
        }

        var wrong = evidence.Unexplained(null);
        if (one.Faults.IsEmpty)
        {
            return wrong.Count == 0
                ? string.Create(CultureInfo.InvariantCulture, $"All {evidence.All.Count} readings are what the drawing explains.")
                : string.Create(CultureInfo.InvariantCulture, $"{wrong.Count} of {evidence.All.Count} readings are not what the drawing explains, {Seen(wrong[0])} first, and yet nothing may be wrong.");
        }

        var explained = wrong.Where(o => evidence.IsExplained(o, one)).ToList();
        var against = evidence.Unexplained(one).Count;
        var why = string.Join(' ', one.Faults.Select(f => Why(f, one, f.Why(drawn.Loom)) + Twins(f) + Broken(f)));
        var seen = explained.Count == 0 ? "Nothing that was read shows it." : $"{Seen(explained[0])}{(explained.Count > 1 ? string.Create(CultureInfo.InvariantCulture, $", and {explained.Count - 1} more {(explained.Count == 2 ? "reading is" : "readings are")} off") : "")}.";
        return $"{seen} {why}{Against(against)}";
    }

    /// <summary>What else would read the same at every probe point, as far as it is something else and not the same in other words; empty where nothing is.</summary>
    /// <param name="told">What the sentence is about.</param>
    /// <param name="same">The others of its group.</param>
    internal string Others(ImmutableArray<Fault> told, IEnumerable<ImmutableArray<Fault>> same)
    {
        var own = told.Select(FaultKeys.Of).ToHashSet(StringComparer.Ordinal);
        var others = same.Select(s => string.Join(" with ", s.Where(f => !own.Contains(FaultKeys.Of(f))).Select(f => f.Title(drawn.Loom)))).Where(t => t.Length > 0).Distinct().ToList();
        var more = others.Count - MostOthers;
        return others.Count == 0 ? "" : string.Create(CultureInfo.InvariantCulture, $" No measurement tells it from these: {string.Join("; ", others.Take(MostOthers))}{(more > 0 ? $"; and {more} more" : "")}.");
    }

    /// <summary>The same where what was seen with power on, or of a part by itself, is not as drawn.</summary>
    private string OfSightings(Weighed one, Witness seen, SuspectLoom live)
    {
        var explained = seen.Odd.Where(s => s.Fits(live)).ToList();
        var first = (explained.Count > 0 ? explained : [.. seen.Odd])[0];
        var more = Math.Max(0, explained.Count - 1);
        var what = $"{Capital(first.InWords())}, where the drawing has {first.Expected(seen.Sound).TrimEnd('.')}{(more == 0 ? "" : $"; {string.Join("; ", explained.Skip(1).Take(2).Select(s => s.InWords()))}{(more > 2 ? string.Create(CultureInfo.InvariantCulture, $", and {more - 2} more like it") : "")}")}.";
        if (one.Faults.IsEmpty)
        {
            return $"{what} Nothing that was tried explains it better than an error of reading.";
        }

        var against = seen.Sightings.Count(s => !s.Fits(live)) + evidence.Unexplained(one).Count;
        var why = string.Join(' ', one.Faults.Select(f => Why(f, one, f.WhyLive(drawn.Loom)) + Twins(f) + Broken(f)));
        return $"{(explained.Count == 0 ? $"It does not explain that {first.InWords()}." : what)} {why}{Against(against)}";
    }

    private static string Against(int readings) =>
        readings == 0 ? "" : string.Create(CultureInfo.InvariantCulture, $" {readings} {(readings == 1 ? "reading speaks" : "readings speak")} against it.");

    /// <summary>How far along a wire a break lies, by capacitances from both ends.</summary>
    private string Broken(Fault fault) => fault is WireFault and (OpenFault or MissingFault) && witness is not null ? BreakByCapacitance.InWords(drawn, ((WireFault)fault).Wire, witness.Sightings) : "";

    /// <summary>Two plugs of one kind that go to each other's place exchange their circuits like two contacts at the other end.</summary>
    private string Twins(Fault fault)
    {
        if (fault is not SwapFault { Cavities: [var one, var other] } swap || Far(new(swap.Connector, one)) is not { } a || Far(new(swap.Connector, other)) is not { } b)
        {
            return "";
        }

        return a.Cavity == b.Cavity && a.Connector != b.Connector && drawn.Loom.Connector(a.Connector).Family.Id == drawn.Loom.Connector(b.Connector).Family.Id
            ? $" It would read the same if the plugs {a.Connector} and {b.Connector} were in each other's place."
            : "";
    }

    /// <summary>Where the only wire of a circuit ends, seen from a cavity; null for a circuit of more.</summary>
    private ProbePoint? Far(ProbePoint here) => drawn.NetOf(here) is var net and >= 0 && drawn.SkeletonOf(net).Points is [var a, var b] ? a.Point == here ? b.Point : a.Point : null;

    /// <summary>Why a fault reads so; of a place along a wire how well it is known, and what is near it. A place that no reading supports is not told.</summary>
    private string Why(Fault fault, Weighed of, string words)
    {
        if (fault is not ShortFault { AlongMm: [var mm, _] } bridge || ways.Of(of.Faults.Remove(fault)).Spread(bridge) is not var (spread, _) || drawn.Loom.FindWire(bridge.A) is not { } wire)
        {
            return Capital(words);
        }

        if (spread > Supported * wire.LengthMm)
        {
            return $"Metal between {bridge.A} and {bridge.B} somewhere along the way would read so; where, these readings do not say. Look for crushed or rubbed insulation.";
        }

        var near = new WireRoute(drawn.Loom).Near(wire, mm);
        return string.Create(CultureInfo.InvariantCulture, $"{Capital(words)} Give or take {Math.Max(5, 2 * spread):0} mm{(near is null ? "" : $", {near}")}.");
    }

    private string Seen(Observation seen) =>
        $"{seen.Places()} {(seen.Moved && seen.Ohm is null ? "broke while it was moved" : $"reads {(seen.Ohm is { } ohm ? Say.Ohms(ohm) : "over range")}")}, where the drawing has {(evidence.AsDrawn(seen) is { } drawnAs ? Say.Ohms(drawnAs.Ohms) : "nothing between them")}";

    private static string Capital(string words) => words.Length == 0 ? words : $"{char.ToUpperInvariant(words[0])}{words[1..]}";
}
