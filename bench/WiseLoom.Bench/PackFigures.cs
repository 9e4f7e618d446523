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
            var papers = CustomerPapers.Of(loom, loom.AmbientC)!;
            var worked = watch.ElapsedMilliseconds;
            var pack = Pack(loom, papers);
            PackHtml.Render(pack, loom);
            watch.Restart();
            var html = PackHtml.Render(pack, loom);
            var laid = watch.ElapsedMilliseconds;
            var play = papers.Guide.Play(200, 1);
            Console.WriteLine(FormattableString.Invariant(
                $"{name}: worked out once a revision in {worked} ms; HTML must 300 ms, got {laid} ms; must 1024 kB, got {Encoding.UTF8.GetByteCount(html) / 1024} kB; guide must name 95 %, got {100 * play.Named:0} %; checks must 4, got {play.MeanChecks:0.0}"));
        }
    }

    private static PackModel Pack(Loom loom, CustomerPapers? papers)
    {
        var run = BenchRun.Begin(loom, Planner.Plan(loom, PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, loom.AmbientC, CopperTolerance.Usual)));
        return PackModel.Of(new(1, "", "", loom.Name, loom.Revision, 1, "", "", DateTimeOffset.UtcNow, ""), run, RunRecord.Of(run, []), papers);
    }

    private static Loom Demo(string name) => LoomReader.Read(File.ReadAllBytes(Path.Combine("demo", name))).Loom!;
}
