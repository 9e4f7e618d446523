using System.Diagnostics;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace WiseLoom.Core.Tests;

/// <summary>The commands as a terminal runs them: a process, its output and its exit code.</summary>
public sealed class TerminalTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("wise-loom-terminal-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    [Fact]
    public void Check_finds_nothing_wrong_with_the_demo_looms()
    {
        foreach (var name in new[] { "frost-fan.json", "work-launch.json" })
        {
            var (exit, output, _) = Run("check", Demo(name));
            exit.ShouldBe(0);
            JsonNode.Parse(output)!["problems"]!.AsArray().ShouldBeEmpty();
        }
    }

    [Fact]
    public void Diagnose_answers_each_case_on_a_line_of_its_own_and_goes_on_after_one_that_is_wrong()
    {
        var loom = Write(Looms.Json("A:1-B:1", "A:2-B:2").ToJsonString());
        var cases = Path.Combine(folder, "cases.jsonl");
        File.WriteAllLines(cases,
        [
            """{"readings":[{"a":"A:1","b":"B:1","ohm":0.035},{"a":"A:2","b":"B:2","ohm":0.035},{"a":"A:1","b":"A:2","ohm":null}]}""",
            """{"readings":[{"a":"A:7x","b":"B:1","ohm":0.035}]}""",
            "",
            """{"readings":[{"a":"A:1","b":"B:2","ohm":0.035},{"a":"A:1","b":"B:1","ohm":null},{"a":"A:2","b":"B:2","ohm":null}],"meter":"hand-two-wire"}""",
        ]);
        var (exit, output, _) = Run("diagnose", loom, cases, "--json");
        exit.ShouldBe(1);
        var lines = output.TrimEnd('\n').Split('\n').Select(l => JsonNode.Parse(l)!).ToList();
        lines.Count.ShouldBe(3);
        lines[0]["clean"]!.GetValue<bool>().ShouldBeTrue();
        ((double)lines[0]["cleanProbability"]!).ShouldBeGreaterThan(0.95);
        lines[0]["next"].ShouldBeNull();
        ((string?)lines[1]["problems"]![0]!["at"]).ShouldBe("/readings/0/a");
        lines[2]["ranking"]![0]!["faults"]![0]!["kind"]!.GetValue<string>().ShouldBe("swap");
        lines[2]["ranking"]!.AsArray().Sum(r => (double)r!["probability"]!).ShouldBeInRange(0.9, 1.0001);
        lines[2]["unseeable"]!.AsArray().Count.ShouldBeGreaterThan(0);
    }

    [Fact]
    public void Diagnose_and_trial_refuse_what_makes_no_sense()
    {
        var loom = Write(Looms.Json("A:1-B:1").ToJsonString());
        Run("diagnose", loom).ShouldSatisfyAllConditions(r => r.Exit.ShouldBe(64), r => r.Error.ShouldContain("a file of cases"));
        Run("diagnose", loom, Path.Combine(folder, "nothing.jsonl")).Error.ShouldContain("cannot be read");
        Run("diagnose", loom, loom, "--meter", Path.Combine(folder, "no-meter.json")).Error.ShouldContain("--meter");
        Run("trial", loom, "--faults", "3").Exit.ShouldBe(64);
        Run("trial", loom, "--count", "0").Exit.ShouldBe(64);
        Run("trial", loom, "--meter", "blue").Exit.ShouldBe(64);
    }

    [Fact]
    public void Trial_plays_the_same_cases_for_the_same_seed()
    {
        string Played() => Run("trial", Demo("work-launch.json"), "--count", "6", "--seed", "4").Output;
        JsonNode Figures(string output)
        {
            var json = JsonNode.Parse(output)!.AsObject();
            json.Remove("medianMilliseconds");
            json.Remove("milliseconds95");
            json.Remove("slowestMilliseconds");
            json.Remove("peakMegabytes");
            return json;
        }

        var first = Figures(Played());
        ((int)first["cases"]!).ShouldBe(6);
        ((int)first["found"]!).ShouldBe(6);
        first["kinds"]!.AsArray().Sum(k => (int)k!["cases"]!).ShouldBe(6);
        JsonNode.DeepEquals(Figures(Played()), first).ShouldBeTrue();
    }

    [Fact]
    public void Check_lists_every_problem_with_its_place_and_leaves_with_1()
    {
        var json = Looms.Json("A:1-B:1", "A:2-B:2");
        json["wires"]![0]!["to"] = "C:9";
        json["wires"]![1]!["lengthMm"] = -5;
        var (exit, output, _) = Run("check", Write(json.ToJsonString()));
        exit.ShouldBe(1);
        JsonNode.Parse(output)!["problems"]!.AsArray().Select(p => (string?)p!["at"]).ShouldBe(["/wires/0/to", "/wires/1/lengthMm"]);
    }

    [Fact]
    public void State_gives_points_wires_and_functions_in_the_key_position()
    {
        var (exit, output, _) = Run("state", Demo("frost-fan.json"), "--key", "on", "--set", "Injector 1");
        exit.ShouldBe(0);
        var state = JsonNode.Parse(output)!;
        ((double)state["points"]!["INJ2:2"]!["volts"]!).ShouldBe(12.6, 0.1);
        ((string?)state["points"]!["INJ2:2"]!["lampToSupply"]).ShouldBe("dark");
        ((double)state["points"]!["INJ1:2"]!["volts"]!).ShouldBeLessThan(0.6);
        ((double)state["wires"]!["W1"]!["amps"]!).ShouldBe(-1.01, 0.02);
        state["functions"]!.AsArray().Single(f => (string?)f!["name"] == "Engine controller awake")!["works"]!.GetValue<bool>().ShouldBeTrue();
    }

    [Fact]
    public void State_names_conditions_that_nothing_knows_and_refuses_positions_and_devices_that_are_not()
    {
        Run("state", Demo("frost-fan.json"), "--key", "on", "--set", "moonshine").Output.ShouldContain("Nothing in this loom knows the condition 'moonshine'");
        Run("state", Demo("frost-fan.json"), "--key", "sideways").ShouldSatisfyAllConditions(r => r.Exit.ShouldBe(64), r => r.Error.ShouldContain("--key is one of off, accessory, on, start, running"));
        Run("state", Demo("frost-fan.json"), "--without", "flux").Error.ShouldContain("No device of this loom has the ref 'flux'");
    }

    [Fact]
    public void Expect_fitted_reads_through_the_devices()
    {
        var (exit, output, _) = Run("expect", Demo("frost-fan.json"), "--fitted", "--ambient", "20");
        exit.ShouldBe(0);
        var table = JsonNode.Parse(output)!;
        table["leftOut"]!.AsArray().Select(x => (string?)x).ShouldContain("controller");
        var pair = table["pairs"]!.AsArray().Single(p => (string?)p!["a"] == "INJ1:1" && (string?)p["b"] == "INJ1:2" || (string?)p!["a"] == "INJ1:2" && (string?)p["b"] == "INJ1:1")!;
        ((double)pair["ohm"]!["nominal"]!).ShouldBe(12, 1e-9);
    }

    [Fact]
    public void A_file_that_is_not_there_is_a_problem_like_any_other()
    {
        var (exit, output, _) = Run("check", Path.Combine(folder, "missing.json"));
        exit.ShouldBe(1);
        ((string?)JsonNode.Parse(output)!["problems"]![0]!["message"]).ShouldNotBeNull().ShouldContain("cannot be read");
    }

    [Theory]
    [InlineData("{")]
    [InlineData("[]")]
    [InlineData("")]
    [InlineData("{\"format\":\"something/else\"}")]
    [InlineData("\u0001")]
    public void What_is_no_loom_file_is_refused_in_words(string text)
    {
        foreach (var command in new[] { "check", "expect", "state" })
        {
            var (exit, output, error) = Run(command, Write(text));
            exit.ShouldBe(1);
            error.ShouldBeEmpty();
            JsonNode.Parse(output)!["problems"]!.AsArray().ShouldNotBeEmpty();
        }
    }

    [Theory]
    [InlineData("")]
    [InlineData("ponder")]
    [InlineData("check")]
    [InlineData("check one.json two.json")]
    [InlineData("expect loom.json --ambient")]
    [InlineData("expect loom.json --ambient warm")]
    [InlineData("expect loom.json --ambient NaN")]
    [InlineData("expect loom.json --ambient 500")]
    [InlineData("expect loom.json --colour red")]
    [InlineData("judge loom.json")]
    [InlineData("judge loom.json --readings r.csv --meter crystal")]
    [InlineData("stand-in meter --port 99999999 --loom loom.json")]
    public void A_command_line_without_sense_says_how_it_is_used(string line)
    {
        var (exit, output, error) = Run(line.Split(' ', StringSplitOptions.RemoveEmptyEntries));
        exit.ShouldBe(64);
        output.ShouldBeEmpty();
        error.ShouldContain("check LOOM");
    }

    /// <summary>By hand: 17.241 mΩ·mm²/m / 0.5 mm² = 34.482 mΩ for a metre; two of them between the far ends of a V.</summary>
    [Fact]
    public void Expect_gives_nets_and_pairs_that_a_person_can_compute()
    {
        var (exit, output, _) = Run("expect", Write(Looms.Json("A:1-B:1", "A:1-C:1", "A:2-C:2").ToJsonString()), "--json");
        exit.ShouldBe(0);
        using var answer = JsonDocument.Parse(output);
        answer.RootElement.GetProperty("nets").EnumerateArray().Select(n => n.GetArrayLength()).Order().ShouldBe([2, 3]);
        var pair = answer.RootElement.GetProperty("pairs").EnumerateArray().Single(p => p.GetProperty("a").GetString() == "B:1" && p.GetProperty("b").GetString() == "C:1");
        pair.GetProperty("ohm").GetProperty("nominal").GetDouble().ShouldBe(0.068964, 1e-9);
    }

    [Fact]
    public void Warmer_copper_reads_more()
    {
        var file = Write(Looms.Json("A:1-B:1").ToJsonString());
        var cold = Nominal(Run("expect", file, "--ambient", "0").Output);
        var warm = Nominal(Run("expect", file, "--ambient", "50").Output);
        (warm / cold).ShouldBe((1 + (0.00393 * 30)) / (1 - (0.00393 * 20)), 1e-9);
    }

    [Theory]
    [InlineData("neighbours", 6)]
    [InlineData("thorough", 6)]
    public void Plan_says_each_step_with_the_probe_that_moves_and_its_cost(string isolation, int steps)
    {
        var loom = Write(Looms.Json("A:1-S1", "S1-B:1", "S1-C:1", "A:2-B:2", "A:6-C:6").ToJsonString());
        var (exit, output, error) = Run("plan", loom, "--isolation", isolation, "--json");
        (exit, error).ShouldBe((0, ""));
        var plan = JsonNode.Parse(output)!;
        var all = plan["steps"]!.AsArray();
        all.Count.ShouldBe(steps);
        ((string?)all[0]!["moves"]).ShouldBe("both");
        all.Sum(s => (double)s!["seconds"]!).ShouldBe((double)plan["seconds"]!, 1e-9);
        ((double)plan["seconds"]!).ShouldBeInRange((double)plan["lowerBoundSeconds"]!, (double)plan["pinOrderSeconds"]!);
        foreach (var (before, step) in all.Zip(all.Skip(1)))
        {
            var moved = new[] { "a", "b" }.Where(p => (string?)step![p] != (string?)before!["a"] && (string?)step[p] != (string?)before["b"]);
            ((string?)step!["moves"]).ShouldBe(moved.Count() == 2 ? "both" : moved.SingleOrDefault() ?? "none");
        }

        plan["notProven"]!.AsArray().Count.ShouldBe(isolation == "neighbours" ? 1 : 0);
        plan["notTested"]!.AsArray().ShouldBeEmpty();
    }

    [Theory]
    [InlineData("--isolation", "some")]
    [InlineData("--meter", "spoon")]
    [InlineData("--lamp", "900")]
    [InlineData("--first", "NOWHERE:9")]
    public void A_plan_for_what_cannot_be_is_refused_with_what_would_be_right(string option, string value)
    {
        var (exit, output, error) = Run("plan", Write(Looms.Json("A:1-B:1").ToJsonString()), option, value);
        (exit, output).ShouldBe((64, ""));
        error.ShouldContain(option);
    }

    [Fact]
    public void Judge_puts_readings_through_a_run()
    {
        var loom = Write(Looms.Json("A:1-B:1", "A:2-B:2").ToJsonString());
        var (exit, output, error) = Run("judge", loom, "--readings", Rows("black,red,ohm\nB:1,A:1,0.036\nA:2,B:2,2.5\nA:1,B:2,over range\n"));
        error.ShouldBeEmpty();
        exit.ShouldBe(1);
        var answer = JsonNode.Parse(output)!;
        answer["problems"]!.AsArray().ShouldBeEmpty();
        ((int)answer["done"]!).ShouldBe((int)answer["steps"]!);
        var failing = answer["failing"]!.AsArray().ShouldHaveSingleItem()!;
        ((string?)failing["reads"]).ShouldBe("2.50 Ω");
        ((string?)failing["causes"]![0]!["sentence"]).ShouldNotBeNull().ShouldContain("poor joint");
        answer["holds"]!.AsArray().Select(h => (string?)h!["kind"]).ShouldBe(["failing"]);
        Run("judge", loom, "--readings", Rows("black,red,ohm\nA:1,B:1,0.036\nA:2,B:2,0.036\nA:1,B:2,over range\n")).Exit.ShouldBe(0);
    }

    [Fact]
    public void Learn_takes_limits_from_good_looms_and_judge_holds_a_further_one_against_them()
    {
        var loom = Write(Looms.Json("A:1-B:1", "A:2-B:2").ToJsonString());
        string Loom(string second) => Rows($"black,red,ohm\nA:1,B:1,0.036\nA:2,B:2,{second}\nA:1,B:2,over range\n", $"loom {second}.csv");
        var (exit, output, error) = Run("learn", loom, "--readings", Loom("0.036"), "--readings", Loom("0.037"));
        (exit, error).ShouldBe((0, ""));
        ((int)JsonNode.Parse(output)!["looms"]!).ShouldBe(2);
        var limits = Write(output, "limits.json");
        var failing = JsonNode.Parse(Run("judge", loom, "--readings", Loom("0.2"), "--learned", limits).Output)!["failing"]!.AsArray().ShouldHaveSingleItem()!;
        ((string?)failing["red"]).ShouldBe("B:2");
        Run("learn", loom).Exit.ShouldBe(64);
        Run("judge", loom, "--readings", Loom("0.036"), "--learned", Write("[]", "none.json")).Exit.ShouldBe(1);
    }

    [Theory]
    [InlineData("black,ohm\nA:1,1\n", "row 1", "The head names the columns")]
    [InlineData("black,red,ohm\nA:1,B:1,lots\n", "row 2, column ohm", "is no number")]
    [InlineData("black,red,ohm\nA:1,B:1,NaN\n", "row 2, column ohm", "is no number")]
    [InlineData("black,red,ohm\nA:1,B:1,-3\n", "row 2, column ohm", "")]
    [InlineData("black,red,ohm\nA1,B:1,1\n", "row 2, column black", "CONNECTOR:CAVITY")]
    [InlineData("black,red,ohm\nA:1,B:7,1\n", "row 2", "no step in ohms from A:1 to B:7")]
    [InlineData("black,red,ohm,volt\nA:1,B:1,,1\n", "row 2", "no step in volts")]
    public void A_reading_that_fits_nowhere_is_named_with_its_row(string rows, string at, string words)
    {
        var (exit, output, _) = Run("judge", Write(Looms.Json("A:1-B:1", "A:2-B:2").ToJsonString()), "--readings", Rows(rows));
        exit.ShouldBe(1);
        var problem = JsonNode.Parse(output)!["problems"]!.AsArray().ShouldHaveSingleItem()!;
        ((string?)problem["at"]).ShouldNotBeNull().ShouldEndWith(at);
        ((string?)problem["message"]).ShouldNotBeNull().ShouldContain(words);
    }

    private string Rows(string text, string name = "readings.csv")
    {
        var path = Path.Combine(folder, name);
        File.WriteAllText(path, text);
        return path;
    }

    private static double Nominal(string output) => (double)JsonNode.Parse(output)!["pairs"]![0]!["ohm"]!["nominal"]!;

    private static string Demo(string name) => Path.Combine(AppContext.BaseDirectory, "demo", name);

    private string Write(string text, string name = "loom.json")
    {
        var path = Path.Combine(folder, name);
        File.WriteAllText(path, text, new UTF8Encoding(false));
        return path;
    }

    private static (int Exit, string Output, string Error) Run(params string[] args)
    {
        using var process = Process.Start(new ProcessStartInfo("dotnet", [Path.Combine(AppContext.BaseDirectory, "WiseLoom.Cli.dll"), .. args])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        })!;
        var error = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, output, error.GetAwaiter().GetResult());
    }
}
