using System.Collections.Immutable;
using System.Text.Json;

namespace WiseLoom.Core.Looms;

/// <summary>The part of the pass that reads what goes with a loom: its box, its fitting, its codes.</summary>
internal sealed partial class LoomWalk
{
    private static readonly Dictionary<string, BoxKind> BoxKinds = new(StringComparer.Ordinal)
    {
        ["packed"] = BoxKind.Packed,
        ["returned"] = BoxKind.Returned,
        ["replaced"] = BoxKind.Replaced,
        ["reused"] = BoxKind.Reused,
        ["supply"] = BoxKind.Supply,
    };

    private Loom WithPapers(JsonPlace root, Loom loom) => loom with
    {
        WeightKg = root.Object("loom")?.Number("weightKg", 0.01, 10_000, unit: "kilograms"),
        Box = Named(root, "box", ReadBoxItem),
        Fitting = Named(root, "fitting", ReadFittingStep),
        CodeReadings = Named(root, "codeReadings", ReadCodeReading),
    };

    private static ImmutableArray<T> Named<T>(JsonPlace root, string field, Func<JsonPlace, string, T?> read)
        where T : class
    {
        var known = new HashSet<string>(StringComparer.Ordinal);
        return ReadAll(root, field, place =>
        {
            if (place.Name("id") is not { } id)
            {
                return null;
            }

            if (!known.Add(id))
            {
                place.Wrong("id", $"'{id}' is the id of an earlier entry; each id stands once.");
            }

            return read(place, id);
        });
    }

    private static BoxItem? ReadBoxItem(JsonPlace place, string id)
    {
        var title = place.Text("title", required: true, longest: 200);
        var kind = place.Word("kind", BoxKinds) ?? BoxKind.Packed;
        var count = place.Number("count", 1, 10_000) ?? 1;
        if (count != Math.Floor(count))
        {
            place.Wrong("count", "A whole number is needed here.");
        }

        var years = place.Number("years", 0, 200, unit: "years");
        var note = place.Text("note", longest: 2000);
        return title is null ? null : new(id, title, kind, (int)count, years, note);
    }

    private FittingStep? ReadFittingStep(JsonPlace place, string id)
    {
        var act = place.Text("do", required: true, longest: 2000);
        var branch = place.Text("branch", longest: 60);
        if (branch is not null && !branches.ContainsKey(branch))
        {
            place.Wrong("branch", $"No branch has the id '{branch}'.{Nearest(branch, branches.Keys)}");
        }

        return act is null ? null : new(id, act, branch);
    }

    private CodeReading? ReadCodeReading(JsonPlace place, string id)
    {
        var socket = place.Text("socket", longest: 60);
        if (socket is not null && !connectors.ContainsKey(socket) && !brokenConnectors.Contains(socket))
        {
            place.Wrong("socket", $"No connector has the ref '{socket}'.{Nearest(socket, connectors.Keys)}");
        }

        var bridge = ImmutableArray.CreateBuilder<ProbePoint>();
        foreach (var (value, at) in place.Items("bridge"))
        {
            if (value.ValueKind == JsonValueKind.String && ProbePoint.TryParse(value.GetString(), out var point) && (brokenConnectors.Contains(point.Connector) || (connectors.TryGetValue(point.Connector, out var connector) && connector.Family.HasCavity(point.Cavity))))
            {
                bridge.Add(point);
            }
            else
            {
                place.WrongAt(at, $"{value.GetRawText()} is no cavity of this loom; write one such as \"DIAG:3\".");
            }
        }

        if (bridge.Count is not (0 or 2))
        {
            place.Wrong("bridge", "Two cavities are bridged, or none.");
        }

        var how = place.Text("how", required: true, longest: 2000);
        return how is null ? null : new(id, socket, bridge.ToImmutable(), how);
    }
}
