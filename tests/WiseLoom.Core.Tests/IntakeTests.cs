using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using CsCheck;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Looms;
using static WiseLoom.Core.Tests.Strangers;

namespace WiseLoom.Core.Tests;

/// <summary>Tables as shops write them, and the loom that comes out.</summary>
public sealed class IntakeTests
{
    [Fact]
    public void The_most_usual_list_of_all_comes_out_without_a_word()
    {
        var reading = Read("""
            Wire No,From Connector,From Pin,To Connector,To Pin,Color,AWG,Length (cm),Signal
            1,ECU,17,INJ1,1,BU/WH,20,145,Injector 1 drive
            2,ECU,18,INJ2,1,Red-Black,18,160.5,Injector 2 drive
            3,FUSE,A,INJ1,2,OG,16,90,Injector feed
            """);
        reading.Problems.ShouldBeEmpty();
        Nets(reading).ShouldBe(["ECU:17 INJ1:1", "ECU:18 INJ2:1", "FUSE:A INJ1:2"]);
        var wire = reading.Loom!.FindWire("2")!;
        wire.Colour.Text.ShouldBe("RD/BK");
        wire.Section.Awg.ShouldBe(18);
        wire.LengthMm.ShouldBe(1605);
        wire.Circuit.ShouldBe("Injector 2 drive");
        reading.Tables.ShouldHaveSingleItem().Columns.ShouldAllBe(c => c.Probability > 0.7);
    }

    [Theory]
    [InlineData("ECU:17")]
    [InlineData("ECU-17")]
    [InlineData("ECU.17")]
    [InlineData("ECU/17")]
    [InlineData("ECU 17")]
    [InlineData("ECU pin 17")]
    [InlineData("ECU, cavity 17")]
    [InlineData("ECU (17)")]
    [InlineData("ECU[17]")]
    [InlineData("17 (ECU)")]
    [InlineData("pin 17 of ECU")]
    [InlineData("ECU Kammer 17")]
    public void Ends_are_read_in_each_form_that_people_write(string cell) => EndForms.Read(cell).ShouldBe(new PaperEnd("ECU", "17"));

    [Theory]
    [InlineData("RD/BU", "RD/BU")]
    [InlineData("Red-Blue", "RD/BU")]
    [InlineData("blue with white stripe", "BU/WH")]
    [InlineData("rt/bl", "RD/BU", 1)]
    [InlineData("swge", "BK/YE", 1)]
    [InlineData("grün", "GN")]
    [InlineData("weiß / grau", "WH/GY")]
    [InlineData("BLK-YEL", "BK/YE", 2)]
    [InlineData("noir", "BK")]
    [InlineData("amarillo/verde", "YE/GN")]
    [InlineData("Vn", null)]
    [InlineData("", null)]
    public void Colours_are_read_in_four_languages(string cell, string? code, int list = 0) => ColourWords.Read(cell, list)?.Text.ShouldBe(code);

    /// <summary><c>bl</c> is blue among German short forms: what else stands in the column tells.</summary>
    [Fact]
    public void What_a_short_form_means_is_told_by_the_column() => ColourWords.Read("bl", ColourWords.Best(["sw", "rt/bl", "ge", "ws"]).List)!.Value.Text.ShouldBe("BU");

    [Theory]
    [InlineData("1450", "mm", 1450.0)]
    [InlineData("1,45", "m", 1450.0)]
    [InlineData("44.5\"", null, 1130.3)]
    [InlineData("1.2 m", "mm", 1200.0)]
    [InlineData("1,260 mm", null, 1260.0)]
    [InlineData("20 cm", null, 200.0)]
    [InlineData("12 kg", "mm", null)]
    [InlineData("long", "mm", null)]
    public void Lengths_are_read_with_their_units(string cell, string? unit, double? mm)
    {
        if (mm is { } wanted)
        {
            Quantities.Millimetres(cell, unit).ShouldNotBeNull().ShouldBe(wanted, 1e-6);
        }
        else
        {
            Quantities.Millimetres(cell, unit).ShouldBeNull();
        }
    }

    [Fact]
    public void Two_rows_of_headings_titles_totals_and_blank_rows_are_no_wires()
    {
        var reading = Read("""
            "Pump cart, revision C"
            Drawn,by hand,,2031-03-02

            #,Signal,From,,To,,Colour,Size
            ,,Plug,Pin,Plug,Pin,,mm2
            1,Pump feed,BOX,7,PUMP,A,pink-orange,1.5

            2,Pump ground,RING1,1,PUMP,B,black,1.5
            Total,2 wires,,,,,,
            Checked twice,,,,,,,
            """);
        reading.Problems.ShouldBeEmpty();
        Nets(reading).ShouldBe(["BOX:7 PUMP:A", "PUMP:B RING1:1"]);
        reading.Tables[0].Struck.ShouldBe([9, 10]);
        reading.Loom!.Wires[0].Section.Mm2.ShouldBe(1.5);
    }

    [Fact]
    public void A_sheet_for_each_connector_joins_what_goes_to_each_other_and_each_wire_once()
    {
        var reading = Book(
            ("ECU", [["Pin", "Colour", "Function", "Goes to"], ["1", "RD", "Feed", "BOX pin 7"], ["2", "BK", "Ground", "RING1 pin 1"]]),
            ("BOX", [["Pin", "Colour", "Function", "Goes to"], ["7", "RD", "Feed", "ECU pin 1"]]));
        reading.Problems.ShouldBeEmpty();
        Nets(reading).ShouldBe(["BOX:7 ECU:1", "ECU:2 RING1:1"]);
        reading.Loom!.Wires.Length.ShouldBe(2);
    }

    [Fact]
    public void Charts_that_contradict_each_other_are_told_with_both_places()
    {
        var reading = Book(
            ("ECU", [["Pin", "Colour", "Goes to"], ["1", "RD", "BOX pin 7"], ["2", "BK", "BOX pin 8"], ["3", "BU", "BOX pin 9"]]),
            ("BOX", [["Pin", "Colour", "Goes to"], ["7", "RD", "ECU pin 2"], ["9", "GN", "ECU pin 3"]]));
        reading.Problems.Select(p => (p.Sheet, p.Row)).ShouldContain(("BOX", 2));
        reading.Problems.ShouldContain(p => p.Message.Contains("ECU row 2", StringComparison.Ordinal));
        reading.Problems.ShouldContain(p => p.Message.Contains("two colours", StringComparison.Ordinal));
    }

    [Fact]
    public void Equal_functions_are_joined_three_at_a_splice_and_nearly_equal_ones_are_asked_about()
    {
        var reading = Book(
            ("ECU", [["Terminal", "Description"], ["1", "Pump drive"], ["2", "Sensor ground"], ["3", "Coolant temperature"]]),
            ("PUMP", [["Terminal", "Description"], ["A", "pump  drive"], ["B", "Sensor ground"]]),
            ("TEMP", [["Terminal", "Description"], ["1", "Sensor ground"], ["2", "Coolant temp"]]));
        Nets(reading).ShouldBe(["ECU:1 PUMP:A", "ECU:2 PUMP:B TEMP:1"]);
        reading.Loom!.Splices.ShouldHaveSingleItem();
        reading.Guessed.ShouldContain(g => g.Contains("3 cavities have the function ‘Sensor ground’", StringComparison.Ordinal));
        reading.Problems.ShouldHaveSingleItem().Message.ShouldContain("Is ‘Coolant temp’ at TEMP:2 the same as ‘Coolant temperature’ at ECU:3");
    }

    [Fact]
    public void Connectors_named_above_their_tables_in_one_sheet()
    {
        var reading = Read("""
            Connector: ECU (34 pins)
            Pin;Wire colour;Signal;To
            1;pink;Oil lamp;DASH.B
            5;black / red;Ground;RING1.1

            Connector: DASH
            Pin;Wire colour;Signal;To
            B;pink;Oil lamp;ECU.1
            """);
        reading.Problems.ShouldBeEmpty();
        Nets(reading).ShouldBe(["DASH:B ECU:1", "ECU:5 RING1:1"]);
    }

    [Fact]
    public void The_pins_of_one_connector_without_a_name_are_asked_for_and_taken_with_one()
    {
        const string pins = "Pin,Colour,Goes to\n1,RD,BOX:7\n2,BK,RING1:1";
        Read(pins, "pinout.csv").Problems.ShouldContain(p => p.Message.Contains("nothing says which", StringComparison.Ordinal));
        Nets(Read(pins, "pinout.csv", connector: "ECU")).ShouldBe(["BOX:7 ECU:1", "ECU:2 RING1:1"]);
    }

    [Theory]
    [InlineData("x")]
    [InlineData("1")]
    [InlineData("●")]
    [InlineData("0.05")]
    public void A_mark_in_a_cross_table_joins(string mark)
    {
        var reading = Read($"ECU,INJ1:1,INJ1:2,INJ2:1,INJ2:2\n1,{mark},,,\n2,,,{mark},\n3,,{mark},,{mark}\n");
        reading.Tables[0].Shape.ShouldBe(TableShape.Cross);
        Nets(reading).ShouldBe(["ECU:1 INJ1:1", "ECU:2 INJ2:1", "ECU:3 INJ1:2 INJ2:2"]);
    }

    [Fact]
    public void Text_from_a_paper_has_its_columns_by_blanks()
    {
        var reading = Read("""
            Wire   From      To         Colour    mm2    Length
            W1     ECU 31    PRESS1 A   VT        0.5    250 mm
            W2     ECU 7     PRESS1 B             0.5    1.2 m
            """, "copied.txt");
        reading.Problems.ShouldBeEmpty();
        Nets(reading).ShouldBe(["ECU:31 PRESS1:A", "ECU:7 PRESS1:B"]);
        reading.Loom!.Wires.Select(w => w.LengthMm).ShouldBe([250, 1200]);
    }

    [Fact]
    public void A_name_without_a_pin_where_wires_meet_is_a_splice_and_blank_names_are_those_above()
    {
        var reading = Read("Plug,Cavity,To\nBOX,7,SPL1\nFAN,1,SPL1\n,2,RING1:1\n");
        Nets(reading).ShouldBe(["BOX:7 FAN:1", "FAN:2 RING1:1"]);
        reading.Loom!.Splices.ShouldHaveSingleItem().Ref.ShouldBe("SPL1");
    }

    [Fact]
    public void Quotation_marks_that_are_inches_are_read_as_inches() =>
        Read("Wire,From,To,Length\nW1,ECU:1,FAN:1,44.5\"\nW2,ECU:2,FAN:2,9\"\n").Loom!.Wires[0].LengthMm.ShouldBe(1130.3);

    /// <summary>What is not said is a range, and no less limits it.</summary>
    [Fact]
    public void A_wire_without_length_and_section_has_the_limits_of_all_that_it_can_be()
    {
        var reading = Read("From,To\nECU:1,FAN:1\nECU:2,FAN:2\n");
        reading.Problems.ShouldBeEmpty();
        var wire = reading.Loom!.Wires[0];
        wire.IsEstimated.ShouldBeTrue();
        wire.LengthInWords().ShouldBe("100–6000 mm");
        var own = Copper.Wire(wire, 20, CopperTolerance.Usual);
        // By hand: 6.12 m of 0.35 mm², 54.4 mΩ a metre, 3 K warmer; 0.08 m of 1 mm² at 0.96 of 17.2 mΩ, 3 K colder.
        own.Max.ShouldBe(6.12 * 0.0544 * (1 + (0.00393 * 3)), 1e-4);
        own.Min.ShouldBe(0.08 * 0.96 * 0.017241 * (1 - (0.00393 * 3)), 1e-6);
        reading.Guessed.Count(g => g.Contains("2 of 2 wires:", StringComparison.Ordinal)).ShouldBe(2);
    }

    /// <summary>Nobody counts to a place in a face that was guessed, and the plan says what it leaves open for it.</summary>
    [Fact]
    public void A_face_made_from_pins_is_not_counted_in_and_the_plan_says_what_is_estimated()
    {
        var loom = Read("From,To\nECU:1,FAN:1\nECU:2,FAN:2\n").Loom!;
        FaceLayout.Of(loom.Connector("ECU").Family, FaceSide.WireSide).Cells.ShouldAllBe(c => c.Spoken == FaceLayout.NotConfirmed);
        Bench.Plan(loom, Planning.Isolation.Neighbours).LeftOpen.Select(o => o.Split(':')[0]).ShouldContain("Faces that nobody has looked at yet");
        Bench.Plan(loom, Planning.Isolation.Thorough).LeftOpen.ShouldHaveSingleItem().ShouldStartWith("Wires with a length or a section that nobody measured: 2.");
    }

    [Fact]
    public void A_cell_that_is_not_understood_is_told_in_its_place_and_the_wire_is_made()
    {
        var reading = Read("Wire,From,To,Colour,Section,Length\nW1,ECU:1,FAN:1,mauvish,0.5,1200\nW2,ECU:2,FAN:2,RD,thick,900\nW2,ECU:3,FAN:3,RD,0.5,far\n");
        reading.Problems.Select(p => (p.Row, p.Column)).ShouldBe([(2, "Colour"), (3, "Section"), (4, "Length"), (4, "")], ignoreOrder: true);
        Nets(reading).Length.ShouldBe(3);
    }

    [Theory]
    [InlineData("")]
    [InlineData("   \n  ")]
    [InlineData("hello")]
    [InlineData("just,some,words\nand,nothing,else\n")]
    [InlineData("Wire,Colour\nW1,RD\n")]
    public void A_file_without_wires_says_what_a_table_has(string text)
    {
        var reading = Read(text);
        reading.Loom.ShouldBeNull();
        reading.Problems.ShouldNotBeEmpty();
    }

    [Fact]
    public void What_a_person_says_of_a_column_counts()
    {
        const string odd = "P,Q,R,S\nECU:1,FAN:1,12,red\nECU:2,FAN:2,15,blue\n";
        var mapping = new IntakeMapping(ImmutableSortedDictionary<string, MappedColumn>.Empty.Add("R", new(Meaning.Length, "in")).Add("P", new(Meaning.OtherEnd)).Add("Q", new(Meaning.End)));
        var reading = Read(odd, mapping: mapping);
        reading.Loom!.Wires.Select(w => (w.From.Text, w.LengthMm)).ShouldBe([("FAN:1", 304.8), ("FAN:2", 381)]);
        IntakeMapping.Fingerprint(["Länge (mm)", "Von"]).ShouldBe(IntakeMapping.Fingerprint(["länge mm", "VON "]));
        IntakeMapping.Fingerprint(["Von", "Länge (mm)"]).ShouldNotBe(IntakeMapping.Fingerprint(["Länge (mm)", "Von"]));
    }

    /// <summary>Whatever stands in a file, the answer is in words and quick: rows of random cells.</summary>
    [Fact]
    public void Any_rows_are_answered() => Gen.String.Array[0, 6].Array[0, 12].Sample(rows =>
    {
        var reading = Read(string.Join('\n', rows.Select(r => string.Join(',', r))));
        return reading.Loom is not null || !reading.Problems.IsEmpty;
    }, iter: Effort.Of(300, 20_000));

    /// <summary>A list of any looms' wires, written with any form of ends, gives the nets that it has.</summary>
    [Fact]
    public void A_list_gives_back_the_nets_that_it_was_written_from() => Gen.Select(Gen.Int[2, 40], Gen.Int[0, 4], Gen.Int[1, 1000]).Sample((count, form, seed) =>
    {
        var random = new Random(seed);
        var ends = Enumerable.Range(1, count).Select(i => (Ecu: i, Plug: $"DEV{1 + (i / 4)}", Pin: 1 + (i % 4))).ToList();
        string End(string plug, int pin) => form switch { 0 => $"{plug}:{pin}", 1 => $"{plug}-{pin}", 2 => $"{plug} pin {pin}", 3 => $"{plug}.{pin}", _ => $"{pin} ({plug})" };
        var rows = ends.OrderBy(_ => random.Next()).Select(e => $"{End("ECU", e.Ecu)},{End(e.Plug, e.Pin)},{random.Next(100, 3000)}");
        var reading = Read($"From,To,Length mm\n{string.Join('\n', rows)}\n");
        return Nets(reading).Order(StringComparer.Ordinal).SequenceEqual(ends.Select(e => string.Join(' ', new[] { $"ECU:{e.Ecu}", $"{e.Plug}:{e.Pin}" }.Order(StringComparer.Ordinal))).Order(StringComparer.Ordinal));
    }, iter: 60);

    [Theory]
    [InlineData("""{ "min": 100, "nominal": 50, "max": 6000 }""", "must rise")]
    [InlineData("""{ "min": 100, "max": 6000 }""", "Missing")]
    [InlineData("\"long\"", "a number")]
    public void A_range_in_a_loom_file_is_held_to_its_rules(string length, string said)
    {
        var json = JsonNode.Parse(Looms.Json("A:1-B:1").ToJsonString())!;
        json["wires"]![0]!["lengthMm"] = JsonNode.Parse(length);
        Looms.Read(json.ToJsonString()).Problems.ShouldHaveSingleItem().Message.ShouldContain(said);
    }

    [Theory]
    [InlineData(16, 1.5, true)]
    [InlineData(20, 0.5, true)]
    [InlineData(20, 1.5, false)]
    public void A_gauge_beside_the_metric_section_that_is_bought_for_it_counts(int awg, double mm2, bool sound)
    {
        var json = JsonNode.Parse(Looms.Json("A:1-B:1").ToJsonString())!;
        (json["wires"]![0]!["awg"], json["wires"]![0]!["mm2"]) = (awg, mm2);
        var reading = Looms.Read(json.ToJsonString());
        reading.Problems.IsEmpty.ShouldBe(sound, string.Join(' ', reading.Problems.Select(p => p.Message)));
        reading.Loom?.Wires[0].Section.Awg.ShouldBe(awg);
    }

    [Fact]
    public void Twenty_four_charts_and_a_cross_of_sixty_are_read_whole()
    {
        var charts = Enumerable.Range(1, 24).Select(c => ($"P{c}", (string[][])[["Pin", "Function"], .. Enumerable.Range(1, 10).Select(p => new[] { $"{p}", c % 2 == 1 ? $"Line {c}-{p}" : $"Line {c - 1}-{p}" })])).ToArray();
        Nets(Book(charts)).Length.ShouldBe(120);
        var cross = new StringBuilder("ECU," + string.Join(',', Enumerable.Range(1, 60).Select(i => $"DEV:{i}")) + "\n");
        for (var i = 1; i <= 60; i++)
        {
            cross.Append(CultureInfo.InvariantCulture, $"{i},{string.Join(',', Enumerable.Range(1, 60).Select(j => (i * 7) % 61 == j ? "X" : ""))}\n");
        }

        Nets(Read(cross.ToString())).Length.ShouldBe(60);
    }
}
