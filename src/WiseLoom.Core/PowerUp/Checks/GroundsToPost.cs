using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Each ground from its farthest place to the battery's post.</summary>
internal sealed class GroundsToPost : CheckMaker
{
    /// <summary>What a meter with four leads is off by, ohms.</summary>
    private const double FourWireOhms = 0.003;

    internal override int Stage => 1;

    internal override int Order => 2;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        if (!ProbePoint.TryParse(bench.Minus, out var post))
        {
            yield break;
        }

        var setUp = SetUps.NoPower(bench);
        var way = bench.State(bench.Still(Devices.KeyPosition.Off, setUp.Without));
        foreach (var net in bench.Nets.Nets.Where(n => n.Edges.Any(e => bench.Loom.FindWire(e.Label)?.Role == WireRole.Ground)))
        {
            // Metal and the engine's own: what reaches the post through a load is no ground.
            var reached = net.Points.Where(p => p != post && way?.Way(bench.Minus!, p.ToString()).IsEmpty == false)
                .Select(p => (Point: p, bench.Read(p, post, setUp.Without).Ohm)).Where(x => x.Ohm is not null).ToList();
            if (reached.Count == 0)
            {
                continue;
            }

            var far = reached.MaxBy(x => x.Ohm!.Value.Nominal);
            var ohm = far.Ohm!.Value;

            yield return new(
                $"ground {far.Point}", Stage, setUp, $"Measure the ground from its farthest place to the battery’s post: {far.Point} against {post}.", bench.Still(Devices.KeyPosition.Off, setUp.Without),
                "A meter with four leads.", [far.Point, post], SupplyToGround.Expected(ohm, 0, FourWireOhms),
                $"{Say.Ohms(ohm.Nominal)} of copper, contacts and bolts: {bench.InWords(bench.WayWithoutPower(bench.Minus!, far.Point.ToString()))}. More is a loose ring or paint under it.",
                [Cautions.BatteryOff])
            {
                Plugged = SupplyToGround.Plugged(bench, setUp.Without),
                Touches = [.. bench.WayWithoutPower(bench.Minus!, far.Point.ToString()), far.Point.ToString()],
            };
        }
    }
}
