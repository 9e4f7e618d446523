using CsCheck;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.Tests;

/// <summary>What a sensor that nobody knows may be, from a meter alone.</summary>
public sealed class UnknownSensorTests
{
    private static SensorGuess First(params PinReading[] readings) => UnknownSensor.Advise(readings)[0];

    [Theory]
    [InlineData(0.4, "heater, a closed switch, or a short")]
    [InlineData(12.0, "heater or a solenoid")]
    [InlineData(108.0, "platinum")]
    [InlineData(860.0, "coil that senses a toothed wheel")]
    [InlineData(12_000.0, "NTC")]
    [InlineData(560_000.0, "piezo element with a resistor")]
    public void Two_pins_are_told_by_their_ohms(double ohms, string what) =>
        First(new PinReading("1", "2", ohms, null), new PinReading("2", "1", ohms, null)).What.ShouldContain(what);

    [Fact]
    public void What_is_over_range_one_way_only_asks_for_the_other() =>
        First(new PinReading("1", "2", null, null)).Next.ShouldStartWith("Exchange the probes");

    [Fact]
    public void What_is_over_range_both_ways_is_a_piezo_or_a_diode()
    {
        First(new PinReading("1", "2", null, null), new PinReading("2", "1", null, null)).What.ShouldContain("piezo");
        First(new PinReading("1", "2", null, 0.6), new PinReading("2", "1", null, null)).What.ShouldContain("a diode");
    }

    [Fact]
    public void Another_value_the_other_way_round_is_a_semiconductor() =>
        First(new PinReading("1", "2", 5_000, null), new PinReading("2", "1", 9_000, null)).Because.ShouldContain("a semiconductor lies between");

    [Fact]
    public void Two_readings_that_add_up_to_the_third_are_a_potentiometer_with_its_wiper_named() =>
        First(new PinReading("A", "B", 5_000, null), new PinReading("C", "A", 1_200, null), new PinReading("C", "B", 3_900, null)).What.ShouldBe("A potentiometer with its wiper on C");

    [Fact]
    public void Three_pins_of_which_two_read_are_a_coil_with_a_shield() =>
        First(new PinReading("1", "2", 860, null), new PinReading("1", "3", null, null), new PinReading("2", "3", null, null)).What.ShouldBe("A coil or an NTC between 1 and 2, with a shield on the third pin");

    [Fact]
    public void Three_pins_with_a_diode_are_electronics() =>
        First(new PinReading("1", "2", 20_000, null), new PinReading("3", "1", null, 0.7), new PinReading("2", "3", null, null)).What.ShouldContain("electronics on three wires");

    [Fact]
    public void More_pins_are_taken_apart() =>
        First(new PinReading("1", "2", 10, null), new PinReading("3", "4", 1_000, null)).What.ShouldContain("4 pins");

    [Fact]
    public void Whatever_was_read_there_is_an_answer_that_never_says_to_power_it() =>
        Gen.Select(Gen.OneOfConst("1", "2", "3", "4"), Gen.OneOfConst("1", "2", "3", "4"), Gen.Nullable(Gen.Double[0, 1e7]), Gen.Nullable(Gen.Double[0, 3]))
            .Select((red, black, ohms, diode) => new PinReading(red, black, ohms, diode)).Array[0, 12].Sample(
                readings =>
                {
                    var guesses = UnknownSensor.Advise(readings);
                    guesses.ShouldNotBeEmpty();
                    guesses.ShouldAllBe(g => g.What.Length > 0 && g.Because.Length > 0 && g.Next.Length > 0);
                    guesses.ShouldAllBe(g => !g.Next.Contains("apply", StringComparison.OrdinalIgnoreCase) && !g.Next.Contains("12 V", StringComparison.Ordinal));
                },
                iter: 2000);
}
