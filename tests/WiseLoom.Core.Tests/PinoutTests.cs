using System.Text;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Pinouts;

namespace WiseLoom.Core.Tests;

/// <summary>What is made of the words on a sheet.</summary>
public sealed class PinoutTests
{
    [Fact]
    public void The_demo_library_has_families_from_2_to_100_cavities()
    {
        Book.Families.Count.ShouldBeGreaterThanOrEqualTo(20);
        Book.Families.Values.Max(f => f.Cavities.Length).ShouldBe(100);
        Book.Families.Values.Any(f => !f.Large.IsEmpty).ShouldBeTrue();
        Book.Tower.Lines.Length.ShouldBe(120);
        Book.ControllerTwo.Lines.Length.ShouldBe(120);
    }

    [Theory]
    [InlineData("INJ1", "injector 1", true)]
    [InlineData("Injector 3", "Injector 5", false)]
    [InlineData("Water temp", "ECT", true)]
    [InlineData("Oxygen sensor left", "Lambda RH", false)]
    [InlineData("CAN high", "Data bus low", false)]
    [InlineData("CAN L", "Data bus low", true)]
    [InlineData("Oxygen heater drive, L", "Oxygen heater left", true)]
    [InlineData("Coil 1 trigger", "Ignition coil 1", true)]
    [InlineData("Throttle motor +", "Throttle actuator plus", true)]
    public void Two_names_for_one_thing_are_one_thing(string one, string other, bool same) =>
        (FunctionWords.Sense(one, Book.Synonyms).Key == FunctionWords.Sense(other, Book.Synonyms).Key).ShouldBe(same);

    [Theory]
    [InlineData("Injector 1 drive", "", PinRole.Output)]
    [InlineData("Sensor ground A", "ground", PinRole.SensorGround)]
    [InlineData("Sensor supply, 5 V", "supply", PinRole.Reference)]
    [InlineData("Power ground 2", "", PinRole.Ground)]
    [InlineData("Ignition feed", "", PinRole.Feed)]
    [InlineData("CAN high", "", PinRole.Network)]
    [InlineData("Not used", "", PinRole.Unused)]
    [InlineData("Knock screen", "", PinRole.Shield)]
    [InlineData("Driver airbag", "input", PinRole.Restraint)]
    [InlineData("", "", PinRole.Unknown)]
    [InlineData("Oil pressure switch", "", PinRole.Input)]
    public void The_kind_of_circuit_comes_from_direction_and_words(string function, string direction, PinRole role) =>
        PinRoles.Of(function, direction).ShouldBe(role);

    [Fact]
    public void A_search_finds_a_function_under_any_of_its_names()
    {
        var sheets = new[] { ("tower", Sheet(Book.Tower)), ("two", Sheet(Book.ControllerTwo)) };
        FunctionSearch.Find("coolant temperature", sheets, Book.Synonyms).Select(f => f.Line.Function).ShouldBe(["ECT sensor", "Water temperature"], ignoreOrder: true);
        FunctionSearch.Find("inj3", sheets, Book.Synonyms).Select(f => f.Line.Function).ShouldBe(["Injector 3", "INJ3 driver"], ignoreOrder: true);
        FunctionSearch.Find("no such thing at all", sheets, Book.Synonyms).ShouldBeEmpty();
        FunctionSearch.Find("  ", sheets, Book.Synonyms).ShouldBeEmpty();

        static Sheet Sheet(Pinout p) => new(p.Title, [], [.. p.Lines.Select(l => new SheetLine(l.Place.Connector, l.Place.Cavity, l.Function, "", "", "", ""))]);
    }

    [Fact]
    public void Pasted_lines_are_read_with_the_heads_people_write()
    {
        var problems = new List<Problem>();
        var lines = Pinouts.Sheet.ReadLines(CsvText.Read("Pin\tSignal\tDir\tColor\n1\tInjector 1\tout\tBU/WH\n2\tPower\tpwr\t\n", "x", "pasted rows", problems)!, "P1", problems);
        problems.ShouldBeEmpty();
        lines.ShouldBe([new SheetLine("P1", "1", "Injector 1", "output", "BU/WH", "", ""), new SheetLine("P1", "2", "Power", "supply", "", "", "")]);
    }

    [Theory]
    [InlineData("colour,note\nRD,x\n", "", "rows row 1")]
    [InlineData("pin,function\n1,a\n1,b\n", "P1", "rows row 3, column pin")]
    [InlineData("pin,function\n,a\n", "P1", "rows row 2, column pin")]
    [InlineData("pin,function\n1,a\n", "", "rows row 2, column connector")]
    [InlineData("pin,function,direction\n1,a,sideways\n", "P1", "rows row 2, column direction")]
    public void Lines_that_cannot_be_read_are_named_with_row_and_column(string text, string plug, string at)
    {
        var problems = new List<Problem>();
        Pinouts.Sheet.ReadLines(CsvText.Read(text, "rows", "rows", problems)!, plug, problems);
        problems.ShouldContain(p => p.At == at);
    }

    [Fact]
    public void A_sheet_names_what_is_wrong_and_what_is_only_doubtful()
    {
        var sheet = new Sheet("", [new("P1", "", "seal-2"), new("P1", "", "nobody")], [new("P1", "7", "x", "", "", "", ""), new("P1", "7", "y", "up", "", "", ""), new("Q", "", "z", "", "", "", new string('n', 500))]);
        var (problems, warnings) = sheet.Check(Book.Families);
        problems.Select(p => p.At).ShouldBe(
            ["/title", "/connectors/1/ref", "/connectors/1/family", "/lines/1/direction", "/lines/1/cavity", "/lines/2/cavity", "/lines/2/note", "/lines/2/connector"], ignoreOrder: true);
        warnings.Select(w => w.At).ShouldBe(["/lines/0/cavity", "/lines/1/cavity"]);
    }

    [Theory]
    [InlineData("Battery feed", "supply", LooseDecision.KeepInsulated)]
    [InlineData("Injector 1", "output", LooseDecision.KeepInsulated)]
    [InlineData("Not used", "", LooseDecision.CutBack)]
    [InlineData("Neutral switch", "input", LooseDecision.ToGround)]
    [InlineData("Manifold pressure", "input", LooseDecision.KeepLong)]
    [InlineData("Immobiliser line", "input", LooseDecision.KeepInsulated)]
    [InlineData("Seat belt tensioner", "", LooseDecision.KeepInsulated)]
    [InlineData("", "", LooseDecision.KeepInsulated)]
    public void A_loose_wire_gets_a_decision_with_its_reason(string function, string direction, LooseDecision decision)
    {
        var advice = LooseWire.Advise(new PinoutLine(new("P1", "15"), function, PinRoles.Of(function, direction), "", "", ""), "P1:15");
        advice.Decision.ShouldBe(decision);
        advice.Reason.ShouldNotBeEmpty();
        advice.Label.ShouldStartWith("P1:15");
        advice.Label.Length.ShouldBeLessThanOrEqualTo(LooseWire.LongestLabel);
        advice.LengthMm.ShouldBe(decision switch { LooseDecision.CutBack => 0, LooseDecision.ToGround => 250, _ => direction == "output" ? 150 : 1200 });
    }

    [Fact]
    public void A_cavity_the_sheet_does_not_know_is_kept_until_somebody_does() =>
        LooseWire.Advise(null, "P1:3").ShouldSatisfyAllConditions(a => a.Decision.ShouldBe(LooseDecision.KeepInsulated), a => a.Label.ShouldBe("P1:3 ?"));

    [Fact]
    public void What_meets_what_is_the_same_either_way_round()
    {
        foreach (var a in Enum.GetValues<PinRole>())
        {
            foreach (var b in Enum.GetValues<PinRole>())
            {
                PinDamage.Between(a, b).ShouldBe(PinDamage.Between(b, a));
            }
        }

        PinDamage.Between(PinRole.Ground, PinRole.Feed).Level.ShouldBe(DamageLevel.Fire);
        PinDamage.Between(PinRole.Feed, PinRole.Reference).Level.ShouldBe(DamageLevel.Harm);
    }

    [Fact]
    public void Two_sheets_are_laid_side_by_side()
    {
        var left = Book.Of("A:1=Injector 1", "A:2=Injector 2", "A:3=Water temperature", "A:4=Old lamp", "A:5=Horn");
        var right = Book.Of("A:1=INJ1", "A:7=INJ 2", "A:3=ECT", "A:8=New lamp", "A:5=Battery feed");
        var lines = PinoutComparison.Of(left, right, Book.Synonyms, TestContext.Current.CancellationToken).Lines.Select(l => (l.Kind, l.Left?.Place.Cavity, l.Right?.Place.Cavity)).ToList();
        lines.ShouldBe(
            [(ComparedKind.Same, "1", "1"), (ComparedKind.Moved, "2", "7"), (ComparedKind.Same, "3", "3"), (ComparedKind.OnlyLeft, "4", null), (ComparedKind.OnlyLeft, "5", null), (ComparedKind.OnlyRight, null, "5"), (ComparedKind.OnlyRight, null, "8")],
            ignoreOrder: true);
    }

    [Fact]
    public void A_pinout_compared_with_itself_is_the_same_everywhere()
    {
        foreach (var pinout in new[] { Book.Tower, Book.ControllerTwo, Pinout.Of(Looms.FrostFan), Pinout.Of(Looms.WorkLaunch) })
        {
            var compared = PinoutComparison.Of(pinout, pinout, Book.Synonyms, TestContext.Current.CancellationToken);
            compared.Lines.ShouldAllBe(l => l.Kind == ComparedKind.Same);
            compared.Lines.Length.ShouldBe(pinout.Lines.Length);
            compared.Twins.Where(t => t.Left == t.Right).ShouldBeEmpty();
        }
    }

    [Fact]
    public void Plugs_that_fit_and_are_not_the_same_come_with_the_damage()
    {
        var twin = PinoutComparison.Of(Book.Of("A:1=Battery feed;supply", "A:2=Injector 1;output"), Book.Of("B:1=Power ground;ground", "B:2=INJ1;output"), Book.Synonyms, TestContext.Current.CancellationToken).Twins.ShouldHaveSingleItem();
        twin.Worst.ShouldBe(DamageLevel.Fire);
        twin.Pins.ShouldHaveSingleItem().Damage.Sentence.ShouldContain("dead short");
    }

    [Fact]
    public void Another_keying_or_other_numbering_does_not_fit()
    {
        var (a, b) = (Book.Families["seal-8"], Book.Families["oval-8"]);
        FalseTwins.SameShape(a, a).ShouldBeTrue();
        FalseTwins.SameShape(a, b).ShouldBeFalse();
        FalseTwins.SameShape(a, a with { Keying = "X" }).ShouldBeFalse();
        // The same face, listed from its other side.
        var mirrored = a with { NumberedFrom = FaceSide.WireSide, Rows = [.. a.Rows.Select(r => (System.Collections.Immutable.ImmutableArray<string?>)[.. r.Reverse()])] };
        FalseTwins.SameShape(a, new ConnectorFamily(a.Id, a.Title, mirrored.Rows, FaceSide.WireSide, a.Keying, a.Sealed, a.Kind, a.WiresPerCavity, a.Contact, [])).ShouldBeTrue();
    }
}
