using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Handover;

/// <summary>Something that is there and not used.</summary>
/// <param name="Where">The connector, or the controller's plug.</param>
/// <param name="Words">What is there, and how it is taken into use or kept closed.</param>
public sealed record Option(string Where, string Words);

/// <summary>Circuits that end where nothing is plugged in, and cavities of controllers' plugs without a wire.</summary>
internal static class OptionCircuits
{
    internal static ImmutableArray<Option> Of(Loom loom) =>
    [
        .. loom.Connectors.Where(c => !loom.DevicesOn(c.Ref).Any() && Wired(loom, c).Count > 0).Select(c => new Option(
            $"{c.Ref}, {c.Title}",
            $"{string.Join("; ", Wired(loom, c).Select(w => $"{w.Circuit ?? w.Id}: {w.From.Text} – {w.To.Text}").Distinct())}. {Words.Text("Nothing that the loom’s file names is plugged in here.")} {(c.Family.Kind == HousingKind.Tail ? Words.Text("Keep its end insulated until it is joined.") : Words.Text("Keep it closed against water until it is used."))}")),
        .. loom.Connectors.Where(c => loom.DevicesOn(c.Ref).Any(d => d.Model is ControllerModel)).Select(c => (Connector: c, Spare: Spare(loom, c))).Where(x => x.Spare.Count > 0)
            .Select(x => new Option($"{x.Connector.Ref}, {x.Connector.Title}", Words.Of($"Cavities without a wire: {string.Join(", ", x.Spare)}.") + (x.Connector.Family.Sealed ? Words.Text(" Each is closed by a plug; take it out only for a wire with its seal.") : ""))),
    ];

    private static List<Wire> Wired(Loom loom, Connector connector) => [.. connector.Family.Cavities.SelectMany(c => loom.WiresAt(new(connector.Ref, c))).DistinctBy(w => w.Id)];

    private static List<string> Spare(Loom loom, Connector connector) => [.. connector.Family.Cavities.Where(c => !loom.WiresAt(new(connector.Ref, c)).Any()).Order(NaturalOrder.Comparer)];
}
