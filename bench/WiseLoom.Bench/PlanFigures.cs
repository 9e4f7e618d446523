using System.Diagnostics;
using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Bench;

/// <summary>Plans of twenty looms of 20 to 300 circuits: how near to the bound, how long they take to make, and to make again in the middle.</summary>
internal static class PlanFigures
{
    private static readonly int[] Sizes = [20, 25, 30, 35, 40, 50, 60, 70, 80, 90, 100, 120, 140, 160, 180, 200, 220, 250, 280, 300];

    internal static void Print()
    {
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{"plan",-24} {"steps",6} {"seconds",9} {"bound",9} {"above",8} {"pin order",10} {"ms",7} {"again ms",9}"));
        foreach (var isolation in new[] { Isolation.Thorough, Isolation.Neighbours })
        {
            var (most, median, overs, slowest, slowestAgain) = (isolation == Isolation.Thorough ? 4.0 : 8.0, isolation == Isolation.Thorough ? 3.0 : 6.0, new List<double>(), 0.0, 0.0);
            foreach (var (size, i) in Sizes.Select((s, i) => (s, i)))
            {
                var loom = ShopLoom.Make(size, i + 1, wide: i % 3 == 2);
                TestPlan Make() => Planner.Plan(loom, PlanTerms.Usual(Meter.BenchFourWire, isolation, loom.AmbientC, CopperTolerance.Usual));
                Make();
                var clock = Stopwatch.StartNew();
                var plan = Make();
                var made = clock.Elapsed.TotalMilliseconds;
                var run = Half(BenchRun.Begin(loom, plan));
                clock.Restart();
                WayOn.From(run, plan.Steps[^1].Probes, new HashSet<string> { loom.Connectors[^1].Ref });
                var again = clock.Elapsed.TotalMilliseconds;
                var above = 100 * ((plan.Seconds / plan.LowerBoundSeconds) - 1);
                (slowest, slowestAgain) = (Math.Max(slowest, made), Math.Max(slowestAgain, again));
                overs.Add(above);
                Console.WriteLine(string.Create(
                    CultureInfo.InvariantCulture,
                    $"{$"{isolation}, {size}",-24} {plan.Steps.Length,6} {plan.Seconds,9:0.0} {plan.LowerBoundSeconds,9:0.0} {above,7:0.00}% {plan.PinOrderSeconds,10:0.0} {made,7:0} {again,9:0}{(plan.Seconds > plan.PinOrderSeconds ? "   DEARER THAN PIN ORDER" : "")}"));
            }

            Line($"{isolation}: above the bound at most", most, "%", overs.Max());
            Line($"{isolation}: above the bound, median", median, "%", overs.Order().ElementAt(overs.Count / 2));
            Line($"{isolation}: slowest plan", 1000, "ms", slowest);
            Line($"{isolation}: slowest plan made again from the middle", 200, "ms", slowestAgain);
            var large = ShopLoom.Make(1930, 7, wide: false);
            var begun = Stopwatch.StartNew();
            Planner.Plan(large, PlanTerms.Usual(Meter.BenchFourWire, isolation, large.AmbientC, CopperTolerance.Usual));
            Line($"{isolation}: plan for {large.Wires.Length} wires", 5000, "ms", begun.Elapsed.TotalMilliseconds);
        }
    }

    /// <summary>Every other step passed.</summary>
    private static BenchRun Half(BenchRun run)
    {
        var (by, now) = (new Hand(Guid.NewGuid(), "bench"), DateTimeOffset.UtcNow);
        foreach (var step in run.Plan.Steps.Where(s => s.Number % 2 == 0))
        {
            var reading = new NewReading(Guid.CreateVersion7(), step.Number, step.Explained?.Nominal, true, "bench", now, run.LastEvent);
            run = run.Take(reading, by, now) is Decision.Accepted accepted ? run.After(new Happened(run.LastEvent + 1, reading.Key, by, now, accepted.What)) : run;
        }

        return run;
    }

    private static void Line(string what, double must, string unit, double got) => Console.WriteLine(string.Create(
        CultureInfo.InvariantCulture, $"{what,-62} {$"< {must:0} {unit}",12} {$"{got:0.##} {unit}",12}{(got >= must ? "   MISSED" : "")}"));
}
