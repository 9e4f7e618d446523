using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;

namespace WiseLoom.Bench;

/// <summary>Hidden faults against the diagnosis on generated looms: how many are found, how many measurements more they take, how long a ranking takes.</summary>
internal static class DiagnosisFigures
{
    private static readonly (int Nets, double MostMilliseconds, int Cases)[] Sizes = [(25, 100, 200), (120, 100, 60), (1200, 1000, 12)];

    /// <summary>Prints a row for each loom, meter and number of faults.</summary>
    /// <param name="deep">All cases, for half an hour; else a sixth of them.</param>
    internal static void Print(bool deep)
    {
        Console.WriteLine("| loom | meter | isolation | hidden | seeable | first | must | extra, median | mean | ranking, median | 95 of 100 | within | must |");
        Console.WriteLine("| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |");
        WarmUp.Diagnosis(CancellationToken.None);
        foreach (var (nets, most, cases) in Sizes)
        {
            var loom = ShopLoom.Make(nets, 7, wide: false);
            foreach (var (meter, isolation) in new[] { (Meter.BenchFourWire, Isolation.Thorough), (Meter.BenchFourWire, Isolation.Neighbours), (Meter.HandTwoWire, Isolation.Thorough) })
            {
                var trial = new Trial(loom, Planner.Plan(loom, PlanTerms.Usual(meter, isolation, loom.AmbientC, CopperTolerance.Usual)));
                foreach (var hidden in new[] { 0, 1, 2 })
                {
                    Row(loom, trial, meter, isolation, hidden, Cases(hidden == 1 ? cases : cases / 3, deep), most);
                }
            }
        }
    }

    private static int Cases(int all, bool deep) => deep ? Math.Max(10, all) : Math.Max(3, all / 6);

    private static void Row(Loom loom, Trial trial, Meter meter, Isolation isolation, int hidden, int count, double most)
    {
        var cases = new TrialCase[count];
        for (var i = 0; i < count; i++)
        {
            cases[i] = trial.Play(hidden == 0 ? [] : new HiddenFaults(loom, 17 + i).Some(hidden), i, CancellationToken.None);
        }

        double[] milliseconds = [.. cases.SelectMany(c => c.Milliseconds).Order()];
        var misses = string.Join(", ", cases.Where(c => !c.Found && c.IsSeeable).SelectMany(c => c.Hidden).GroupBy(Kind).Select(g => $"{g.Count()} {g.Key}"));
        Console.WriteLine(string.Create(
            CultureInfo.InvariantCulture,
            $"| {loom.Wires.Length} wires | {meter.Name} | {isolation} | {hidden} | {cases.Count(c => c.IsSeeable)} of {count} | {cases.Count(c => c.Found && c.IsSeeable) / (double)Math.Max(1, cases.Count(c => c.IsSeeable)):0.0%} | {(hidden == 0 ? 1 : hidden == 1 ? 0.98 : 0.95):0%} | {cases.Select(c => c.Extra).Order().ElementAt(count / 2)} | {cases.Average(c => c.Extra):0.0} | {milliseconds[milliseconds.Length / 2]:0} ms | {milliseconds[(int)(0.95 * (milliseconds.Length - 1))]:0} ms | {milliseconds.Count(ms => ms <= most)} of {milliseconds.Length} | {most:0} ms | {misses}"));
    }

    private static string Kind(Fault fault) => fault.GetType().Name.Replace("Fault", "", StringComparison.Ordinal).ToLowerInvariant();
}
