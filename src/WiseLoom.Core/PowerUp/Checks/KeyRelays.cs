using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.States;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Relays that the key pulls in or lets go, with the controller off and with it.</summary>
internal abstract class KeyRelays(KeyTurns turns) : CheckMaker
{
    internal override int Stage => turns.Stage;

    private static ImmutableArray<string> Ways(PowerUpBench bench, Situation here, Looms.Device relay) =>
        [.. bench.WayFrom(true, here, relay.Joint("coil+") ?? ""), .. bench.WayFrom(false, here, relay.Joint("coil-") ?? "")];

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = turns.On(bench);
        foreach (var key in turns.IsFor(bench) ? turns.Positions : [])
        {
            var (here, before) = (bench.Still(key, setUp.Without), bench.Still(key - 1, setUp.Without));
            if (bench.State(here) is not { } now || bench.State(before) is not { } was)
            {
                continue;
            }

            // One that is fed through the contact of another moves after it.
            var moving = bench.Relays.Where(r => now.Pulled.Contains(r.Ref) != was.Pulled.Contains(r.Ref)).ToList();
            var clicks = moving.OrderBy(r => Ways(bench, here, r).Count(l => moving.Exists(m => m != r && m.Ref == l))).ToList();
            foreach (var relay in clicks)
            {
                var pulls = now.Pulled.Contains(relay.Ref);
                var way = bench.WayFrom(true, here, relay.Joint("coil+") ?? "");
                yield return new(
                    $"relay {relay.Ref} {KeyPositions.Word(key)} {setUp.Id}", Stage, setUp, $"Turn the key from {KeyPositions.Word(key - 1)} to {KeyPositions.Word(key)}: {relay.Title}{(clicks.Count > 1 ? $" is number {clicks.IndexOf(relay) + 1} of {clicks.Count} that move" : "")}.",
                    here, $"Ear, or a finger on {relay.Title}.", [], new OutcomeExpected(pulls ? Outcome.Clicks : Outcome.LetsGo),
                    pulls ? $"Its coil has supply by {bench.InWords(way)}, and a way to ground." : "Its coil loses its supply or its ground in this position.", key == KeyPosition.Start ? [Cautions.Starts] : [Cautions.Fused])
                { Device = relay.Ref, Touches = [relay.Ref, .. Ways(bench, here, relay)] };
            }

            if (clicks.Count == 0 && bench.Relays.Length > 0 && key != KeyPosition.Accessory)
            {
                yield return new(
                    $"relays still {KeyPositions.Word(key)} {setUp.Id}", Stage, setUp, $"Turn the key from {KeyPositions.Word(key - 1)} to {KeyPositions.Word(key)} and listen at the relays.", here, "Ear at the relays.", [],
                    new OutcomeExpected(Outcome.StaysStill), $"No coil has supply and ground at once here{(setUp.Without.IsEmpty ? "" : ": the controller, which is off, gives the other side")}.", key == KeyPosition.Start ? [Cautions.Starts] : [Cautions.Fused])
                { Touches = [.. bench.Relays.Select(r => r.Ref)] };
            }
        }
    }
}

/// <summary>With the controller off.</summary>
internal sealed class KeyRelaysControllerOff() : KeyRelays(KeyTurns.ControllerOff)
{
    internal override int Order => 1;
}

/// <summary>With the controller plugged in: those that it pulls.</summary>
internal sealed class KeyRelaysControllerOn() : KeyRelays(KeyTurns.ControllerOn)
{
    internal override int Order => 0;
}
