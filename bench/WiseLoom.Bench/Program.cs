using System.Diagnostics;
using System.Globalization;
using WiseLoom.Bench;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Pinouts;
using WiseLoom.Core.Revisions;
using WiseLoom.Core.States;

if (args is ["compare", .. var rest])
{
    return SimulatorComparison.Run(rest is [var number] ? int.Parse(number, CultureInfo.InvariantCulture) : 60);
}

if (args is ["load"])
{
    return await BenchLoad.RunAsync();
}

if (args is ["loom", var nets, var into])
{
    File.WriteAllBytes(into, ShopLoom.File(int.Parse(nets, CultureInfo.InvariantCulture), 7, wide: false));
    return 0;
}

if (args is ["diagnosis", .. var how])
{
    DiagnosisFigures.Print(how is ["--deep"]);
    return 0;
}

if (args is ["pack"])
{
    PackFigures.Print();
    return 0;
}

if (args is ["power-up"])
{
    PowerUpFigures.Print();
    return 0;
}

if (args is ["plans"])
{
    PlanFigures.Print();
    return 0;
}

// Each line: what was measured, the figure it must reach (or none), the figure it got: the median of the runs after a warm-up of a second.
Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{"what",-62} {"must",12} {"got",12}"));
const int Runs = 5;
var file = GeneratedLoom.File(2000, 3000, 1);
Report("read and check a file of 2,000 cavities, 3,000 wires", null, "ms", Median(() => LoomReader.Read(file)));
var loom = LoomReader.Read(file).Loom!;
var pairs = 0;
Report("expectation tables, 2,000 cavities, 3,000 wires, all pairs", 1000, "ms", Median(() => pairs = ExpectationTable.For(loom, loom.AmbientC, CopperTolerance.Usual).Pairs().Count()));
Report("  pairs in those tables", null, "", pairs);
Report("  memory of the process at its peak", 500, "MB", Process.GetCurrentProcess().PeakWorkingSet64 / 1048576.0);
foreach (var scale in new[] { 1, 2, 4, 8 })
{
    var grown = GeneratedLoom.Loom(480 * scale, 720 * scale, 2);
    Report($"  growth: {480 * scale} cavities, {720 * scale} wires", null, "ms", Median(() => pairs = ExpectationTable.For(grown, grown.AmbientC, CopperTolerance.Usual).Pairs().Count()));
}

var mesh = GeneratedLoom.OneMesh(1000, 1500, 5);
Report("  the same for a single net, all of it meshed: 1,000 and 1,500", null, "ms", Median(() => pairs = ExpectationTable.For(mesh, mesh.AmbientC, CopperTolerance.Usual).Pairs().Count()));

var one = GeneratedLoom.Loom(320, 480, 3);
TestPlan plan = null!;
Report("plan for 320 cavities, 480 wires", null, "ms", Median(() => plan = Planner.Plan(one, PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, one.AmbientC, CopperTolerance.Usual))));
var bench = new SimulatedBench(one, Meter.BenchFourWire, [new ResistiveFault(one.Wires[0].Id, 5)], 4);
var seen = plan.Steps.Where(s => s.Red is not null).Select(s => Observation.Of(s.Black, s.Red, bench.Measure([s.Red!.Value], [s.Black]).Ohms)).ToList();
Report("causes of what fails, all readings at hand", 100, "ms", Median(() => new Diagnostician(one, plan.AmbientC, plan.Copper, FaultTally.None).Gather(seen, plan.Meter, Hands.After(seen), CancellationToken.None)));

foreach (var (wires, devices, must) in new (int, int, double?)[] { (300, 60, 20), (600, 120, null), (1200, 240, null), (3000, 500, 500) })
{
    var powered = PoweredLoom.Loom(wires, devices, 7);
    Report(
        string.Create(CultureInfo.InvariantCulture, $"all five key positions, {powered.Wires.Length:#,0} wires, {powered.Devices.Length} devices"), must, "ms",
        Median(() => LoomStates.For(powered, powered.AmbientC).InAllPositions(withProbes: false)));
    Report("  with what a meter and two lamps show at every point", must, "ms", Median(() => LoomStates.For(powered, powered.AmbientC).InAllPositions()));
}

var plugged = PoweredLoom.Loom(3000, 500, 7);
Report("pairs through the devices, 3,000 wires, 500 devices", 5000, "ms", Median(() => pairs = FittedTable.For(plugged, plugged.AmbientC, CopperTolerance.Usual, new HashSet<string>(), new HashSet<string>()).Pairs().Count()));
Report("  pairs in that table", null, "", pairs);

var (left, right) = (GeneratedLoom.File(16_000, 24_000, 1), GeneratedLoom.File(16_000, 24_000, 2));
var (leftLoom, rightLoom) = (LoomReader.Read(left).Loom!, LoomReader.Read(right).Loom!);
var widePlan = Planner.Plan(leftLoom, PlanTerms.Usual(Meter.BenchFourWire, Isolation.Neighbours, leftLoom.AmbientC, CopperTolerance.Usual));
Report("comparing two looms of 24,000 wires that have nothing in common", 2000, "ms", Median(() =>
{
    PinoutComparison.Of(Pinout.Of(leftLoom), Pinout.Of(rightLoom), Synonyms.None, CancellationToken.None);
    LoomDifference.Between(LoomDocument.Parse(left)!, LoomDocument.Parse(right)!, CancellationToken.None);
}));
Report("causes in a loom of 24,000 wires", 1000, "ms", Median(() =>
{
    var step = widePlan.Steps[0];
    new Diagnostician(leftLoom, widePlan.AmbientC, widePlan.Copper, FaultTally.None).Gather([Observation.Of(step.Black, step.Red, 3)], widePlan.Meter, Hands.Usual, CancellationToken.None);
}));

return 0;

static double Median(Action work)
{
    var warm = Stopwatch.StartNew();
    do
    {
        work();
    }
    while (warm.Elapsed.TotalSeconds < 1);

    return Enumerable.Range(0, Runs).Select(_ =>
    {
        var clock = Stopwatch.StartNew();
        work();
        return clock.Elapsed.TotalMilliseconds;
    }).Order().ElementAt(Runs / 2);
}

static void Report(string what, double? must, string unit, double got) => Console.WriteLine(string.Create(
    CultureInfo.InvariantCulture,
    $"{what,-62} {(must is { } m ? $"< {m:0} {unit}" : "-"),12} {$"{got:0.#} {unit}",12}{(must is { } limit && got >= limit ? "   MISSED" : "")}"));
