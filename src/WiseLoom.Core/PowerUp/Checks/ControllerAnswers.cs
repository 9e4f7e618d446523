using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Whether the controller is awake and can be talked to, and the way of the data pair to whoever asks.</summary>
internal sealed class ControllerAnswers : CheckMaker
{
    internal override int Stage => 5;

    internal override int Order => 3;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.ControllerOn(bench);
        var on = bench.Still(KeyPosition.On, setUp.Without);
        foreach (var controller in bench.Controllers)
        {
            var awake = bench.State(on)?.Awake.Contains(controller.Ref) == true;
            var pairs = DataPair.Of(bench).Where(p => p.Controller == controller).ToList();
            yield return new(
                $"answers {controller.Ref}", Stage, setUp, $"Key on: ask {controller.Title} who it is.", on, "The controller’s own line, or a tester at the diagnostic socket.", [], new OutcomeExpected(awake ? Outcome.Answers : Outcome.StaysSilent),
                awake ? $"{Supply(bench, controller, on)} {string.Join(" ", pairs.Select(p => Told(bench, p)))}".Trim() : "It is asleep in this state: its supplies, grounds and wake leave it too little.", [Cautions.Fused])
            {
                Device = controller.Ref,
                Asks = Asked.Identity,
                IfNot = ["The controller itself, or a tester that speaks another language."],
                Touches = [controller.Ref, .. Pins(controller, ControllerRole.Supply, ControllerRole.Wake, ControllerRole.Ground).SelectMany(p => bench.WayFrom(true, on, p).Concat(bench.WayFrom(false, on, p))), .. pairs.SelectMany(p => p.Wires)],
            };
        }
    }

    private static IEnumerable<string> Pins(Device controller, params ControllerRole[] roles) =>
        ((ControllerModel)controller.Model!).Pins.Where(p => roles.Contains(p.Value.Role) && controller.Pins.ContainsKey(p.Key)).Select(p => controller.Pins[p.Key].ToString());

    private static string Supply(PowerUpBench bench, Device controller, States.Situation on) =>
        $"It is awake: {string.Join("; ", Pins(controller, ControllerRole.Supply, ControllerRole.Wake).Select(p => $"{p} by {bench.InWords(bench.WayFrom(true, on, p))}"))}.";

    private static string Told(PowerUpBench bench, DataPair pair)
    {
        var ends = pair.Places.SelectMany(p => pair.Loads(bench, p)).Where(d => d.Model is LoadModel { Verb.Length: 0 }).Select(d => d.Title).Distinct().ToList();
        var on = pair.CarryOn(bench).ToList();
        var terminated = (pair.OwnOhm is null ? 0 : 1) + ends.Count;
        return $"The pair ‘{pair.Name}’ leads from {pair.High} and {pair.Low} to {(pair.Places.IsEmpty ? "no other place" : string.Join(", ", pair.Places))}; it ends in {(terminated == 0 ? "nothing" : string.Join(" and ", ends.Prepend(pair.OwnOhm is null ? "" : "the controller").Where(e => e.Length > 0)))}{(terminated < 2 ? ", so one end is missing" : "")}."
            + (on.Count == 0 ? "" : $" {string.Join(" and ", on)} {(on.Count == 1 ? "carries" : "carry")} it on: left off, everything behind stays silent.");
    }
}
