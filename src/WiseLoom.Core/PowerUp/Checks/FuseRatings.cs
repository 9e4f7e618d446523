using System.Globalization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Each fuse: its rating as planned, and metal at both sides of its holder.</summary>
internal sealed class FuseRatings : CheckMaker
{
    internal override int Stage => 1;

    internal override int Order => 3;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.NoPower(bench);
        foreach (var fuse in bench.Loom.Devices.Where(d => d.Model is FuseModel))
        {
            var rated = ((FuseModel)fuse.Model!).Amps;
            var sides = fuse.Pins.Values.Select(p => p.ToString()).Concat(fuse.Inner.Values.Select(i => $"{i[1..]} inside the box")).ToList();
            yield return new(
                $"fuse {fuse.Ref}", Stage, setUp, string.Create(CultureInfo.InvariantCulture, $"Read the rating on {fuse.Title}: {rated:0.##} A. Touch both its tabs: joined, and joined to both sides of its holder."),
                bench.Still(KeyPosition.Off, setUp.Without), "Eye and a meter of resistance.", [.. fuse.Pins.Values], new OutcomeExpected(Outcome.AsSaid),
                string.Create(CultureInfo.InvariantCulture, $"The plan has {rated:0.##} A between {string.Join(" and ", sides)}. A larger one protects no wire; one in the wrong holder leaves another circuit without its own."),
                [Cautions.BatteryOff])
            { Device = fuse.Ref, IfNot = [string.Create(CultureInfo.InvariantCulture, $"A fuse of another rating, or one from another holder: find where the {rated:0.##} A one sits, and what was meant there."), "A fuse that is blown: look for what it fed before a new one goes in."], Touches = [fuse.Ref, .. fuse.Pins.Values.Select(p => p.ToString())] };
        }
    }
}
