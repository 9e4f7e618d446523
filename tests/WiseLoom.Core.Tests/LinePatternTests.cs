using System.Collections.Immutable;
using System.Globalization;
using CsCheck;
using WiseLoom.Core.Shop;

namespace WiseLoom.Core.Tests;

/// <summary>Lines of meters that send one for each value, and the ports at which they do.</summary>
public sealed class LinePatternTests
{
    private static LinePattern Pattern(string form, params string[] over) => new(form, [.. over]);

    [Theory]
    [InlineData("{value} {unit}", "12.34 kOhm", 12340)]
    [InlineData("{value} {unit}", "  0,512Ω ", 0.512)]
    [InlineData("{value} {unit}", "0.5 \u2126", 0.5)]
    [InlineData("{value} {unit}", "-0.01 OHM", -0.01)]
    [InlineData("{value} {unit}", "47.1 mOhm", 0.0471)]
    [InlineData("{value} {unit}", "1.5 MOHM", 1.5e6)]
    [InlineData("{value} {unit}", "1.5\tMegOhms", 1.5e6)]
    [InlineData("{value} {unit}", "850 µΩ", 0.00085)]
    [InlineData("{value} {unit}", "3.3 k", 3300)]
    [InlineData("{value} {unit}", ".33 R", 0.33)]
    [InlineData("{value}", "+1.2340E+01", 12.34)]
    [InlineData("{value}", "5.", 5)]
    [InlineData("{word} {value} {unit}", "RES 12.34 kOhm", 12340)]
    [InlineData("{word} {value} {unit}", "res,12.34,kOhm", 12340)]
    [InlineData("{value} {unit} *", "0.1234,OHM,NORMAL,AUTO", 0.1234)]
    [InlineData("* {value} {unit} *", "14:03:22; 0,512 Ω; hold", 0.512)]
    [InlineData("R={value} {unit}", "r=4.7 ohm", 4.7)]
    [InlineData("[{value}]", "[4.7]", 4.7)]
    public void A_line_says_its_ohms(string form, string line, double ohms)
    {
        var read = Pattern(form).Read(line);
        read.Wrong.ShouldBeNull();
        read.Reading!.Value.Ohms!.Value.ShouldBe(ohms, Math.Abs(ohms) * 1e-9);
    }

    [Theory]
    [InlineData("{value} {unit}", "OL")]
    [InlineData("{value} {unit}", "OL MOhm")]
    [InlineData("{value} {unit}", "o.l kΩ")]
    [InlineData("{value} {unit}", "---- ohm")]
    [InlineData("{value} {unit}", "-OL ohm")]
    [InlineData("{value}", "9.9E37")]
    [InlineData("{value}", "+9.90000000E+37")]
    [InlineData("{word} {value} {unit}", "RES OL")]
    [InlineData("* {value} *", "auto; OL; hold")]
    [InlineData("* {value} {unit} *", "14:03:22; OL; hold")]
    [InlineData("{value} {unit}", "too much")]
    public void Over_range_is_told_from_a_number(string form, string line) => Pattern(form, "too much").Read(line).ShouldBe(new LineReading(Electrical.Reading.OverRange, null));

    [Theory]
    [InlineData("{value} {unit}", "12.6 V", "is in V, which is no unit of resistance. Turn the meter to ohms.")]
    [InlineData("{value} {unit}", "20.1 C", "no unit of resistance")]
    [InlineData("{value} {unit}", "12.6", "does not look like {value} {unit}")]
    [InlineData("{value} {unit}", "", "does not look like")]
    [InlineData("{value} {unit}", "hold", "does not look like")]

    [InlineData("{value}", "12.3.4", "does not look like")]
    [InlineData("{value}", "-7", "says -7, which no meter of resistance shows")]
    [InlineData("{value}", "1e20", "no meter of resistance shows")]
    [InlineData("{value} {unit}", "1 \u0001ohm", "‘1 ·ohm’")]
    public void What_says_no_ohms_is_told_in_words(string form, string line, string words)
    {
        var read = Pattern(form).Read(line);
        read.Reading.ShouldBeNull();
        read.Wrong.ShouldNotBeNull().ShouldContain(words);
    }

    [Theory]
    [InlineData("", "/form")]
    [InlineData("{unit}", "/form")]
    [InlineData("{value} {value}", "/form")]
    [InlineData("{value} {unit} {unit}", "/form")]
    [InlineData("{value} {volt}", "/form")]
    [InlineData("{value", "/form")]
    [InlineData("value}", "/form")]
    public void A_form_that_no_line_can_have_is_refused(string form, string at) => Pattern(form).Problems().ShouldHaveSingleItem().At.ShouldBe(at);

    [Fact]
    public void Signs_and_questions_have_limits_and_the_usual_forms_read_their_samples()
    {
        new LinePattern("{value}", [""]).Problems().ShouldHaveSingleItem().At.ShouldBe("/over");
        new LinePattern("{value}", default).Problems().ShouldHaveSingleItem().At.ShouldBe("/over");
        new LinePattern("{value}", [], "READ?\n").Problems().ShouldHaveSingleItem().At.ShouldBe("/ask");
        new LinePattern(new string('x', 120) + "{value}", []).Problems().ShouldHaveSingleItem().At.ShouldBe("/form");
        (new LinePattern("{value}", ["OL"], "D") == new LinePattern("{value}", ["OL"], "D")).ShouldBeTrue();
        (new LinePattern("{value}", ["OL"]) == new LinePattern("{value}", ["O"])).ShouldBeFalse();
        // The longest form and the longest line that is least like it.
        var longest = Pattern(new string('*', 113) + "{value}");
        longest.Problems().ShouldBeEmpty();
        longest.Read(new string('1', 199) + "x").Reading.ShouldBeNull();
        foreach (var usual in LinePattern.Usual)
        {
            Pattern(usual.Form).Problems().ShouldBeEmpty(usual.Name);
            Pattern(usual.Form).Read(usual.Sample).Wrong.ShouldBeNull(usual.Name);
        }
    }

    /// <summary>Whatever a meter shows comes back as the same ohms, in each unit and with either sign for the decimals.</summary>
    [Fact]
    public void What_is_written_is_read() => Gen.Select(Gen.Double[0, 999.9], Gen.OneOfConst(("Ohm", 1.0), ("kOhm", 1e3), ("MΩ", 1e6), ("mΩ", 1e-3)), Gen.Bool, Gen.OneOfConst(" ", "", ",", " ; ")).Sample(x =>
    {
        var (value, (unit, factor), comma, blank) = x;
        var shown = value.ToString("0.0###", CultureInfo.InvariantCulture);
        var line = (comma ? shown.Replace('.', ',') : shown) + blank + unit;
        Pattern("{value} {unit}").Read(line).Reading!.Value.Ohms!.Value.ShouldBe(double.Parse(shown, CultureInfo.InvariantCulture) * factor, 1e-6 * factor);
    });

    /// <summary>No form and no line breaks it, and what is no line is never a reading of nothing.</summary>
    [Fact]
    public void Any_form_and_any_line_end_in_a_reading_or_in_words() => Gen.Select(Gen.String[Gen.OneOfConst("{value}{unit}{word}*[]()\\^$|.+? \t,;01Ωk".ToCharArray()), 0, 30], Gen.String[0, 60]).Sample((form, line) =>
    {
        var pattern = Pattern(form);
        var read = pattern.Read(line);
        (read.Reading is null).ShouldBe(read.Wrong is not null);
        _ = pattern.Problems();
    });

    [Fact]
    public void A_port_is_one_that_the_server_has()
    {
        ImmutableArray<string> ports = ["/dev/ttyUSB0"];
        new SerialWay("/dev/ttyUSB0", 9600, Lines: Pattern("{value}")).Problems(ports).ShouldBeEmpty();
        new SerialWay("/etc/passwd").Problems(ports).ShouldHaveSingleItem().ShouldBe(new("/port", "This server has no such port now. It has: /dev/ttyUSB0."));
        new SerialWay("/dev/ttyUSB0").Problems([]).ShouldHaveSingleItem().Message.ShouldStartWith("This server has no serial port now.");
        new SerialWay("/dev/ttyUSB0", 9601, (SerialParity)9, 5, (LineEnd)7, Pattern("x")).Problems(ports).Select(p => p.At).ShouldBe(["/baud", "/dataBits", "/parity", "/lineEnd", "/lines/form"]);
        (new SerialWay("x", LineEnd: LineEnd.CrLf).Ending, new SerialWay("x", LineEnd: LineEnd.Cr).Ending, new SerialWay("x").Ending).ShouldBe(("\r\n", "\r", "\n"));
    }
}
