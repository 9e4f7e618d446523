using System.Collections.Immutable;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Runs;

namespace WiseLoom.Core.Tests;

/// <summary>What the log of the shop comes to, and how it moves the ranking.</summary>
public sealed class FaultReportTests
{
    private static LoggedInShop One(string loom, string? place, Fault? fault, double? minutes, string? family = "slab-60", string? builder = "Mira") => new(loom, place, family, builder, fault is null ? [] : [fault], minutes);

    [Fact]
    public void Faults_are_counted_by_kind_family_place_and_builder_with_their_minutes_and_what_came_again()
    {
        var report = FaultReport.Of(
        [
            One("Fan", "ECU-A", new OpenFault("W1"), 10),
            One("Fan", "ECU-A", new OpenFault("W2"), 20),
            One("Fan", "ECU-B", new OpenFault("W3"), null, builder: null),
            One("Launch", "ECU-A", new ShortFault("A:1", "A:2", 0), 5, family: null),
            One("Launch", null, null, null, family: null),
        ]);

        report.Count.ShouldBe(5);
        report.Kinds.ShouldBe([new("open", 3, 30, 2, 1), new("in words only, or not known yet", 1, 0, 0, 0), new("short", 1, 5, 1, 0)]);
        report.Families.ShouldBe([new("slab-60", 3, 30, 2, 1)]);
        report.Places.ShouldBe([new("Fan: ECU-A", 2, 30, 2, 1), new("Fan: ECU-B", 1, 0, 0, 0), new("Launch: ECU-A", 1, 5, 1, 0)]);
        report.Builders.Single().ShouldBe(new("Mira", 4, 35, 3, 1));
    }

    [Fact]
    public void Of_two_that_are_the_same_the_later_one_came_again() =>
        FaultReport.Of([One("Fan", "ECU-A", new OpenFault("W2"), 1, builder: "Tomas"), One("Fan", "ECU-A", new OpenFault("W1"), 1)])
            .Builders.ShouldBe([new("Mira", 1, 1, 1, 0), new("Tomas", 1, 1, 1, 1)]);

    [Fact]
    public void An_empty_log_counts_nothing() => FaultReport.Of([]).ShouldSatisfyAllConditions(r => r.Count.ShouldBe(0), r => r.Kinds.ShouldBeEmpty(), r => r.Places.ShouldBeEmpty());

    [Fact]
    public void No_more_than_twenty_of_each_are_told() =>
        FaultReport.Of([.. Enumerable.Range(0, 60).Select(i => One($"Loom {i}", "A", new OpenFault("W1"), 1))]).ShouldSatisfyAllConditions(r => r.Places.Length.ShouldBe(FaultReport.Most), r => r.Count.ShouldBe(60));

    [Fact]
    public void Every_kind_has_its_word() => Fault.Kinds.ShouldBe(["open", "resistive", "short", "swap", "misplaced", "shift", "mirrored", "missing", "device", "intermittent", "backed-out", "key-terminal"]);

    [Fact]
    public void Shares_of_kinds_stay_shares_and_move_towards_what_the_shop_finds()
    {
        static double Sum(Priors p) => p.Open + p.Resistive + p.Short + p.Swap + p.Misplaced + p.Shift + p.Mirrored + p.Intermittent;
        Priors.Learned(FaultTally.None).Open.ShouldBe(Priors.Usual.Open, 1e-12);
        var learned = Priors.Learned(new(ImmutableDictionary<string, int>.Empty.Add("misplaced", 200).Add("open", 5).Add("missing", 5).Add("device", 90)));
        Sum(learned).ShouldBe(Sum(Priors.Usual), 1e-9);
        learned.Misplaced.ShouldBeGreaterThan(0.7);
        learned.Swap.ShouldBeLessThan(Priors.Usual.Swap);
    }

    /// <summary>The same reading: a wire that reads open, in a shop that finds contacts astray all the time.</summary>
    [Fact]
    public void In_a_shop_that_finds_contacts_astray_they_come_before_an_open_wire()
    {
        var loom = Looms.WorkLaunch;
        var run = Bench.Measured(loom, Bench.Plan(loom, Planning.Isolation.Neighbours), new MisplacedFault("PANEL", "8", "9"));
        var often = new FaultTally(ImmutableDictionary<string, int>.Empty.Add("misplaced", 300));
        RunDiagnosis.Of(run, FaultTally.None, TestContext.Current.CancellationToken).Cases[0].Causes[0].Faults[0].ShouldBeOfType<OpenFault>();
        RunDiagnosis.Of(run, often, TestContext.Current.CancellationToken).Cases[0].Causes[0].Faults[0].ShouldBeOfType<MisplacedFault>();
    }
}
