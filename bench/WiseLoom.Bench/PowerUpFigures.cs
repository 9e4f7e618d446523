using System.Diagnostics;
using System.Globalization;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Runs;
using WiseLoom.Core.States;

namespace WiseLoom.Bench;

/// <summary>Twelve faults of a frost fan at a simulated machine: at which check each shows first, and what is named. As a table in Markdown.</summary>
internal static class PowerUpFigures
{
    private static readonly (string Title, string Machine)[] Hidden =
    [
        ("swept volume set wrong", """{"settings":{"swept volume, cm³":4800}}"""),
        ("a sensor’s table set wrong", """{"settings":{"Coolant temperature: table":"-10 °C 5600 Ω; 20 °C 1200 Ω; 80 °C 240 Ω"}}"""),
        ("cylinders set wrong", """{"settings":{"cylinders":6}}"""),
        ("crank pair reversed", """[{"kind":"swap","connector":"ECU-B","cavities":["1","2"]}]"""),
        ("two injectors exchanged", """[{"kind":"swap","connector":"ECU-A","cavities":["23","25"]}]"""),
        ("a ground off", """[{"kind":"open","wire":"W109"}]"""),
        ("ignition feed on accessory", """[{"kind":"key-terminal","device":"key","terminal":"IGN"}]"""),
        ("one termination missing", """[{"kind":"device","device":"panel-network"}]"""),
        ("oil lamp lead open", """[{"kind":"open","wire":"W117"}]"""),
        ("coolant signal on the air sensor’s pin", """[{"kind":"swap","connector":"ECU-B","cavities":["9","10"]}]"""),
        ("cam one tooth off", """{"camTeeth":1}"""),
        ("fuse in the wrong holder", """{"fuses":{"fuse-a6":25,"fuse-start":7.5}}"""),
        ("main relay coil open", """[{"kind":"device","device":"main-relay"}]"""),
        ("sensor ground high, 40 Ω", """[{"kind":"resistive","wire":"W60","ohm":40}]"""),
    ];

    internal static void Print()
    {
        var fan = LoomReader.Read(File.ReadAllBytes("demo/frost-fan.json")).Loom!;
        var clock = Stopwatch.StartNew();
        var plan = PowerUpPlan.Of(fan, BenchFit.AsDrawn, fan.AmbientC, School.Vehicle);
        var bare = Planner.Plan(fan, PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, fan.AmbientC, CopperTolerance.Usual));
        Console.WriteLine("| hidden | shows first at | what is named |\n| --- | --- | --- |");
        foreach (var (title, machine) in Hidden)
        {
            var hidden = HiddenMachine.Read(machine, fan).Machine!;
            var hands = new SimulatedHands(new(fan, BenchFit.AsDrawn, hidden, fan.AmbientC, 7), BenchFit.AsDrawn, fan.AmbientC);
            var run = Happen(BenchRun.Begin(fan, bare), r => r.BeginPowerUp(Guid.CreateVersion7(), PlannedPowerUp.Terms(plan, fan.AmbientC, [], 60)));
            PowerUpCheck? first = null;
            var found = "";
            foreach (var check in plan.Checks.TakeWhile(c => first is null || c.Stage == first.Stage))
            {
                var done = hands.Do(check);
                var judged = JudgedAnswer.Of(fan, check, done.Answer).Judged!;
                run = Happen(run, r => r.Answer(Guid.CreateVersion7(), PlannedPowerUp.Answered(fan, fan.AmbientC, check, judged, done.Besides, string.Join(' ', done.Findings), true, r.LastEvent)));
                if (!judged.Passed && first is null)
                {
                    (first, found) = (check, string.Join(' ', done.Findings));
                }
            }

            var cause = RunDiagnosis.Of(run, FaultTally.None, CancellationToken.None).Cases.SelectMany(c => c.Causes).FirstOrDefault(c => c.Faults.Length > 0);
            var named = cause is null ? found : string.Create(CultureInfo.InvariantCulture, $"{cause.Title(fan)} ({cause.Probability:0%})");
            Console.WriteLine($"| {title} | {first?.Stage}: {first?.Do} | {named} |");
        }

        var loom = PoweredLoom.Loom(300, 60, 3);
        var best = Enumerable.Range(0, 7).Select(_ =>
        {
            clock.Restart();
            PowerUpPlan.Of(loom, BenchFit.AsDrawn, loom.AmbientC, School.Vehicle);
            return clock.Elapsed.TotalMilliseconds;
        }).Order().ElementAt(3);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"\nchecks of a loom of 300 wires, 60 devices: must 200 ms, got {best:0} ms"));
        clock.Restart();
        MinimumToRun.ForEngine(fan, BenchFit.AsDrawn, fan.AmbientC);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"minimum to run of the frost fan: {clock.Elapsed.TotalMilliseconds:0} ms"));
    }

    private static BenchRun Happen(BenchRun run, Func<BenchRun, Decision> ask) =>
        ask(run) is Decision.Accepted accepted ? run.After(new Happened(run.LastEvent + 1, Guid.CreateVersion7(), new(Guid.Empty, "bench"), DateTimeOffset.UnixEpoch, accepted.What)) : throw new InvalidOperationException(ask(run).ToString());
}
