using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.PowerUp;

/// <summary>A code that a controller may store: which channel or output, and what is wrong there.</summary>
/// <param name="Code">Short form: the pin and a word, such as <c>B10 high</c> or <c>A23 open</c>.</param>
/// <param name="Text">In words.</param>
public sealed record ControllerCode(string Code, string Text);

/// <summary>A code that has to be there on this bench.</summary>
/// <param name="Reason">Why: a part that is not fitted.</param>
public sealed record ExpectedCode(ControllerCode Code, string Reason);

/// <summary>Codes that a controller must store on a bench, because something is not fitted; all others have to be explained.</summary>
public static class ExpectedCodes
{
    /// <summary>An output with less current finds no load, amperes.</summary>
    private const double LeastAmps = 1e-3;

    /// <summary>What one channel says with its volts; null when they are in its range.</summary>
    public static ControllerCode? Of(Channel channel, double volts)
    {
        ArgumentNullException.ThrowIfNull(channel);
        return channel.EndAt(volts) switch
        {
            ChannelEnd.High => new($"{channel.Point} high", Words.Of($"‘{channel.Name}’ stands at the upper end of its range")),
            ChannelEnd.Low => new($"{channel.Point} low", Words.Of($"‘{channel.Name}’ stands at the lower end of its range")),
            _ => null,
        };
    }

    /// <summary>The code of an output that finds no load.</summary>
    public static ControllerCode Open(ProbePoint point, string output) => new($"{point} open", Words.Of($"output ‘{output}’ finds no load"));

    /// <summary>Those of a loom with what is fitted.</summary>
    public static ImmutableArray<ExpectedCode> Of(Loom loom, BenchFit fit, double ambientC) => Of(new PowerUpBench(loom, fit, ambientC, School.Bench));

    /// <summary>Those of a bench.</summary>
    internal static ImmutableArray<ExpectedCode> Of(PowerUpBench bench)
    {
        var codes = ImmutableArray.CreateBuilder<ExpectedCode>();
        var on = bench.Still(KeyPosition.On, []);
        if (bench.State(on) is not { } state)
        {
            return [];
        }

        bool Gone(string device) => bench.Loom.Devices.All(d => d.Ref != device);
        foreach (var channel in Channel.Of(bench.Drawn).Where(c => state.Awake.Contains(c.Controller)))
        {
            if (Of(channel, state.Volts(channel.Point.ToString())) is { } code)
            {
                codes.Add(new(code, Gone(channel.Sensor!.Ref) ? Words.Of($"{channel.Sensor.Title} is not fitted here") : Words.Of($"{channel.Sensor.Title} reads so as it is drawn")));
            }
        }

        var whole = new PowerUpBench(bench.Drawn with { Devices = [.. bench.Drawn.Devices.Select(d => d with { IsFitted = true })] }, BenchFit.AsDrawn, bench.AmbientC, bench.School);
        foreach (var output in Output.Of(bench.Drawn).Where(o => state.Awake.Contains(o.Controller) && o.Loads.Any(l => Gone(l.Ref))))
        {
            // A controller misses what would draw a current if it were there.
            if (whole.State(on with { Conditions = on.Conditions.Add(output.Name) }) is { } all && Math.Abs(all.Amps(output.Point)) >= LeastAmps
                && bench.State(on with { Conditions = on.Conditions.Add(output.Name) }) is { } here && Math.Abs(here.Amps(output.Point)) < LeastAmps)
            {
                codes.Add(new(Open(output.Point, output.Name), output.Loads.Length == 1 ? Words.Of($"{output.Loads[0].Title} is not fitted here") : Words.Of($"{Words.And(output.Loads.Select(l => l.Title))} are not fitted here")));
            }
        }

        return codes.ToImmutable();
    }
}
