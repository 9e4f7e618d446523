using System.Collections.Immutable;
using System.Text.Json;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Cli;

/// <summary><c>judge LOOM --readings FILE [--meter bench|hand] [--isolation neighbours|thorough] [--ambient C] [--learned LIMITS.json]</c>: readings taken elsewhere, put
/// through a run as at the bench: where each step stands, what may be behind it, and what stands against release.</summary>
internal static class JudgeCommand
{
    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse(args, "--readings", "--meter", "--isolation", "--ambient", "--learned");
        var ambient = line.Ambient();
        var meter = (line.Text("--meter") ?? "bench") switch { "bench" => Meter.BenchFourWire, "hand" => Meter.HandTwoWire, _ => null };
        Isolation? isolation = (line.Text("--isolation") ?? "neighbours") switch { "neighbours" => Isolation.Neighbours, "thorough" => Isolation.Thorough, _ => null };
        if (line.Wrong is not null || line.File is null || line.Text("--readings") is not { } table || meter is null || isolation is null)
        {
            return Usage.Print(line.Wrong ?? "judge needs a loom file and --readings; --meter is bench or hand, --isolation is neighbours or thorough.");
        }

        if (CommandLine.FindLoom(line.File) is not { } loom)
        {
            return 1;
        }

        var plan = Planner.Plan(loom, PlanTerms.Usual(meter, isolation.Value, ambient ?? loom.AmbientC, CopperTolerance.Usual));
        if (line.Text("--learned") is { } learned)
        {
            if (LearnCommand.Read(learned) is not { } limits)
            {
                return 1;
            }

            plan = limits.Over(plan);
        }

        var (run, _, problems) = ReplayedRun.Of(BenchRun.Begin(loom, plan), table);
        CommandLine.Write(json => Write(json, run, problems));
        return problems.Count == 0 && run.Holds.IsEmpty ? 0 : 1;
    }

    private static void Write(Utf8JsonWriter json, BenchRun run, List<Problem> problems)
    {
        json.WriteStartObject();
        WriteList(json, "problems", problems, p =>
        {
            json.WriteString("at", p.At);
            json.WriteString("message", p.Message);
        });
        var diagnosis = RunDiagnosis.Of(run, FaultTally.None, CancellationToken.None);
        json.WriteNumber("steps", run.Plan.Steps.Length);
        json.WriteNumber("done", run.Done);
        WriteList(json, "failing", run.Plan.Steps.Where(s => run[s.Number].State == StepState.Fail), step =>
        {
            json.WriteNumber("step", step.Number);
            json.WriteString("black", step.Black.ToString());
            json.WriteString("red", step.RedInWords);
            json.WriteString("reads", run[step.Number].Reading!.Reading.InWords());
            json.WriteString("must", step.Passes());
            WriteList(json, "causes", diagnosis.CaseOf(step.Number)?.Causes ?? [], cause =>
            {
                json.WriteString("sentence", cause.Sentence);
                json.WriteNumber("probability", Math.Round(cause.Probability ?? 0, 4));
            });
        });
        WriteList(json, "holds", run.Holds, hold =>
        {
            json.WriteString("kind", hold.Kind);
            json.WriteString("text", hold.Text);
        });
        json.WriteEndObject();
    }

    private static void WriteList<T>(Utf8JsonWriter json, string name, IEnumerable<T> items, Action<T> write)
    {
        json.WriteStartArray(name);
        foreach (var item in items)
        {
            json.WriteStartObject();
            write(item);
            json.WriteEndObject();
        }

        json.WriteEndArray();
    }
}
