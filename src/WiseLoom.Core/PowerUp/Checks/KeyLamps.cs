using WiseLoom.Core.Devices;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Warning lamps that must light with the key on and the engine still, with the controller off and with it.</summary>
internal abstract class KeyLamps : CheckMaker
{
    internal override int Order => 3;

    private protected abstract SetUp On(PowerUpBench bench);

    /// <summary>Whether a lamp is worth a card in this set-up.</summary>
    private protected abstract bool IsTold(PowerUpBench bench, Looms.Device lamp, bool lights);

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = On(bench);
        var here = bench.Still(KeyPosition.On, setUp.Without);
        if (bench.State(here) is not { } state)
        {
            yield break;
        }

        foreach (var lamp in bench.Loads.Where(d => d.Model is LoadModel { Use: "lamp" }))
        {
            var lights = state.Working.Contains(lamp.Ref);
            if (!IsTold(bench, lamp, lights))
            {
                continue;
            }

            var (first, second) = (lamp.Joint("1") ?? "", lamp.Joint("2") ?? "");
            var way = bench.WayFrom(true, here, first).Concat(bench.WayFrom(false, here, second)).Concat(bench.WayFrom(true, here, second)).Concat(bench.WayFrom(false, here, first)).Distinct().ToList();
            yield return new(
                $"lamp {lamp.Ref} {setUp.Id}", Stage, setUp, $"Key on, engine still: look at {lamp.Title}.", here, lamp.SeenAs is { } seen ? $"Eye: {seen}." : "Eye.", [], new OutcomeExpected(lights ? Outcome.Lights : Outcome.StaysDark),
                lights ? $"It has supply and ground: {bench.InWords(way)}." : setUp.Without.IsEmpty ? "Nothing switches it on in this position." : "Its other side comes from the controller, or from a switch that is open.", [Cautions.Fused])
            { Device = lamp.Ref, Touches = [lamp.Ref, .. way] };
        }
    }
}

/// <summary>With the controller off: those that light without it, and those that must not.</summary>
internal sealed class KeyLampsControllerOff : KeyLamps
{
    internal override int Stage => 3;

    private protected override SetUp On(PowerUpBench bench) => SetUps.ControllerOff(bench);

    private protected override bool IsTold(PowerUpBench bench, Looms.Device lamp, bool lights) => true;
}

/// <summary>With the controller plugged in: those that it changes.</summary>
internal sealed class KeyLampsControllerOn : KeyLamps
{
    /// <inheritdoc/>
    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench) => bench.Controllers.IsEmpty ? [] : base.Of(bench);

    internal override int Stage => 5;

    internal override int Order => 2;

    private protected override SetUp On(PowerUpBench bench) => SetUps.ControllerOn(bench);

    private protected override bool IsTold(PowerUpBench bench, Looms.Device lamp, bool lights) =>
        bench.State(bench.Still(KeyPosition.On, bench.ControllersOff))?.Working.Contains(lamp.Ref) != lights;
}
