using System.Collections.Immutable;
using System.Text;
using System.Text.Json;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;

namespace WiseLoom.Cli;

/// <summary><c>diagnose LOOM READINGS [--meter FILE] [--ambient C]</c>: a case a line, from a file or <c>-</c>; each is answered at once with what may be wrong and what to measure next.</summary>
internal static class DiagnoseCommand
{
    /// <summary>A line may have so many characters.</summary>
    private const int LongestLine = 16 * 1024 * 1024;

    /// <summary>So many problems of a case are told.</summary>
    private const int MostProblems = 50;

    /// <summary>After so many bytes what is no longer used is thrown away between two answers: next to nothing is in use then, and in the middle of one it would take three times as long.</summary>
    private const long MuchUsed = 96 * 1024 * 1024;

    internal static int Run(string[] args)
    {
        string[] files = [.. args.Where((a, i) => (a == "-" || !a.StartsWith("--", StringComparison.Ordinal)) && (i == 0 || args[i - 1] is not ("--meter" or "--ambient")))];
        var line = CommandLine.Parse([.. args.Except(files.Skip(1))], "--meter", "--ambient");
        var ambient = line.Ambient();
        if (line.Wrong is not null || files.Length != 2)
        {
            return Usage.Print(line.Wrong ?? "diagnose needs a loom file, and a file of cases or - for what comes in.");
        }

        if (CommandLine.FindLoom(files[0]) is not { } loom)
        {
            return 1;
        }

        var problems = new List<Problem>();
        if (MeterOf(line.Text("--meter"), problems) is not { } meter)
        {
            return Usage.Print($"--meter: {problems[0].At} {problems[0].Message}");
        }

        // Who asks case by case waits for each answer, and may ask for the first only when the process has long been up.
        if (files[1] == "-")
        {
            _ = Task.Run(() => WarmUp.Diagnosis(CancellationToken.None));
        }

        try
        {
            using var input = files[1] == "-" ? Console.In : new StreamReader(files[1], Encoding.UTF8);
            return Answer(input, loom, new Diagnostician(loom, ambient ?? loom.AmbientC, CopperTolerance.Usual, FaultTally.None), meter);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return Usage.Print($"'{files[1]}' cannot be read: {e.Message}");
        }
    }

    private static Meter? MeterOf(string? file, List<Problem> problems)
    {
        if (file is null)
        {
            return Meter.BenchFourWire;
        }

        try
        {
            using var json = JsonDocument.Parse(File.ReadAllText(file));
            return CaseLine.MeterOf(json.RootElement, "", problems);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or JsonException)
        {
            problems.Add(new("", $"'{file}' cannot be read: {e.Message}"));
            return null;
        }
    }

    private static int Answer(TextReader input, Loom loom, Diagnostician diagnostician, Meter usual)
    {
        var (wrong, collected) = (0, 0L);
        Diagnosed? found = null;
        while (input.ReadLine() is { } line)
        {
            if (string.IsNullOrWhiteSpace(line))
            {
                continue;
            }

            var problems = new List<Problem>();
            if (line.Length > LongestLine)
            {
                problems.Add(new("", $"A line has at most {LongestLine / 1048576} million characters."));
            }

            if (problems.Count == 0 && CaseLine.Read(line, loom, usual, problems) is { } one)
            {
                var hands = Hands.After(one.Readings);
                found = one.Seen.IsEmpty ? diagnostician.FindOn(found, one.Readings, one.Meter, hands, CancellationToken.None) : diagnostician.Find(one.Readings, one.Seen, one.Meter, hands, CancellationToken.None);
                CommandLine.Write(json => Write(json, found));
                if (GC.GetTotalAllocatedBytes() - collected > MuchUsed)
                {
                    GC.Collect(1, GCCollectionMode.Forced, blocking: true, compacting: false);
                    collected = GC.GetTotalAllocatedBytes();
                }
            }
            else
            {
                wrong++;
                CommandLine.Write(json =>
                {
                    json.WriteStartObject();
                    CommandLine.WriteProblems(json, "problems", problems.Take(MostProblems));
                    json.WriteEndObject();
                });
            }
        }

        return wrong == 0 ? 0 : 1;
    }

    private static void Write(Utf8JsonWriter json, Diagnosed found)
    {
        json.WriteStartObject();
        json.WriteStartArray("ranking");
        foreach (var finding in found.Ranking)
        {
            json.WriteStartObject();
            json.WriteNumber("probability", Math.Round(finding.Probability, 6));
            json.WritePropertyName("faults");
            WriteFaults(json, finding.Faults);
            json.WriteStartArray("alike");
            foreach (var other in finding.Alike)
            {
                WriteFaults(json, other);
            }

            json.WriteEndArray();
            json.WriteString("sentence", finding.Sentence);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WritePropertyName("next");
        if (found.Next is { } next)
        {
            json.WriteStartObject();
            json.WriteString("a", next.A.ToString());
            json.WritePropertyName("b");
            WritePlaces(json, next.B);
            json.WriteBoolean("moved", next.Moved);
            json.WriteEndObject();
        }
        else
        {
            json.WriteNullValue();
        }

        if (found.Look is { } look)
        {
            json.WritePropertyName("look");
            JsonSerializer.Serialize(json, new { look.Kind, Key = look.Meanwhile?.Key, Set = look.Meanwhile?.Conditions.Order(StringComparer.Ordinal), Without = look.Meanwhile?.Without.Order(StringComparer.Ordinal), look.At, look.To, look.Text }, CoreJson.Options);
        }

        var clean = found.Ranking.FirstOrDefault(f => f.Faults.IsEmpty)?.Probability ?? 0;
        json.WriteBoolean("clean", found.Ranking[0].Faults.IsEmpty && found.Doubts.IsEmpty);
        json.WriteNumber("cleanProbability", found.Doubts.IsEmpty ? Math.Round(clean, 6) : 0);
        CommandLine.WriteList(json, "doubts", found.Doubts);
        CommandLine.WriteList(json, "unseeable", found.Unseeable);
        json.WriteEndObject();
    }

    private static void WritePlaces(Utf8JsonWriter json, ImmutableArray<ProbePoint>? places)
    {
        if (places is not { } some)
        {
            json.WriteNullValue();
        }
        else if (some.Length == 1)
        {
            json.WriteStringValue(some[0].ToString());
        }
        else
        {
            json.WriteStartArray();
            foreach (var place in some)
            {
                json.WriteStringValue(place.ToString());
            }

            json.WriteEndArray();
        }
    }

    private static void WriteFaults(Utf8JsonWriter json, ImmutableArray<Fault> faults) => JsonSerializer.Serialize(json, faults, CoreJson.Options);
}
