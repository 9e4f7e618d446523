using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;

namespace WiseLoom.Cli;

/// <summary><c>trial LOOM [--faults 0|1|2] [--count N] [--seed S] [--isolation …] [--meter bench|hand]</c>: hidden faults against the diagnosis, with a table by kind.</summary>
internal static class TrialCommand
{
    private const int MostCases = 100_000, Bands = 10;

    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse(args, "--faults", "--count", "--seed", "--isolation", "--meter", "--misses!");
        var (faults, count, seed) = ((int)(line.Number("--faults") ?? 1), (int)(line.Number("--count") ?? 100), (int)(line.Number("--seed") ?? 1));
        var meter = (line.Text("--meter") ?? "bench") switch { "bench" => Meter.BenchFourWire, "hand" => Meter.HandTwoWire, _ => null };
        Isolation? isolation = (line.Text("--isolation") ?? "thorough") switch { "neighbours" => Isolation.Neighbours, "thorough" => Isolation.Thorough, _ => null };
        if (line.Wrong is not null || line.File is null || meter is null || isolation is null || faults is < 0 or > 2 || count is < 1 or > MostCases)
        {
            return Usage.Print(line.Wrong ?? $"trial needs a loom file; --faults is 0, 1 or 2, --count 1 to {MostCases}, --meter bench or hand, --isolation neighbours or thorough.");
        }

        if (CommandLine.FindLoom(line.File) is not { } loom)
        {
            return 1;
        }

        var trial = new Trial(loom, Planner.Plan(loom, PlanTerms.Usual(meter, isolation.Value, loom.AmbientC, CopperTolerance.Usual)));
        var cases = new TrialCase[count];
        Parallel.For(0, count, new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount }, i =>
            cases[i] = trial.Play(faults == 0 ? [] : new HiddenFaults(loom, (seed * 1_000_003) + i).Some(faults), (seed * 7919) + i, CancellationToken.None));
        if (line.Has("--misses"))
        {
            foreach (var miss in cases.Where(c => !c.Found && c.IsSeeable))
            {
                Console.Error.WriteLine(string.Create(CultureInfo.InvariantCulture, $"hidden {string.Join(" + ", miss.Hidden)}: {miss.FirstProbability:0.000} after {miss.Extra}: {miss.Sentence}"));
            }
        }

        CommandLine.Write(json =>
        {
            json.WriteStartObject();
            json.WriteNumber("cases", count);
            var seeable = Math.Max(1, cases.Count(c => c.IsSeeable));
            json.WriteNumber("seeable", cases.Count(c => c.IsSeeable));
            json.WriteNumber("found", cases.Count(c => c.Found));
            json.WriteNumber("share", Math.Round(cases.Count(c => c.Found && c.IsSeeable) / (double)seeable, 4));
            json.WriteNumber("medianExtra", cases.Select(c => c.Extra).Order().ElementAt(count / 2));
            json.WriteNumber("meanExtra", Math.Round(cases.Average(c => c.Extra), 2));
            double[] milliseconds = [.. cases.SelectMany(c => c.Milliseconds).Order()];
            json.WriteNumber("medianMilliseconds", Math.Round(milliseconds[milliseconds.Length / 2], 1));
            json.WriteNumber("milliseconds95", Math.Round(milliseconds[(int)(0.95 * (milliseconds.Length - 1))], 1));
            json.WriteNumber("slowestMilliseconds", Math.Round(milliseconds[^1], 1));
            json.WriteNumber("peakMegabytes", Math.Round(System.Diagnostics.Process.GetCurrentProcess().PeakWorkingSet64 / 1048576.0));

            // Of the answers that were given so much, how many were right: what the meter cannot see is counted apart.
            json.WriteStartArray("calibration");
            foreach (var band in cases.Where(c => c.IsSeeable).SelectMany(c => c.Answers).GroupBy(a => Math.Min(Bands - 1, (int)(a.Given * Bands))).OrderBy(g => g.Key))
            {
                json.WriteStartObject();
                json.WriteNumber("from", band.Key / (double)Bands);
                json.WriteNumber("to", (band.Key + 1) / (double)Bands);
                json.WriteNumber("given", Math.Round(band.Average(a => a.Given), 4));
                json.WriteNumber("answers", band.Count());
                json.WriteNumber("right", band.Count(a => a.IsRight));
                json.WriteEndObject();
            }

            json.WriteEndArray();
            json.WriteStartArray("kinds");
            foreach (var kind in cases.GroupBy(c => string.Join(" + ", c.Hidden.Select(Kind).Order(StringComparer.Ordinal))).OrderBy(g => g.Key, StringComparer.Ordinal))
            {
                json.WriteStartObject();
                json.WriteString("kind", kind.Key.Length == 0 ? "nothing" : kind.Key);
                json.WriteNumber("cases", kind.Count());
                json.WriteNumber("seeable", kind.Count(c => c.IsSeeable));
                json.WriteNumber("found", kind.Count(c => c.Found));
                json.WriteNumber("meanExtra", Math.Round(kind.Average(c => c.Extra), 2));
                json.WriteEndObject();
            }

            json.WriteEndArray();
            json.WriteEndObject();
        });
        return 0;
    }

    private static string Kind(Core.Faults.Fault fault)
    {
        var name = fault.GetType().Name;
        return name[..^"Fault".Length].ToLowerInvariant();
    }
}
