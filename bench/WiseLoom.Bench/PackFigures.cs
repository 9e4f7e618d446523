using System.Diagnostics;
using System.Text;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;

namespace WiseLoom.Bench;

/// <summary>How long a pack takes to be worked out and laid out, how large it is, and how its guide does.</summary>
internal static class PackFigures
{
    internal static void Print()
    {
        foreach (var (name, loom) in new[] { ("frost fan", Demo("frost-fan.json")), ("work launch", Demo("work-launch.json")), ("300 wires, 60 devices", PoweredLoom.Loom(300, 60, 3)) })
        {
            // Once to be warm.
            PackHtml.Render(Pack(loom, null), loom);
            var watch = Stopwatch.StartNew();
            var papers = PackPapers.Of(loom, loom.AmbientC)!;
            var worked = watch.ElapsedMilliseconds;
            var pack = Pack(loom, papers);
            PackHtml.Render(pack, loom);
            watch.Restart();
            var html = PackHtml.Render(pack, loom);
            var laid = watch.ElapsedMilliseconds;
            var play = papers.Played;
            Console.WriteLine(FormattableString.Invariant(
                $"{name}: worked out once a revision in {worked} ms; HTML must 300 ms, got {laid} ms; must 1024 kB, got {Encoding.UTF8.GetByteCount(html) / 1024} kB; guide must name 95 %, got {100 * play.Named:0} %; checks must 4, got {play.MeanChecks:0.0}; PDF with a cold browser must 5000 ms, got {Printed(html)}"));
        }
    }

    /// <summary>How long the machine's browser takes from its start to the finished PDF, milliseconds; <c>no browser</c> where none is installed.</summary>
    private static string Printed(string html)
    {
        const string Browser = "/usr/bin/chromium";
        if (!File.Exists(Browser))
        {
            return "no browser";
        }

        var folder = Directory.CreateTempSubdirectory("wise-loom-bench").FullName;
        var (page, pdf) = (Path.Combine(folder, "pack.html"), Path.Combine(folder, "pack.pdf"));
        File.WriteAllText(page, html);
        var watch = Stopwatch.StartNew();
        using (var browser = Process.Start(new ProcessStartInfo(Browser, ["--headless", "--no-sandbox", "--disable-gpu", $"--user-data-dir={folder}", $"--print-to-pdf={pdf}", page]) { RedirectStandardError = true, RedirectStandardOutput = true })!)
        {
            browser.StandardError.ReadToEnd();
            browser.WaitForExit();
        }

        var took = watch.ElapsedMilliseconds;
        var printed = File.Exists(pdf);
        Directory.Delete(folder, true);
        return printed ? FormattableString.Invariant($"{took} ms") : "nothing";
    }

    private static PackModel Pack(Loom loom, PackPapers? papers)
    {
        var run = BenchRun.Begin(loom, Planner.Plan(loom, PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, loom.AmbientC, CopperTolerance.Usual)));
        return PackModel.Of(new(1, "", "", loom.Name, loom.Revision, 1, "", "", DateTimeOffset.UtcNow, ""), run, RunRecord.Of(run, []), papers);
    }

    private static Loom Demo(string name) => LoomReader.Read(File.ReadAllBytes(Path.Combine("demo", name))).Loom!;
}
