using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Bench;

/// <summary>A loom as shops make them, the same for the same seed: controller plugs, a fuse box, ground rings, and connectors of one to twelve
/// cavities whose circuits go to the plugs or share spliced feeds and grounds.</summary>
internal sealed class ShopLoom
{
    private static readonly int[] Sizes = [1, 2, 2, 2, 3, 3, 4, 6, 8];
    private static readonly int[] WideSizes = [4, 6, 8, 12];

    private readonly Random random;
    private readonly JsonArray families = [], connectors = [], splices = [], wires = [];
    private readonly Dictionary<(int, int), string> known = [];

    private ShopLoom(int seed) => random = new Random(seed);

    /// <param name="nets">About how many circuits.</param>
    /// <param name="wide">Whether its connectors are large.</param>
    internal static Loom Make(int nets, int seed, bool wide) =>
        LoomReader.Read(File(nets, seed, wide)).Loom ?? throw new InvalidOperationException("The generated loom has problems.");

    /// <summary>The same as a loom file.</summary>
    internal static byte[] File(int nets, int seed, bool wide)
    {
        var build = new ShopLoom(seed);
        build.Lay(nets, wide ? WideSizes : Sizes);
        var file = new JsonObject
        {
            ["format"] = "wise-loom/loom",
            ["version"] = 1,
            ["loom"] = new JsonObject { ["name"] = $"Shop loom {nets}", ["revision"] = "A" },
            ["families"] = build.families,
            ["branches"] = new JsonArray(new JsonObject { ["id"] = "trunk", ["parent"] = null, ["atMm"] = 0, ["lengthMm"] = 3000 }),
            ["connectors"] = build.connectors,
            ["splices"] = build.splices,
            ["wires"] = build.wires,
        };
        return System.Text.Encoding.UTF8.GetBytes(file.ToJsonString());
    }

    private void Lay(int nets, int[] sizes)
    {
        var plugs = Math.Max(1, nets / 60);
        var controller = Enumerable.Range(0, plugs).Select(i => Connector($"P{i}", Math.Clamp((int)(nets * 1.15 / plugs), 12, 80), random.Next(2, 5))).ToList();
        var fuses = Connector("FUSE", Math.Max(4, nets / 8), 2);
        var grounds = Enumerable.Range(0, random.Next(1, 4)).Select(i => Connector($"R{i}", 1, 1).Peek()).ToList();
        var made = 0;
        var shared = new List<string>();
        for (; made < Math.Max(2, nets / 20); made++)
        {
            var splice = $"S{made}";
            splices.Add(new JsonObject { ["ref"] = splice, ["kind"] = "crimp", ["branch"] = "trunk", ["atMm"] = random.Next(3000) });
            shared.Add(splice);
            Wire(splice, random.Next(3) switch { 0 => grounds[random.Next(grounds.Count)], 1 when fuses.Count > 0 => fuses.Pop(), _ => controller.First(c => c.Count > 0).Pop() });
        }

        for (var x = 0; made < nets && controller.Any(c => c.Count > 0); x++)
        {
            var cavities = Connector($"X{x}", sizes[random.Next(sizes.Length)], 1);
            var plug = controller.Where(c => c.Count > 0).ElementAt(random.Next(controller.Count(c => c.Count > 0)));
            for (var i = 0; cavities.Count > 0; i++)
            {
                if (i < 2 && cavities.Count + i > 1 && random.Next(10) < 7)
                {
                    Wire(shared[random.Next(shared.Count)], cavities.Pop());
                }
                else if (plug.Count > 0)
                {
                    Wire(plug.Pop(), cavities.Pop());
                    made++;
                }
                else
                {
                    break;
                }
            }
        }
    }

    /// <summary>A connector with its cavities in a random order.</summary>
    private Stack<string> Connector(string reference, int cavities, int rows)
    {
        if (!known.TryGetValue((cavities, rows), out var family))
        {
            known.Add((cavities, rows), family = $"f{known.Count}");
            var names = Enumerable.Range(1, cavities).Select(i => $"{i}").Chunk((cavities + rows - 1) / rows);
            families.Add(new JsonObject { ["id"] = family, ["rows"] = new JsonArray([.. names.Select(r => new JsonArray([.. r.Select(n => (JsonNode)n)]))]) });
        }

        connectors.Add(new JsonObject { ["ref"] = reference, ["family"] = family, ["branch"] = "trunk", ["atMm"] = random.Next(3000) });
        var places = Enumerable.Range(1, cavities).Select(i => $"{reference}:{i}").ToArray();
        random.Shuffle(places);
        return new(places);
    }

    private void Wire(string from, string to) =>
        wires.Add(new JsonObject { ["id"] = $"W{wires.Count + 1}", ["from"] = from, ["to"] = to, ["mm2"] = 0.75, ["lengthMm"] = random.Next(200, 3000) });
}
