using System.Collections.Immutable;
using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>Two faults of which one explains nothing alone: its wire stands in another cavity, or its circuit is not what the drawing says while the other is there.</summary>
public sealed class HiddenBehindTests
{
    /// <summary>A controller's plug of two rows, a feed from it that goes everywhere, a ground that goes everywhere, and plugs that hold both.</summary>
    private static readonly Loom Shop = Looms.Of(
    [
        "P:5-S0@900", "S1-R:1@1900", .. Enumerable.Range(1, 4).Concat([6, 7, 8, 9]).SelectMany(i => new[] { $"S0-X{i}:1@{500 + (131 * i)}", $"S1-X{i}:2@{600 + (173 * i)}", $"P:{i}-X{i}:3@{900 + (97 * i)}" }),
    ]);

    private static string WireTo(string cavity) => Shop.WiresAt(ProbePoint.Parse(cavity)).Single().Id;

    public static TheoryData<string, Fault[]> Pairs => new()
    {
        { "a poor wire of a plug that is filled from the wrong face", [new MirroredFault("P"), new ResistiveFault(WireTo("X2:3"), 3.2, "to")] },
        { "the same of its other row", [new MirroredFault("P"), new ResistiveFault(WireTo("X9:3"), 9.3, "to")] },
        { "an open wire of it", [new MirroredFault("P"), new OpenFault(WireTo("X7:3"), "to")] },
        { "the feed is missing, and its circuit touches another", [new OpenFault(WireTo("P:5")), new ShortFault("X7:2", "X7:3", 0.06)] },
        { "the feed is missing, and a plug of its circuit is filled wrongly", [new MissingFault(WireTo("P:5")), SwapFault.Of("X6", "1", "3")] },
        { "contacts exchanged within what a bridge joins", [SwapFault.Of("X4", "1", "2"), new ShortFault("X8:1", "X8:2", 0.35)] },
        { "the same nearer the bridge", [SwapFault.Of("X8", "1", "2"), new ShortFault("X6:1", "X6:2", 0.31)] },
        { "contacts exchanged in the plug where the bridge is", [SwapFault.Of("X8", "1", "2"), new ShortFault("X8:1", "X8:2", 0.6)] },
        { "contacts exchanged far from where their circuits touch", [SwapFault.Of("X9", "1", "2"), new ShortFault("X1:1", "X1:2", 0.97)] },
        { "contacts exchanged, and a third circuit touches one of theirs", [SwapFault.Of("X3", "1", "2"), new ShortFault(WireTo("X7:1"), WireTo("X2:3"), 0.29) { AlongMm = [1184, 477] }] },
        { "a poor leg of a circuit that touches another at its next leg", [new ShortFault(WireTo("X6:1"), WireTo("X7:2"), 0.26) { AlongMm = [900, 260] }, new ResistiveFault(WireTo("X8:1"), 46.8, "to")] },
        { "two plugs whose neighbours touch, of three circuits", [new ShortFault("X8:1", "X8:2", 0.71), new ShortFault("X4:2", "X4:3", 0.36)] },
        { "a poor feed of a circuit, and a poor leg of it", [new ResistiveFault(WireTo("P:5"), 1.88, "to"), new ResistiveFault(WireTo("X6:1"), 49.8, "from")] },
        { "a poor feed of a circuit, and a leg poorer by little", [new ResistiveFault(WireTo("P:5"), 0.3, "from"), new ResistiveFault(WireTo("X9:1"), 0.4, "to")] },
        { "contacts exchanged, one of them poor", [SwapFault.Of("X4", "1", "2"), new ResistiveFault(WireTo("X4:2"), 8.9, "from")] },
        { "two plugs of one circuit, each with two contacts exchanged", [SwapFault.Of("X2", "1", "2"), SwapFault.Of("X3", "1", "2")] },
        { "a poor wire that something touches beyond its joint", [new ResistiveFault(WireTo("X6:3"), 0.5, "from"), new ShortFault(WireTo("X6:3"), WireTo("X2:3"), 0.2) { AlongMm = [300, 400] }] },
        { "a poor wire that something touches before its joint", [new ResistiveFault(WireTo("X6:3"), 0.5, "to"), new ShortFault(WireTo("X6:3"), WireTo("X2:3"), 0.2) { AlongMm = [300, 400] }] },
    };

    [Theory]
    [MemberData(nameof(Pairs))]
    public void Both_are_found(string what, Fault[] hidden)
    {
        var played = new Trial(Shop, Plan).Play(hidden, 5, TestContext.Current.CancellationToken);
        played.Found.ShouldBeTrue($"{what}: {played.FirstProbability} {played.Sentence}");
    }

    private static readonly TestPlan Plan = Bench.Plan(Shop, Isolation.Thorough, Meter.BenchFourWire);
    private static readonly Diagnostician Engine = new(Shop, Shop.AmbientC, CopperTolerance.Usual, FaultTally.None);

    private static List<Observation> Planned(SimulatedBench bench) =>
        [.. Plan.Steps.Select(s => (Step: s, Probes: StepProbes.Of(Shop, Plan, s))).Select(x => Observation.Of(x.Step.Black, x.Step.Red, bench.Measure(x.Probes.Red, x.Probes.Black).Ohms))];

    /// <summary>Any two wires may touch anywhere, at their very ends too, beside anything: shares are shares, and what is asked for next can be taken.</summary>
    [Fact]
    public void Wherever_wires_touch_beside_another_fault_shares_are_shares() => Gen.Select(Gen.Int[0, Shop.Wires.Length - 1], Gen.Int[0, Shop.Wires.Length - 1], Gen.Int[0, 4], Gen.Int[0, 4], Gen.Int[1, 100_000]).Sample((i, j, a, b, seed) =>
    {
        var (one, other) = (Shop.Wires[i], Shop.Wires[j]);
        if (i == j)
        {
            return true;
        }

        ImmutableArray<Fault> hidden = [new ShortFault(one.Id, other.Id, 0.07) { AlongMm = [one.LengthMm * a / 4, other.LengthMm * b / 4] }, .. new HiddenFaults(Shop, seed).Some(1)];
        var bench = new SimulatedBench(Shop, Plan.Meter, [.. hidden], seed);
        var readings = Planned(bench);
        for (var extra = 0; extra < 3; extra++)
        {
            var found = Engine.Find(readings, Plan.Meter, TestContext.Current.CancellationToken);
            if (!found.Ranking.All(r => r.Probability is >= 0 and <= 1) || found.Ranking.Sum(r => r.Probability) > 1.000001 || found.Ranking.SelectMany(r => r.Faults).OfType<ShortFault>().Any(f => !double.IsFinite(f.Ohm) || (f.AlongMm ?? []).Any(mm => !double.IsFinite(mm))))
            {
                return false;
            }

            if (found.Next is not { } next)
            {
                break;
            }

            readings.Add(new([next.A], next.B, bench.Measure(next.B ?? StepProbes.Against(Shop, next.A), [next.A]).Ohms, next.Moved));
        }

        return true;
    }, iter: 25);

    /// <summary>A bridge that goes with exchanged contacts comes to where another pair has it already: its share must not count twice.</summary>
    [Fact]
    public void Nothing_is_supposed_twice() => Gen.Select(Gen.Int[1, 9], Gen.Int[1, 9], Gen.Int[0, 1], Gen.Int[1, 1000]).Sample((plug, other, contact, seed) =>
    {
        var (one, two) = (plug == 5 ? 1 : plug, other == 5 ? 2 : other);
        var drawn = new DrawnLoom(Shop, Shop.AmbientC, CopperTolerance.Usual);
        var readings = Planned(new(Shop, Plan.Meter, [SwapFault.Of($"X{one}", "1", "2"), new ShortFault($"X{two}:{2 + contact}", $"X{two}:{(contact == 0 ? 3 : 1)}", 0.3)], seed));
        var evidence = new Evidence(drawn, Plan.Meter, readings);
        var priors = Priors.Learned(FaultTally.None);
        var all = new Reckoning(drawn, evidence, new Suspects(drawn, priors), priors, new WaysBeside(drawn, evidence)).All(TestContext.Current.CancellationToken);
        return all.Select(FaultKeys.Of).Distinct(StringComparer.Ordinal).Count() == all.Count;
    }, iter: 25);

    /// <summary>Two circuits touch somewhere along their legs, of which many read alike. Where such a place is likeliest, the true one is mostly among what is told: few do not stand for all.</summary>
    [Fact]
    public void Where_a_bridge_may_lie_is_told_of_all_legs_that_read_alike()
    {
        var (legs, others) = (Shop.Wires.Where(w => w.From.Text == "S0"), Shop.Wires.Where(w => w.From.Text == "S1").Reverse());
        var (likeliest, named) = (0, 0);
        foreach (var ((one, other), seed) in legs.Zip(others).Select((pair, i) => (pair, i)))
        {
            ShortFault hidden = new(one.Id, other.Id, 0.07) { AlongMm = [60 + (11 * seed), 70 + (17 * seed)] };
            var bench = new SimulatedBench(Shop, Plan.Meter, [hidden], seed);
            var readings = Planned(bench);
            for (var found = Engine.Find(readings, Plan.Meter, TestContext.Current.CancellationToken); ; found = Engine.Find(readings, Plan.Meter, TestContext.Current.CancellationToken))
            {
                if (found.Ranking[0].Faults is [ShortFault { AlongMm: not null }])
                {
                    likeliest++;
                    named += found.Ranking.SelectMany(r => r.Alike.Prepend(r.Faults)).Any(f => f.Length == 1 && FaultKeys.Of(f[0]) == FaultKeys.Of(hidden)) ? 1 : 0;
                }

                if (found.Next is not { } next || readings.Count > 200)
                {
                    break;
                }

                readings.Add(new([next.A], next.B, bench.Measure(next.B ?? StepProbes.Against(Shop, next.A), [next.A]).Ohms, next.Moved));
            }
        }

        // Eight groups are told, of 48 pairs of legs; this loom has 81.
        likeliest.ShouldBeGreaterThan(8);
        named.ShouldBeGreaterThan(likeliest * 7 / 10);
    }

    private static Weighed Supposed(Evidence evidence, DrawnLoom drawn, params ImmutableArray<Fault> faults) => new Weighing(drawn, evidence).Weigh(new(faults, 0));

    /// <summary>Readings of a plan with some faults, and what a first supposition leaves of them.</summary>
    private static LeftOver Left(Fault first, params Fault[] hidden)
    {
        var drawn = new DrawnLoom(Shop, Shop.AmbientC, CopperTolerance.Usual);
        var evidence = new Evidence(drawn, Plan.Meter, Planned(new(Shop, Plan.Meter, [.. hidden], 3)));
        return new(drawn, evidence, Supposed(evidence, drawn, first));
    }

    [Fact]
    public void A_poor_wire_that_stands_elsewhere_carries_what_is_left()
    {
        var left = Left(new MirroredFault("P"), new MirroredFault("P"), new ResistiveFault(WireTo("X2:3"), 3.2));
        left.Of(new ResistiveFault(WireTo("X2:3"), double.NaN)).ShouldBeGreaterThan(0.9);
        left.Of(new ResistiveFault(WireTo("X9:3"), double.NaN)).ShouldBe(0);
        left.Of(new OpenFault(WireTo("X2:3"))).ShouldBe(0, "it still joins");
    }

    [Fact]
    public void A_poor_joint_is_not_behind_what_reads_too_little()
    {
        // With a bridge of too many ohms all readings through it are lower than that leaves them.
        var left = Left(new ShortFault("X6:1", "X6:2", 5), new ShortFault("X6:1", "X6:2", 0.3), new ResistiveFault(WireTo("X8:1"), 40, "to"));
        left.Of(new ResistiveFault(WireTo("X8:1"), double.NaN)).ShouldBeGreaterThan(0.9);
        left.Of(new ResistiveFault(WireTo("X6:1"), double.NaN)).ShouldBe(0);
    }

    [Fact]
    public void What_is_explained_speaks_for_a_contact_where_it_is()
    {
        var bridge = new ShortFault("X6:1", "X6:2", 0.3);
        var left = Left(bridge, bridge, SwapFault.Of("X8", "1", "2"));
        left.Of(SwapFault.Of("X8", "1", "2")).ShouldBeGreaterThan(0);
        left.Of(SwapFault.Of("X9", "1", "2")).ShouldBeLessThan(left.Of(SwapFault.Of("X8", "1", "2")));
        left.Of(SwapFault.Of("X8", "1", "3")).ShouldBeLessThan(left.Of(SwapFault.Of("X8", "1", "2")), "its third contact reads as it should");
    }

    [Fact]
    public void An_open_wire_is_behind_what_should_join_and_does_not()
    {
        var left = Left(SwapFault.Of("X4", "1", "2"), SwapFault.Of("X4", "1", "2"), new OpenFault(WireTo("X7:3")));
        left.Of(new OpenFault(WireTo("X7:3"))).ShouldBeGreaterThan(0);
        left.Of(new OpenFault(WireTo("X6:3"))).ShouldBe(0);
        left.Of(new ShortFault("X7:2", "X7:3", 0)).ShouldBe(0, "of bridges the fit says more");
    }

    [Fact]
    public void Of_contacts_that_touch_as_much_the_fewest_come_first()
    {
        var left = Left(SwapFault.Of("X2", "1", "2"), SwapFault.Of("X2", "1", "2"), SwapFault.Of("X3", "1", "2"));
        left.Of(SwapFault.Of("X3", "1", "2")).ShouldBeGreaterThan(left.Of(new MirroredFault("X3")));
        left.Of(SwapFault.Of("X9", "1", "3")).ShouldBe(0);
    }

    [Fact]
    public void Nothing_is_behind_what_is_explained()
    {
        var left = Left(new OpenFault(WireTo("X7:3")), new OpenFault(WireTo("X7:3")));
        new Fault[] { new OpenFault(WireTo("X6:3")), new ResistiveFault(WireTo("X6:3"), 1), SwapFault.Of("X3", "1", "2"), new MirroredFault("P") }.Select(left.Of).ShouldAllBe(o => o == 0);
    }
}
