using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Practice;

/// <summary>What is odd about the triggers of a simulated engine, apart from its loom.</summary>
/// <param name="CamTeeth">How many teeth of the crank the cam is late; below 0 early.</param>
/// <param name="Noise">Share of teeth beside which an edge comes that is none.</param>
public readonly record struct TriggerTrouble(double CamTeeth, double Noise);

/// <summary>Edges of toothed wheels of an engine that is cranked.</summary>
internal static class SimulatedTriggers
{
    /// <summary>Cranking speed, and how much it falls at each compression, share.</summary>
    private const double Rpm = 220, Slowing = 0.16;

    /// <summary>Edges of one wheel.</summary>
    /// <param name="reversed">Whether its two wires are exchanged.</param>
    /// <param name="syncTooth">Of a cam: the place of its edge in teeth of the crank; null for a wheel of its own.</param>
    /// <param name="ms">Length of the log, milliseconds.</param>
    /// <param name="cylinders">Compressions in two turns.</param>
    internal static ImmutableArray<double> Edges(TriggerWheel wheel, TriggerWheel? crank, double? syncTooth, bool reversed, double ms, int cylinders, TriggerTrouble trouble, Random random)
    {
        // Where edges lie, in turns of the crank.
        var marks = new List<double>();
        var turns = (ms / 60_000 * Rpm) + 1;
        if (syncTooth is { } tooth && crank is not null)
        {
            for (var at = (tooth + crank.Missing + trouble.CamTeeth) / crank.Teeth; at < turns; at += 1 / wheel.PerTurn)
            {
                marks.Add(at);
            }
        }
        else
        {
            for (var place = 0; place < turns * wheel.PerTurn * wheel.Teeth; place++)
            {
                var within = place % wheel.Teeth;
                // The first places after the turn's begin are the missing ones.
                if (!reversed && within >= wheel.Missing)
                {
                    marks.Add(place / (double)wheel.Teeth / wheel.PerTurn);
                }
                else if (reversed)
                {
                    Middle(marks, wheel, place, within);
                }
            }
        }

        var edges = marks.Select(m => Microseconds(m, cylinders)).Where(t => t > 0 && t < ms * 1000).ToList();
        var extra = edges.Where(_ => random.NextDouble() < trouble.Noise).Select(t => t + (random.NextDouble() * 60e6 / Rpm / Math.Max(1, wheel.Teeth) * 0.5) + 50).Where(t => t < ms * 1000);
        return [.. edges.Concat(extra).Order()];
    }

    /// <summary>The middles between a tooth and the next: across the missing ones there is one middle only.</summary>
    private static void Middle(List<double> marks, TriggerWheel wheel, int place, int within)
    {
        if (within >= wheel.Missing && within < wheel.Teeth - 1)
        {
            marks.Add((place + 0.5) / wheel.Teeth / wheel.PerTurn);
        }
        else if (within == wheel.Teeth - 1)
        {
            marks.Add((place + ((wheel.Missing + 1) / 2.0)) / wheel.Teeth / wheel.PerTurn);
        }
    }

    /// <summary>The moment at which the crank has turned so far: it slows before each compression, so that its time is that of an even turn and a swing.</summary>
    private static double Microseconds(double turn, int cylinders)
    {
        var even = turn * 60e6 / Rpm;
        var swings = Math.Max(1, cylinders) / 2.0;
        return even - (Slowing / (2 * Math.PI * swings) * Math.Sin(2 * Math.PI * swings * turn) * 60e6 / Rpm);
    }
}
