using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Core.Handover;

/// <summary>What a customer can measure at a pin with all plugs on: volts and a test lamp, by key position.</summary>
internal static class PinShows
{
    private static readonly ImmutableArray<KeyPosition> Told = [KeyPosition.Off, KeyPosition.On, KeyPosition.Start, KeyPosition.Running];

    /// <summary>By pin, in words: <c>off 0 V, on 12.6 V (lamp bright), cranking 10.1 V (lamp bright)</c>; positions that show the same stand together.</summary>
    internal static ImmutableDictionary<ProbePoint, string> Of(BreakEffects effects)
    {
        var states = LoomStates.For(effects.Loom, effects.AmbientC);
        var shown = Told.AsParallel().AsOrdered().Select(k => states.At(effects.Moments.All[(int)k]).Points).ToList();
        var parts = PartOhms.Of(effects.Loom, effects.AmbientC);
        return effects.Loom.ProbePoints().ToImmutableDictionary(p => p, p => string.Join(", ", Told.Zip(shown, (key, points) => (Key: Word(key), Says: Says(points.GetValueOrDefault(p)))).GroupBy(x => x.Says).Select(g => $"{string.Join("/", g.Select(x => x.Key))} {g.Key}")) + (parts.TryGetValue(p, out var ohms) ? $"; {ohms}" : ""));
    }

    private static string Word(KeyPosition key) => key switch { KeyPosition.Start => Words.Text("cranking"), KeyPosition.Off => Words.Text("off"), KeyPosition.On => Words.Text("on"), _ => Words.Text("running") };

    private static string Says(PointState? state)
    {
        if (state?.Shows is not { } shows || state.Floats)
        {
            return Words.Text("nothing (open)");
        }

        var lamp = shows.LampToGround.Glow switch { Glow.Bright => Words.Text(" (lamp bright)"), Glow.Dim => Words.Text(" (lamp dim)"), _ => "" };
        return $"{Say.Volts(Math.Abs(shows.Meter) < 0.02 ? 0 : shows.Meter)}{lamp}";
    }
}
