using System.Globalization;
using System.Text;
using WiseLoom.Core.Looms;

namespace WiseLoom.Bench;

/// <summary>A loom of any size, the same for the same seed: nets of some ten to thirty cavities, looped feeds and doubled grounds among them.</summary>
internal static class GeneratedLoom
{
    private const int CavitiesPerConnector = 40;

    internal static byte[] File(int cavities, int wires, int seed) => File(cavities, wires, new Random(seed), points => Split(points, new Random(seed)));

    /// <summary>The worst there is: every cavity in one net.</summary>
    internal static Loom OneMesh(int cavities, int wires, int seed) =>
        LoomReader.Read(File(cavities, wires, new Random(seed), points => [points])).Loom ?? throw new InvalidOperationException("The generated loom has problems.");

    private static byte[] File(int cavities, int wires, Random random, Func<string[], List<string[]>> split)
    {
        var connectors = cavities / CavitiesPerConnector;
        var points = Enumerable.Range(0, cavities).Select(i => string.Create(CultureInfo.InvariantCulture, $"C{i / CavitiesPerConnector}:{(i % CavitiesPerConnector) + 1}")).ToArray();
        random.Shuffle(points);
        var nets = split(points);
        var json = new StringBuilder("{\"format\":\"wise-loom/loom\",\"version\":1,\"loom\":{\"name\":\"Generated\",\"revision\":\"A\"},\"families\":[{\"id\":\"f\",\"rows\":[[");
        json.AppendJoin(',', Enumerable.Range(1, CavitiesPerConnector).Select(i => $"\"{i}\"")).Append("]]}],\"connectors\":[");
        json.AppendJoin(',', Enumerable.Range(0, connectors).Select(i => $"{{\"ref\":\"C{i}\",\"family\":\"f\"}}")).Append("],\"wires\":[");
        json.AppendJoin(',', Pairs(nets, wires, random).Select((p, i) => string.Create(
            CultureInfo.InvariantCulture,
            $"{{\"id\":\"W{i}\",\"from\":\"{p.From}\",\"to\":\"{p.To}\",\"mm2\":{(random.Next(2) == 0 ? 0.5 : 1.5)},\"lengthMm\":{random.Next(100, 3000)}}}")));
        return Encoding.UTF8.GetBytes(json.Append("]}").ToString());
    }

    internal static Loom Loom(int cavities, int wires, int seed) =>
        LoomReader.Read(File(cavities, wires, seed)).Loom ?? throw new InvalidOperationException("The generated loom has problems.");

    private static List<string[]> Split(string[] points, Random random)
    {
        var nets = new List<string[]>();
        for (var at = 0; at < points.Length;)
        {
            var size = Math.Min(points.Length - at, random.Next(4, 30));
            nets.Add(points[at..(at + size)]);
            at += size;
        }

        return nets;
    }

    /// <summary>A tree in every net first, then wires across until there are enough.</summary>
    private static IEnumerable<(string From, string To)> Pairs(List<string[]> nets, int wires, Random random)
    {
        var made = 0;
        foreach (var net in nets)
        {
            for (var i = 1; i < net.Length; i++)
            {
                made++;
                yield return (net[random.Next(i)], net[i]);
            }
        }

        var wide = nets.Where(n => n.Length > 2).ToArray();
        while (made < wires)
        {
            var net = wide[random.Next(wide.Length)];
            var (a, b) = (random.Next(net.Length), random.Next(net.Length));
            if (a != b)
            {
                made++;
                yield return (net[a], net[b]);
            }
        }
    }
}
