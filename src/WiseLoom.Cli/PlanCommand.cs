using System.Text.Json;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Cli;

/// <summary><c>plan LOOM [--isolation neighbours|thorough] [--meter bench|hand] [--lamp WATTS] [--ambient C] [--first PLACE]… [--fitted REF]… [--pulls] [--looks]</c>: every step of a
/// plan with what it costs, what no plan can beat, and what is left open.</summary>
internal static class PlanCommand
{
    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse(args, "--isolation", "--meter", "--lamp", "--ambient", "--first", "--fitted", "--pulls!", "--looks!");
        var (ambient, watts) = (line.Ambient(), line.Number("--lamp"));
        var meter = (line.Text("--meter") ?? "bench") switch { "bench" => Meter.BenchFourWire, "hand" => Meter.HandTwoWire, _ => null };
        Isolation? isolation = (line.Text("--isolation") ?? "neighbours") switch { "neighbours" => Isolation.Neighbours, "thorough" => Isolation.Thorough, _ => null };
        if (line.Wrong is not null || line.File is null || meter is null || isolation is null || watts is < 2 or > 100)
        {
            return Usage.Print(line.Wrong ?? "plan needs a loom file; --isolation is neighbours or thorough, --meter is bench or hand, --lamp has 2 to 100 W.");
        }

        if (CommandLine.FindLoom(line.File) is not { } loom)
        {
            return 1;
        }

        if (line.All("--first").FirstOrDefault(p => !loom.HasPlace(p)) is { } unknown)
        {
            return Usage.Print($"--first names cavities, wires or splices of this loom; it has no '{unknown}'.");
        }

        var every = line.All("--fitted").Contains("all");
        if (!every && line.All("--fitted").FirstOrDefault(f => loom.Devices.All(d => d.Ref != f)) is { } missing)
        {
            return Usage.Print($"--fitted names devices of this loom, or all; it has no '{missing}'.");
        }

        var terms = PlanTerms.Usual(meter, isolation.Value, ambient ?? loom.AmbientC, CopperTolerance.Usual) with
        {
            Load = watts is { } w ? LoadInHand.Lamp(w, loom.SupplyVolts) : null,
            Beyond = new([.. every ? loom.Devices.Select(d => d.Ref) : line.All("--fitted")], line.Has("--pulls") ? PullTable.Usual : null, line.Has("--looks")),
            First = [.. line.All("--first")],
        };
        CommandLine.Write(json => Write(json, Planner.Plan(loom, terms)));
        return 0;
    }

    private static void Write(Utf8JsonWriter json, TestPlan plan)
    {
        json.WriteStartObject();
        json.WriteNumber("ambientC", plan.AmbientC);
        json.WriteString("isolation", plan.Isolation.ToString().ToLowerInvariant());
        json.WriteStartObject("cost");
        json.WriteNumber("touch", plan.Cost.Touch);
        json.WriteNumber("move", plan.Cost.Move);
        json.WriteNumber("clear", plan.Cost.Clear);
        json.WriteNumber("refit", plan.Cost.Refit);
        json.WriteEndObject();
        json.WriteStartArray("steps");
        var stand = (ProbePair?)null;
        foreach (var step in plan.Steps)
        {
            json.WriteStartObject();
            json.WriteString("kind", step.Kind);
            json.WriteString("a", step.Black.ToString());
            json.WriteString("b", step.Red?.ToString());
            if (step.Subject is { } subject)
            {
                json.WriteString("subject", subject);
            }

            if (step is { IsProbed: false } or DiodeStep)
            {
                json.WriteString("passes", step.Passes());
            }

            json.WriteString("moves", step.IsProbed ? step.Probes.Moving(stand).Word() : "none");
            json.WriteNumber("seconds", step.Seconds);
            if (step.Explained is { } expected)
            {
                json.WriteStartObject("ohm");
                json.WriteNumber("min", expected.Min);
                json.WriteNumber("nominal", expected.Nominal);
                json.WriteNumber("max", expected.Max);
                json.WriteEndObject();
            }

            json.WriteEndObject();
            stand = step.Probes;
        }

        json.WriteEndArray();
        json.WriteNumber("seconds", plan.Seconds);
        json.WriteNumber("lowerBoundSeconds", plan.LowerBoundSeconds);
        json.WriteNumber("pinOrderSeconds", plan.PinOrderSeconds);
        CommandLine.WriteList(json, "notTested", plan.CouldNotBe());
        CommandLine.WriteList(json, "notProven", [.. plan.Unproven, .. plan.Unseen.Select(u => u.Sentence())]);
        json.WriteStartArray("unseen");
        foreach (var unseen in plan.Unseen)
        {
            json.WriteStartObject();
            json.WriteString("wire", unseen.Wire);
            if (unseen.Shows is { } shows)
            {
                json.WriteString("a", shows.A.ToString());
                json.WriteString("b", shows.B.ToString());
            }

            json.WriteString("lift", unseen.End);
            json.WriteString("sentence", unseen.Sentence());
            json.WriteEndObject();
        }

        json.WriteEndArray();
        json.WriteEndObject();
    }
}
