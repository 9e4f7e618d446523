using System.Collections.Immutable;
using System.Text;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.States;
using WiseLoom.Core.Symptoms;

namespace WiseLoom.Core.Tests;

/// <summary>Looms at the edge of what is usual: a ring that only a strap leads to, a pair with one end, a sensor behind a fuse, a contact with two wires.</summary>
public sealed class UnusualLoomTests
{
    private const string Families = """
        "format": "wise-loom/loom", "version": 1, "loom": { "name": "Edge", "supplyVolts": 12.6, "ambientC": 20 },
        "families": [ { "id": "six", "rows": [["1","2","3","4","5","6"]], "contactMilliohm": 4, "wiresPerCavity": 4 }, { "id": "eye", "kind": "ring", "rows": [["1"]], "contactMilliohm": 1, "wiresPerCavity": 4 } ],
        """;

    private static Loom Read(string rest) => LoomReader.Read(Encoding.UTF8.GetBytes($"{{ {Families} {rest} }}")) is { Loom: { } loom } ? loom : throw new InvalidOperationException("The loom cannot be read.");

    private static IEnumerable<PowerUpCheck> Checks(Loom loom) => PowerUpPlan.Of(loom, BenchFit.AsDrawn, 20, School.Bench).Checks;

    [Fact]
    public void A_battery_ring_that_only_a_strap_leads_to_is_reached_through_the_engines_metal()
    {
        var loom = Read("""
            "connectors": [ { "ref": "RB", "family": "eye" }, { "ref": "RN", "family": "eye" }, { "ref": "T", "family": "six" } ],
            "wires": [ { "id": "W1", "from": "RB:1", "to": "T:1", "mm2": 1, "lengthMm": 500 } ],
            "devices": [ { "ref": "battery", "kind": "battery", "volts": 12.6, "pins": { "+": "RB:1", "-": "RN:1" } }, { "ref": "strap", "kind": "cable", "toCase": true, "pins": { "a": "RN:1" } },
                         { "ref": "horn", "kind": "resistor", "ohm": 10, "use": "siren", "pins": { "1": "T:1" } } ]
            """);
        var expected = Checks(loom).First(c => c.Id == "short no-power").Expect.ShouldBeOfType<OhmExpected>();
        expected.Ohm!.Value.Nominal.ShouldBe(10.0146, 1e-3);
        expected.Holds(new MeasuredAnswer(10)).ShouldBeTrue();
        expected.Holds(new MeasuredAnswer(null)).ShouldBeFalse();
    }

    [Fact]
    public void A_pair_with_its_one_end_in_the_controller_reads_over_range_without_it_and_no_current_is_less_than_none()
    {
        var loom = Read("""
            "connectors": [ { "ref": "RB", "family": "eye" }, { "ref": "ECU", "family": "six" }, { "ref": "D", "family": "six" } ],
            "wires": [ { "id": "W1", "from": "RB:1", "to": "ECU:1", "mm2": 1, "lengthMm": 500 }, { "id": "W2", "from": "ECU:2", "to": "D:1", "mm2": 0.35, "lengthMm": 900 }, { "id": "W3", "from": "ECU:3", "to": "D:2", "mm2": 0.35, "lengthMm": 900 } ],
            "devices": [ { "ref": "battery", "kind": "battery", "volts": 12.6, "pins": { "+": "RB:1" } },
                         { "ref": "ecu", "kind": "controller", "pins": { "1": "ECU:1", "2": "ECU:2", "3": "ECU:3" }, "roles": { "1": { "role": "supply" }, "2": { "role": "network", "bus": "n", "ohm": 120 }, "3": { "role": "network", "bus": "n" } } } ]
            """);
        var checks = Checks(loom).ToList();
        checks.First(c => c.Id == "pair n no-power-all").Why.ShouldBe("120 Ω in the controller alone read as 120 Ω. That one end missing reads over range; a third end reads about 60.0 Ω.");
        var amps = checks.First(c => c.Id == "limited amps").Expect.ShouldBeOfType<AmpsExpected>();
        amps.Amps.Min.ShouldBe(0);
        amps.Holds(new MeasuredAnswer(-0.001)).ShouldBeTrue("a clamp shows as much of nothing");
        amps.Holds(new MeasuredAnswer(-0.2)).ShouldBeFalse();
    }

    [Fact]
    public void Fuse_feed_and_plug_of_a_sensor_and_the_plug_of_a_switch_are_suspects_of_what_they_take_away()
    {
        var loom = Read("""
            "connectors": [ { "ref": "RB", "family": "eye" }, { "ref": "RN", "family": "eye" }, { "ref": "ECU", "family": "six" }, { "ref": "F", "family": "six" }, { "ref": "S", "family": "six" }, { "ref": "B", "family": "six" } ],
            "wires": [ { "id": "W1", "from": "RB:1", "to": "ECU:1", "mm2": 1, "lengthMm": 500 }, { "id": "W2", "from": "RB:1", "to": "F:1", "mm2": 1, "lengthMm": 500 }, { "id": "W3", "from": "F:2", "to": "S:1", "mm2": 1, "lengthMm": 500 },
                       { "id": "W4", "from": "ECU:2", "to": "S:2", "mm2": 1, "lengthMm": 500 }, { "id": "W5", "from": "ECU:3", "to": "S:3", "mm2": 1, "lengthMm": 500 }, { "id": "W6", "from": "ECU:4", "to": "B:1", "mm2": 1, "lengthMm": 500 },
                       { "id": "W7", "from": "RN:1", "to": "B:2", "mm2": 1, "lengthMm": 500 }, { "id": "W8", "from": "RN:1", "to": "ECU:5", "mm2": 1, "lengthMm": 500 } ],
            "devices": [ { "ref": "battery", "kind": "battery", "volts": 12.6, "pins": { "+": "RB:1", "-": "RN:1" } }, { "ref": "fuse", "kind": "fuse", "amps": 5, "pins": { "1": "F:1", "2": "F:2" } },
                         { "ref": "ecu", "kind": "controller", "pins": { "1": "ECU:1", "2": "ECU:2", "3": "ECU:3", "4": "ECU:4", "5": "ECU:5" },
                           "roles": { "1": { "role": "supply" }, "2": { "role": "sensorGround" }, "3": { "role": "digitalIn" }, "4": { "role": "digitalIn" }, "5": { "role": "ground" } } },
                         { "ref": "level", "title": "Level sensor", "kind": "transducer", "referenceVolts": 12, "pins": { "5V": "S:1", "ground": "S:2", "signal": "S:3" } },
                         { "ref": "brake", "title": "Brake switch", "kind": "switch", "closedWhen": "brake pressed", "pins": { "1": "B:1", "2": "B:2" } } ]
            """);
        var table = SymptomTable.Of(BreakEffects.Of(loom, 20, cancel: TestContext.Current.CancellationToken));
        string[] Behind(string title) => [.. table.Symptoms.First(s => s.Title == title).Suspects.Select(s => s.Break.Id).Order(StringComparer.Ordinal)];
        var sensor = Behind("Level sensor tells the controller nothing");
        foreach (var part in new[] { "W2", "W3", "W4", "W5", "fuse", "F", "S" })
        {
            sensor.ShouldContain(id => id.EndsWith(part, StringComparison.Ordinal), part);
        }

        Behind("Brake switch tells the controller nothing").ShouldContain(id => id.EndsWith('B'));
        table.Unseen.Select(b => b.Id).ShouldNotContain(id => id.EndsWith("W7", StringComparison.Ordinal));
    }

    [Fact]
    public void A_contact_is_not_certain_in_a_cavity_that_nobody_touched_and_both_its_wires_may_be_open()
    {
        var loom = Read("""
            "connectors": [ { "ref": "A", "family": "six" }, { "ref": "B", "family": "six" } ],
            "wires": [ { "id": "W1", "from": "A:1", "to": "B:1", "mm2": 0.5, "lengthMm": 400 }, { "id": "W2", "from": "A:1", "to": "B:1", "mm2": 0.5, "lengthMm": 450 }, { "id": "W3", "from": "A:2", "to": "B:2", "mm2": 0.5, "lengthMm": 400 } ]
            """);
        var diagnosis = new Diagnostician(loom, 20, CopperTolerance.Usual, FaultTally.None);
        ProbePoint At(string place) => ProbePoint.Parse(place);
        var read = new List<Observation> { Observation.Of(At("A:1"), At("B:1"), null), Observation.Of(At("A:2"), At("B:2"), 0.0218) };
        // Every empty cavity of either plug but the last one of A.
        read.AddRange(new[] { "A:3", "A:4", "A:5" }.Select(a => Observation.Of(At(a), At("B:1"), null)));
        read.AddRange(new[] { "B:3", "B:4", "B:5", "B:6" }.Select(b => Observation.Of(At("A:1"), At(b), null)));
        var told = diagnosis.Find(read, Meter.BenchFourWire, TestContext.Current.CancellationToken);
        told.IsSure.ShouldBeFalse();
        told.Ranking.Select(r => r.Faults).ShouldContain(f => f.SequenceEqual(ImmutableArray.Create<Fault>(new MisplacedFault("A", "1", "6"))));
        told.Next.ShouldNotBeNull();
        new[] { told.Next.A }.Concat(told.Next.B ?? []).ShouldContain(At("A:6"));

        read.Add(Observation.Of(At("A:6"), At("B:1"), null));
        var then = diagnosis.Find(read, Meter.BenchFourWire, TestContext.Current.CancellationToken);
        then.Ranking[0].Faults.Select(f => f.ToString()).ShouldBe([new OpenFault("W1").ToString(), new OpenFault("W2").ToString()], ignoreOrder: true);
    }
}
