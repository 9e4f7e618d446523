using System.Text;
using System.Text.Json;
using WiseLoom.Core;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Cli;

/// <summary><c>pack LOOM [--readings FILE] -o DIR</c>: a handover pack that nobody signed, as HTML, JSON and a table of pins.</summary>
internal static class PackCommand
{
    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse([.. args.Select(a => a == "-o" ? "--out" : a)], "--readings", "--out", "--ambient", "--language");
        if (line.Text("--language") is { } asked && Language.All.All(l => l.Code != asked))
        {
            return Usage.Print($"'{asked}' is no language of packs; write one of {string.Join(", ", Language.All.Select(l => l.Code))}.");
        }

        var language = Language.Of(line.Text("--language"));
        var ambient = line.Ambient();
        if (line.Wrong is not null || line.File is null || line.Text("--out") is not { } folder)
        {
            return Usage.Print(line.Wrong ?? "pack needs a loom file and -o with the folder that it is written to.");
        }

        if (CommandLine.FindLoom(line.File) is not { } loom)
        {
            return 1;
        }

        var at = ambient ?? loom.AmbientC;
        var plan = Planner.Plan(loom, PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, at, CopperTolerance.Usual));
        var (run, events, problems) = line.Text("--readings") is { } table ? ReplayedRun.Of(BenchRun.Begin(loom, plan), table) : (BenchRun.Begin(loom, plan), [], []);
        if (problems.Count > 0)
        {
            CommandLine.Write(json =>
            {
                json.WriteStartObject();
                CommandLine.WriteProblems(json, "problems", problems);
                json.WriteEndObject();
            });
            return 1;
        }

        var head = new PackHead(0, "", "", loom.Name, loom.Revision, 0, "", "nobody: a draft from the terminal", DateTimeOffset.UtcNow, plan.Meter.Name) { Language = language.Code };
        PackPapers? papers;
        using (Words.In(language))
        {
            papers = PackPapers.Of(loom, at);
        }

        var pack = PackModel.Of(head, run, RunRecord.Of(run, events), papers);
        try
        {
            Directory.CreateDirectory(folder);
            var utf8 = new UTF8Encoding(false);
            File.WriteAllText(Path.Combine(folder, "pack.html"), PackHtml.Render(pack, loom), utf8);
            var json = JsonSerializer.SerializeToElement(pack, CoreJson.Options);
            File.WriteAllText(Path.Combine(folder, "pack.json"), json.GetRawText(), utf8);
            File.WriteAllText(Path.Combine(folder, "pins.csv"), PinTable.Of(json), utf8);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            Console.Error.WriteLine($"'{folder}' cannot be written to: {e.Message}");
            return 1;
        }

        return 0;
    }
}
