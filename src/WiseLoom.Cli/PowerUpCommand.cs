using System.Text.Json;
using WiseLoom.Core.Json;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.States;

namespace WiseLoom.Cli;

/// <summary><c>powerup LOOM [--bench FILE]</c>: the stages of a power-up with what each check should show, and the minimum to run.</summary>
internal static class PowerUpCommand
{
    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse(args, "--bench", "--school", "--ambient", "--run");
        var ambient = line.Ambient();
        if (line.Wrong is not null || line.File is null)
        {
            return Usage.Print(line.Wrong ?? "powerup needs a loom file.");
        }

        if (CommandLine.FindLoom(line.File) is not { } loom)
        {
            return 1;
        }

        if (Bench(line, loom) is not { } bench)
        {
            return 1;
        }

        if (line.All("--run").FirstOrDefault(r => loom.Devices.All(d => d.Ref != r)) is { } unknown)
        {
            return Usage.Print($"No device of this loom has the ref '{unknown}'.");
        }

        var at = ambient ?? loom.AmbientC;
        if (PowerUpPlan.Refused(loom, bench.Fit) is { } refused)
        {
            Console.Error.WriteLine(refused);
            return 1;
        }

        var plan = PowerUpPlan.Of(loom, bench.Fit, at, bench.School);
        var minimum = line.All("--run").Count > 0 ? MinimumToRun.For(loom, bench.Fit, at, line.All("--run")) : MinimumToRun.ForEngine(loom, bench.Fit, at);
        CommandLine.Write(json => Write(json, plan, minimum, SettingsSheet.Of(loom)));
        return 0;
    }

    /// <summary>What is fitted and where; null when that cannot be read, and it has been said.</summary>
    private static BenchFile? Bench(CommandLine line, Loom loom)
    {
        var (bench, problems) = (new BenchFile(BenchFit.AsDrawn, School.Vehicle), (IReadOnlyList<Problem>)[]);
        if (line.Text("--bench") is { } path)
        {
            try
            {
                (bench, problems) = BenchFile.Read(File.ReadAllBytes(path), loom);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                problems = [new("", $"'{path}' cannot be read: {e.Message}")];
            }
        }

        if (line.Text("--school") is { } word)
        {
            if (BenchFile.FindSchool(word) is not { } school)
            {
                Usage.Print($"--school is one of {string.Join(", ", BenchFile.Schools)}, not '{word}'.");
                return null;
            }

            bench = bench! with { School = school };
        }

        if (problems.Count > 0)
        {
            CommandLine.Write(json =>
            {
                json.WriteStartObject();
                CommandLine.WriteProblems(json, "problems", problems);
                json.WriteEndObject();
            });
            return null;
        }

        return bench;
    }

    private static void Write(Utf8JsonWriter json, PowerUpPlan plan, MinimumToRun minimum, SettingsSheet sheet)
    {
        json.WriteStartObject();
        json.WriteStartArray("stages");
        foreach (var stage in plan.Stages)
        {
            json.WriteStartObject();
            json.WriteNumber("number", stage.Number);
            json.WriteString("name", stage.Name);
            json.WriteString("cannotDo", stage.CannotDo);
            json.WriteStartArray("checks");
            foreach (var check in stage.Checks)
            {
                Write(json, check);
            }

            json.WriteEndArray();
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteNumber("standingAmps", plan.StandingAmps);
        json.WriteNumber("limitAmps", plan.Limit.Amps);
        json.WriteString("limitWhy", plan.Limit.Why);
        CommandLine.WriteList(json, "findings", plan.Findings);
        Write(json, minimum);
        json.WriteStartArray("settings");
        foreach (var row in sheet.Rows)
        {
            json.WriteStartObject();
            json.WriteString("controller", row.Controller);
            json.WriteString("name", row.Setting.Name);
            if (row.Setting.Number is { } number)
            {
                json.WriteNumber("value", number);
            }
            else
            {
                json.WriteString("value", row.Setting.Text);
            }

            json.WriteString("why", row.Why);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }

    private static void Write(Utf8JsonWriter json, PowerUpCheck check)
    {
        json.WriteStartObject();
        json.WriteString("id", check.Id);
        json.WriteString("setUp", check.SetUp.Title);
        json.WriteString("do", check.Do);
        json.WriteString("key", Core.Devices.KeyPositions.Word(check.Meanwhile.Key));
        CommandLine.WriteList(json, "set", check.Meanwhile.Conditions.Order(StringComparer.Ordinal));
        CommandLine.WriteList(json, "without", check.Meanwhile.Without.Order(StringComparer.Ordinal));
        json.WriteString("with", check.With);
        CommandLine.WriteList(json, "at", check.At.Select(p => p.ToString()));
        json.WriteStartObject("expect");
        switch (check.Expect)
        {
            case VoltsExpected volts: Range(json, "volts", volts.Volts); break;
            case AmpsExpected amps: Range(json, "amps", amps.Amps); break;
            case OhmExpected ohm: Ohm(json, ohm); break;
            case OutcomeExpected outcome: json.WriteString("outcome", outcome.Outcome.InWords()); break;
        }

        json.WriteEndObject();
        if (check.Device is { } device)
        {
            json.WriteString("device", device);
        }

        if (check.Output is { } output)
        {
            json.WriteString("output", output);
        }

        if (check.Shows is { } shows)
        {
            json.WriteStartObject("shows");
            json.WriteString("channel", shows.Channel);
            json.WriteString("unit", shows.Unit);
            if (shows.Value is { } value)
            {
                Range(json, "value", value);
            }

            json.WriteEndObject();
        }

        json.WriteString("why", check.Why);
        CommandLine.WriteList(json, "cautions", check.Cautions);
        json.WriteEndObject();
    }

    private static void Range(Utf8JsonWriter json, string name, ExpectedRange range)
    {
        json.WriteStartObject(name);
        json.WriteNumber("min", range.Min);
        json.WriteNumber("nominal", range.Nominal);
        json.WriteNumber("max", range.Max);
        json.WriteEndObject();
    }

    private static void Ohm(Utf8JsonWriter json, OhmExpected expected)
    {
        if (expected.Ohm is { } range)
        {
            Range(json, "ohm", range);
        }
        else
        {
            json.WriteStartObject("ohm");
            json.WriteNumber("min", expected.LeastOhm);
            json.WriteNull("nominal");
            json.WriteNull("max");
            json.WriteEndObject();
        }

        json.WriteNumber("shortBelowOhm", expected.LeastOhm);
    }

    private static void Write(Utf8JsonWriter json, MinimumToRun minimum)
    {
        json.WriteStartObject("minimumToRun");
        json.WriteBoolean("possible", minimum.Possible);
        json.WriteBoolean("exact", minimum.Exact);
        CommandLine.WriteList(json, "functions", minimum.Functions);
        json.WriteStartArray("feed");
        foreach (var place in minimum.Feed)
        {
            json.WriteStartObject();
            json.WriteString("at", place.At.ToString());
            json.WriteNumber("volts", place.Volts);
            json.WriteNumber("amps", place.Amps);
            json.WriteNumber("peakAmps", place.PeakAmps);
            json.WriteNumber("fuseAmps", place.FuseAmps);
            json.WriteEndObject();
        }

        json.WriteEndArray();
        CommandLine.WriteList(json, "ground", minimum.Ground.Select(p => p.ToString()));
        CommandLine.WriteList(json, "leftOut", minimum.LeftOut);
        json.WriteString("sentence", minimum.Sentence);
        json.WriteEndObject();
    }
}
