using System.Collections.Immutable;
using CsCheck;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.Tests;

/// <summary>Curves of sensors, senders against gauges, and sensors that nobody knows.</summary>
public sealed class SensorTests
{
    [Fact]
    public void Three_points_are_met_exactly_and_the_way_back_ends_where_it_began() =>
        Gen.Select(Gen.Double[2500, 5000], Gen.Double[50, 100_000], Gen.Double[-40, 10], Gen.Double[15, 60]).Sample((beta, at25, cold, step) =>
        {
            double Ohms(double celsius) => at25 * Math.Exp(beta * ((1 / (celsius + 273.15)) - (1 / 298.15)));
            var fit = NtcFit.Through([.. new[] { cold, cold + step, cold + (2 * step) }.Select(c => new NtcPoint(c, Ohms(c)))]);
            fit.Wrong.ShouldBeNull();
            foreach (var c in new[] { cold, cold + (step / 2), cold + step, cold + (2 * step) })
            {
                fit.CelsiusAt(fit.OhmsAt(c)).ShouldBe(c, 1e-6);
                fit.OhmsAt(c).ShouldBe(Ohms(c), 1e-6 * Ohms(c));
            }

            fit.Beta.ShouldBe(beta, 1e-6 * beta);
        });

    [Fact]
    public void A_textbook_thermistor_has_its_textbook_coefficients()
    {
        // 25 kΩ at 5 °C, 10 kΩ at 25 °C, 4 kΩ at 45 °C: worked out with the three-point form by hand.
        var fit = NtcFit.Through([new(5, 25_000), new(25, 10_000), new(45, 4_000)]);
        fit.A.ShouldBe(2.1085e-3, 2e-6);
        fit.B.ShouldBe(0.7979e-4, 1e-7);
        fit.C.ShouldBe(6.5351e-7, 1e-10);
    }

    [Theory]
    [InlineData("20 2500, 80 320", "at least three")]
    [InlineData("-10 9400, 20 2500, 80 2600", "falls as it warms")]
    [InlineData("-10 100, 20 108, 80 131", "falls as it warms")]
    [InlineData("20 2500, 20 2400, 80 320", "stands twice")]
    [InlineData("-10 9400, 20 0, 80 320", "cannot be")]
    [InlineData("-300 9400, 20 2500, 80 320", "cannot be")]
    [InlineData("-10 9400, 20 9399, 80 320", "β would be")]
    [InlineData("-10 9400, 20 2500, 21 3", "β would be")]
    [InlineData("-10 9400, 0 5900, 20 2500, 40 1900, 80 320", "does not belong")]
    public void Points_that_belong_to_no_ntc_are_named(string points, string words) =>
        NtcFit.Through(Points(points, (c, o) => new NtcPoint(c, o))).Wrong!.ShouldContain(words);

    [Fact]
    public void A_transducer_goes_along_its_line_both_ways()
    {
        var scale = new TransducerScale(0.5, 0, 4.5, 1000, "kPa");
        scale.UnitsAt(2.5).ShouldBe(500, 1e-9);
        scale.VoltsAt(scale.UnitsAt(3.1)).ShouldBe(3.1, 1e-12);
    }

    [Fact]
    public void A_sender_and_its_own_gauge_belong_together()
    {
        var curve = Points("0 3, 50 80, 100 180", (u, o) => new SenderPoint(u, o));
        SenderAndGauge.Of(curve, curve).Pair!.Match.ShouldBeTrue();
    }

    [Fact]
    public void A_gauge_for_the_opposite_sender_reads_empty_when_full()
    {
        var (pair, _) = SenderAndGauge.Of(Points("0 3, 100 180", (u, o) => new SenderPoint(u, o)), Points("0 180, 100 3", (u, o) => new SenderPoint(u, o)));
        pair!.Match.ShouldBeFalse();
        pair.Readings[0].Shown.ShouldBe(100, 1e-9);
        pair.Sentence.ShouldContain("full would read empty");
    }

    [Theory]
    [InlineData("0 3", "0 3, 100 180", "sender needs at least two")]
    [InlineData("0 3, 100 180", "0 3, 50 90, 100 40", "gauge turns back")]
    [InlineData("0 3, 0 5", "0 3, 100 180", "one value twice")]
    [InlineData("0 -3, 100 180", "0 3, 100 180", "below 0")]
    public void Curves_without_sense_are_refused_in_words(string sender, string gauge, string words) =>
        SenderAndGauge.Of(Points(sender, (u, o) => new SenderPoint(u, o)), Points(gauge, (u, o) => new SenderPoint(u, o))).Wrong!.ShouldContain(words);

    [Theory]
    [InlineData("1 2 2400; 2 1 2400", "NTC")]
    [InlineData("1 2 700; 2 1 700", "toothed wheel")]
    [InlineData("1 2 0.4; 2 1 0.4", "heater")]
    [InlineData("1 2 -; 2 1 -", "piezo")]
    [InlineData("1 2 -", "Nothing can be said yet")]
    [InlineData("1 2 -; 2 1 700", "toothed wheel")]
    [InlineData("1 2 5000; 2 1 90000", "electronics")]
    [InlineData("1 2 5000; 2 1 5000; 1 3 1200; 3 1 1200; 2 3 3800; 3 2 3800", "potentiometer with its wiper on 3")]
    [InlineData("1 2 700; 2 1 700; 1 3 -; 3 1 -; 2 3 -; 3 2 -", "shield on the third pin")]
    [InlineData("1 2 9000; 2 1 300000; 1 3 -; 3 1 -; 2 3 12000; 3 2 400000", "5 V, ground, signal")]
    [InlineData("1 2 100; 3 4 100", "Two sensors")]
    public void An_unknown_sensor_is_guessed_and_never_to_be_powered(string readings, string words)
    {
        var guesses = UnknownSensor.Advise([.. readings.Split("; ").Select(r => r.Split(' ')).Select(r => new PinReading(r[0], r[1], r[2] == "-" ? null : double.Parse(r[2], System.Globalization.CultureInfo.InvariantCulture), null))]);
        guesses.ShouldContain(g => g.What.Contains(words));
        guesses.ShouldAllBe(g => !g.Next.Contains("12 V", StringComparison.Ordinal));
        UnknownSensor.Caution.ShouldStartWith("Do not put power on any pin");
    }

    [Fact]
    public void Without_readings_nothing_is_guessed() => UnknownSensor.Advise([]).Single().What.ShouldBe("Nothing can be said yet");

    private static ImmutableArray<T> Points<T>(string text, Func<double, double, T> make) =>
        [.. text.Split(", ").Select(p => p.Split(' ')).Select(p => make(double.Parse(p[0], System.Globalization.CultureInfo.InvariantCulture), double.Parse(p[1], System.Globalization.CultureInfo.InvariantCulture)))];
}
