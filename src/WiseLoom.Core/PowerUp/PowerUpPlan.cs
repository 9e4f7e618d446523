using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.PowerUp;

/// <summary>Everything that a power-up of one loom on one bench does, stage by stage, with what should be seen.</summary>
/// <param name="StandingAmps">What the loom draws from its battery with the key off and everything plugged in, amperes.</param>
/// <param name="Limit">What the limited supply of the first power is set to.</param>
/// <param name="Findings">What is wrong with the loom as it is drawn, before anything is switched on: feeds that drop while cranking, no state in a key position.</param>
public sealed record PowerUpPlan(BenchFit Fit, School School, ImmutableArray<PowerUpStage> Stages, double StandingAmps, CurrentLimit Limit, ImmutableArray<string> Findings)
{
    /// <summary>All checks, in order.</summary>
    public IEnumerable<PowerUpCheck> Checks => Stages.SelectMany(s => s.Checks);

    /// <summary>Makes it.</summary>
    /// <param name="fit">What is fitted; must have no problems.</param>
    /// <param name="ambientC">Degrees Celsius.</param>
    /// <exception cref="ArgumentException">The bench does not fit the loom, or the loom is larger than <see cref="WorkLimit.MostPowered"/>.</exception>
    public static PowerUpPlan Of(Loom loom, BenchFit fit, double ambientC, School school)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(fit);
        if (Refused(loom, fit) is { } refused)
        {
            throw new ArgumentException(refused, nameof(fit));
        }

        var bench = new PowerUpBench(loom, fit, ambientC, school);
        var numbers = PowerUpStages.Of(school);
        var whole = new Lazy<PowerUpBench>(() => new(loom, BenchFit.AsDrawn, ambientC, school));
        var stages = numbers.Select(n => Stage(bench, n, whole)).ToImmutableArray();
        var off = bench.State(bench.Still(KeyPosition.Off, []));
        var standing = off is null || !ProbePoint.TryParse(bench.Plus, out var plus) ? 0 : Math.Abs(off.Amps(plus));
        return new(fit, school, stages, standing, bench.Limit, [.. FoundIn(bench)]);
    }

    /// <summary>Why no plan can be made; null when one can.</summary>
    public static string? Refused(Loom loom, BenchFit fit)
    {
        ArgumentNullException.ThrowIfNull(fit);
        return WorkLimit.TooManyWires(loom, WorkLimit.MostPowered) ?? fit.Problems(loom).Select(p => $"{p.At}: {p.Message}").FirstOrDefault();
    }

    private static PowerUpStage Stage(PowerUpBench bench, int number, Lazy<PowerUpBench> whole)
    {
        // Those of one set-up one after the other, in the order in which set-ups first come up.
        var checks = CheckMaker.All.Where(m => m.Stage == number).SelectMany(m => m.Of(bench)).ToList();
        var ordered = checks.GroupBy(c => c.SetUp).SelectMany(g => g).ToImmutableArray();
        var lacks = ordered.IsEmpty && (Lacks(bench, number) || IsEmptiedByFit(bench, number, whole));
        return new(number, PowerUpStages.Names[number - 1], ordered, ordered.IsEmpty ? CannotDo(bench, number, lacks) : null, ordered.IsEmpty && !lacks);
    }

    /// <summary>Whether a stage has something to look at with everything fitted, and nothing on this bench.</summary>
    private static bool IsEmptiedByFit(PowerUpBench bench, int number, Lazy<PowerUpBench> whole) =>
        !bench.Fit.Changed.IsEmpty && CheckMaker.All.Any(m => m.Stage == number && m.Of(whole.Value).Any());

    /// <summary>Whether a stage is empty only because something that the loom is for is not on this bench.</summary>
    private static bool Lacks(PowerUpBench bench, int number) =>
        bench.Plus is null || (number >= 5 && bench.Controllers.Length == 0 && bench.Drawn.Devices.Any(d => d.Model is ControllerModel { Pins.IsEmpty: false }));

    private static string CannotDo(PowerUpBench bench, int number, bool lacks) => bench.Plus is null ? "No battery is in this loom: nothing can have power."
        : bench.Controllers.Length == 0 && number is 5 or 6 ? "No controller is fitted on this bench."
        : lacks ? "Nothing of what this stage looks at is fitted on this bench."
        : number == 4 ? "No warning lamp or gauge of this loom hangs on a switch or sender without the controller."
        : "This loom has nothing that this stage looks at.";

    private static IEnumerable<string> FoundIn(PowerUpBench bench)
    {
        if (EstimatedCopper.InWords(bench.Drawn) is { } estimated)
        {
            yield return estimated;
        }

        if (bench.Plus is null)
        {
            yield return "No battery is in this loom’s file: nothing of it has a voltage of its own, and nothing can be expected.";
            yield break;
        }

        foreach (var key in KeyPositions.All)
        {
            if (bench.State(bench.Still(key, [])) is not { } state)
            {
                yield return $"With the key at {KeyPositions.Word(key)} no state can be computed: parts of 0 Ω contradict each other, or something chatters without end.";
            }
            else if (!state.Stays)
            {
                yield return $"With the key at {KeyPositions.Word(key)} something chatters: it takes its own supply away. No figure of that position holds.";
            }
        }

        foreach (var drop in bench.Drops)
        {
            yield return drop.Sentence;
        }
    }
}
