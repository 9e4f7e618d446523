using System.Text.Json;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Learning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Cli;

/// <summary><c>learn LOOM --readings GOOD.csv [--readings GOOD.csv]… [--meter bench|hand] [--ambient C]</c>: limits from looms that are known to be good, as JSON for
/// <c>judge --learned</c>.</summary>
internal static class LearnCommand
{
    /// <returns>0; 1 when a file has problems.</returns>
    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse(args, "--readings", "--meter", "--ambient");
        var ambient = line.Ambient();
        var meter = (line.Text("--meter") ?? "bench") switch { "bench" => Meter.BenchFourWire, "hand" => Meter.HandTwoWire, _ => null };
        var files = line.All("--readings");
        if (line.Wrong is not null || line.File is null || files.Count is 0 or > LearnedLimits.MostLooms || meter is null)
        {
            return Usage.Print(line.Wrong ?? $"learn needs a loom file and --readings, once for each good loom (at most {LearnedLimits.MostLooms}); --meter is bench or hand.");
        }

        if (CommandLine.FindLoom(line.File) is not { } loom)
        {
            return 1;
        }

        var plan = Planner.Plan(loom, PlanTerms.Usual(meter, Isolation.Neighbours, ambient ?? loom.AmbientC, CopperTolerance.Usual));
        var good = new List<IReadOnlyDictionary<int, double>>();
        foreach (var file in files)
        {
            var (run, _, problems) = ReplayedRun.Of(BenchRun.Begin(loom, plan), file);
            if (problems.Count > 0)
            {
                problems.ForEach(p => Console.Error.WriteLine($"{p.At}: {p.Message}"));
                return 1;
            }

            good.Add(plan.Steps.Select(s => (s.Number, Ohms: run[s.Number].Reading?.Reading.Ohms)).Where(s => s.Ohms is not null).ToDictionary(s => s.Number, s => s.Ohms!.Value));
        }

        var learned = LearnedLimits.Of(loom, plan, good, string.Join(", ", files.Select(Path.GetFileNameWithoutExtension)));
        using var output = Console.OpenStandardOutput();
        output.Write(JsonSerializer.SerializeToUtf8Bytes(learned, CoreJson.Options));
        return 0;
    }

    /// <summary>Limits out of a file; null when it holds none, which is then said.</summary>
    internal static LearnedLimits? Read(string path)
    {
        try
        {
            if (JsonSerializer.Deserialize<LearnedLimits>(File.ReadAllBytes(path), CoreJson.Options) is { Pairs.IsDefault: false } limits)
            {
                return limits;
            }

            Console.Error.WriteLine($"'{path}' holds no learned limits.");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or JsonException)
        {
            Console.Error.WriteLine($"'{path}': {e.Message}");
        }

        return null;
    }
}
