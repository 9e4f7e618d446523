using System.Globalization;
using CsCheck;

namespace WiseLoom.Core.Tests;

/// <summary>Quantities as they are said, and ranges as they add up.</summary>
public sealed class UnitTests
{
    private static readonly Gen<OhmRange> Ranges =
        Gen.Select(Gen.Double[0, 1e3], Gen.Double[0, 10], Gen.Double[0, 10], (least, more, most) => new OhmRange(least, least + more, least + more + most));

    [Theory]
    [InlineData(0, "0 V")]
    [InlineData(0.0009, "0 V")]
    [InlineData(-0.0009, "0 V")]
    [InlineData(0.001, "1 mV")]
    [InlineData(0.046, "46 mV")]
    [InlineData(-0.046, "-46 mV")]
    [InlineData(0.0994, "99 mV")]
    [InlineData(0.0996, "0.10 V")]
    [InlineData(5.006, "5.01 V")]
    [InlineData(9.994, "9.99 V")]
    [InlineData(9.996, "10.0 V")]
    [InlineData(12.58, "12.6 V")]
    [InlineData(-28, "-28.0 V")]
    public void Voltages_are_said_as_a_meter_shows_them(double volts, string text) => Say.Volts(volts).ShouldBe(text);

    [Theory]
    [InlineData(0, "no current")]
    [InlineData(9e-7, "no current")]
    [InlineData(12e-6, "12 µA")]
    [InlineData(0.0009994, "999 µA")]
    [InlineData(0.0009996, "1 mA")]
    [InlineData(0.0463, "46.3 mA")]
    [InlineData(-0.0463, "-46.3 mA")]
    [InlineData(1.049, "1.05 A")]
    [InlineData(9.996, "10.0 A")]
    [InlineData(180, "180.0 A")]
    public void Currents_are_said_with_their_unit(double amps, string text) => Say.Amps(amps).ShouldBe(text);

    [Theory]
    [InlineData(0, "0 mV")]
    [InlineData(0.0132, "13.2 mV")]
    [InlineData(0.00132, "1.32 mV")]
    [InlineData(0.132, "132 mV")]
    [InlineData(1.4, "1.40 V")]
    public void Drops_keep_three_figures(double volts, string text) => Say.Drop(volts).ShouldBe(text);

    [Theory]
    [InlineData("52.1 mΩ", "98.0 mΩ", "52.1 to 98.0 mΩ")]
    [InlineData("520 mΩ", "1.40 Ω", "520 mΩ to 1.40 Ω")]
    public void Two_values_share_their_unit_when_they_can(string least, string most, string text) => Say.Between(least, most).ShouldBe(text);

    [Fact]
    public void A_resistance_is_said_within_half_of_its_third_figure() => Gen.Double[-3, 8].Sample(decade =>
    {
        var ohms = Math.Pow(10, decade);
        var said = Say.Ohms(ohms).Split(' ');
        var factor = said[1] switch { "mΩ" => 1e-3, "Ω" => 1, "kΩ" => 1e3, _ => 1e6 };
        (double.Parse(said[0], CultureInfo.InvariantCulture) * factor).ShouldBe(ohms, ohms * 0.0051);
        said[0].Count(char.IsAsciiDigit).ShouldBeLessThanOrEqualTo(3);
    });

    [Fact]
    public void A_longer_time_is_never_said_as_a_shorter_one() => Gen.Select(Gen.Double[0, 40_000], Gen.Double[0, 40_000]).Sample((one, two) =>
        Seconds(Say.Duration(Math.Min(one, two))).ShouldBeLessThanOrEqualTo(Seconds(Say.Duration(Math.Max(one, two))) + 30));

    [Fact]
    public void Parts_in_series_add_at_every_corner_in_any_order() => Gen.Select(Ranges, Ranges, Ranges).Sample((a, b, c) =>
    {
        foreach (var corner in new[] { Corner.Min, Corner.Nominal, Corner.Max })
        {
            (a + b + c).At(corner).ShouldBe(c.At(corner) + a.At(corner) + b.At(corner), 1e-9);
        }

        (a + b + c).Min.ShouldBeLessThanOrEqualTo((a + b + c).Nominal);
        (a + b + c).Nominal.ShouldBeLessThanOrEqualTo((a + b + c).Max);
    });

    [Fact]
    public void Nothing_in_series_changes_nothing_and_scaling_is_repeating() => Ranges.Sample(a =>
    {
        (a + OhmRange.Exactly(0)).ShouldBe(a);
        var (twice, scaled) = (a + a, a.Scaled(2));
        scaled.Min.ShouldBe(twice.Min, 1e-9);
        scaled.Max.ShouldBe(twice.Max, 1e-9);
        a.Scaled(0).ShouldBe(OhmRange.Exactly(0));
    });

    private static double Seconds(string said)
    {
        var words = said.Split(' ');
        return words.Chunk(2).Sum(w => double.Parse(w[0], CultureInfo.InvariantCulture) * (w[1] switch { "s" => 1, "min" => 60, _ => 3600 }));
    }
}
