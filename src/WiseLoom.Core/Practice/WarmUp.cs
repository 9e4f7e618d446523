using System.Text;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Practice;

/// <summary>Finds hidden faults in a small made-up loom, so that what computes is compiled before somebody waits for it: of a first diagnosis that is nine tenths.</summary>
public static class WarmUp
{
    /// <summary>Cases of one fault, and of two.</summary>
    private const int Cases = 8;

    private const string Small = """
        {"format": "wise-loom/loom", "version": 1, "loom": {"name": "Small", "revision": "A"},
         "families": [{"id": "twelve", "rows": [["1", "2", "3", "4", "5", "6"], ["7", "8", "9", "10", "11", "12"]]}, {"id": "three", "rows": [["1", "2", "3"]]}],
         "connectors": [{"ref": "C1", "family": "twelve"}, {"ref": "A1", "family": "three"}, {"ref": "A2", "family": "three"}, {"ref": "A3", "family": "three"}],
         "splices": [{"ref": "S1"}, {"ref": "S2"}],
         "wires": [
          {"id": "W1", "from": "C1:1", "to": "S1", "mm2": 1, "lengthMm": 900},
          {"id": "W2", "from": "S1", "to": "A1:1", "mm2": 0.75, "lengthMm": 700},
          {"id": "W3", "from": "S1", "to": "A2:1", "mm2": 0.75, "lengthMm": 1100},
          {"id": "W4", "from": "S1", "to": "A3:1", "mm2": 0.75, "lengthMm": 1600},
          {"id": "W5", "from": "C1:2", "to": "S2", "mm2": 1, "lengthMm": 800},
          {"id": "W6", "from": "C1:3", "to": "S2", "mm2": 1, "lengthMm": 850},
          {"id": "W7", "from": "S2", "to": "A1:2", "mm2": 0.75, "lengthMm": 750},
          {"id": "W8", "from": "S2", "to": "A2:2", "mm2": 0.75, "lengthMm": 1150},
          {"id": "W9", "from": "C1:7", "to": "A1:3", "mm2": 0.5, "lengthMm": 1700},
          {"id": "W10", "from": "C1:8", "to": "A2:3", "mm2": 0.5, "lengthMm": 2100},
          {"id": "W11", "from": "C1:9", "to": "A3:2", "mm2": 0.5, "lengthMm": 2400},
          {"id": "W12", "from": "C1:10", "to": "A3:3", "mm2": 0.5, "lengthMm": 2400}]}
        """;

    /// <summary>Plays all cases; takes a second or two in a new process.</summary>
    /// <exception cref="OperationCanceledException">It was not waited for.</exception>
    public static void Diagnosis(CancellationToken cancel)
    {
        foreach (var played in Play(cancel))
        {
            cancel.ThrowIfCancellationRequested();
        }
    }

    /// <summary>The cases, each from its plan to the end.</summary>
    internal static IEnumerable<TrialCase> Play(CancellationToken cancel)
    {
        cancel.ThrowIfCancellationRequested();
        var loom = LoomReader.Read(Encoding.UTF8.GetBytes(Small)).Loom!;
        var trial = new Trial(loom, Planner.Plan(loom, PlanTerms.Usual(Meter.BenchFourWire, Isolation.Thorough, loom.AmbientC, CopperTolerance.Usual)));
        return Enumerable.Range(0, 2 * Cases).Select(i => trial.Play(new HiddenFaults(loom, i).Some(2 - (i / Cases)), i, cancel));
    }
}
