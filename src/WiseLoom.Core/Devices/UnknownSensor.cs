using System.Collections.Immutable;
using System.Globalization;

namespace WiseLoom.Core.Devices;

/// <summary>What was measured between two pins of a sensor that nobody knows.</summary>
/// <param name="Ohms">Resistance, red on <paramref name="Red"/>; null for over range.</param>
/// <param name="DiodeVolts">Diode range, the same way round; null for over range.</param>
public sealed record PinReading(string Red, string Black, double? Ohms, double? DiodeVolts);

/// <summary>What an unknown sensor may be.</summary>
/// <param name="What">In words.</param>
/// <param name="Because">The readings that speak for it.</param>
/// <param name="Next">What to measure next, without power.</param>
public sealed record SensorGuess(string What, string Because, string Next);

/// <summary>Advice about a sensor that nobody knows, from readings without power. It never says to power it.</summary>
public static class UnknownSensor
{
    /// <summary>Stands beside every answer.</summary>
    public const string Caution = "Do not put power on any pin while its supply pin and its voltage are not known: 12 V on a 5 V sensor destroys it.";

    /// <summary>What it may be, the likeliest first.</summary>
    /// <param name="readings">Both directions of each pair of pins, as far as they were taken.</param>
    public static ImmutableArray<SensorGuess> Advise(IReadOnlyCollection<PinReading> readings)
    {
        var pins = readings.SelectMany(r => new[] { r.Red, r.Black }).Distinct(StringComparer.Ordinal).ToList();
        if (pins.Count < 2)
        {
            return [new("Nothing can be said yet", "Two pins and a reading between them are needed.", "Measure the resistance and the diode voltage between each two pins, in both directions.")];
        }

        return pins.Count == 2 ? TwoPins(readings) : pins.Count == 3 ? ThreePins(readings, pins) : [Many(pins.Count)];
    }

    private static ImmutableArray<SensorGuess> TwoPins(IReadOnlyCollection<PinReading> readings)
    {
        var first = readings.First();
        var second = readings.FirstOrDefault(r => r.Red == first.Black && r.Black == first.Red);
        if (first.Ohms is null && second is null)
        {
            return [new("Nothing can be said yet", "Over range one way; the other way was not measured.", "Exchange the probes and measure again, as a resistance and on the diode range.")];
        }

        if (first.Ohms is null && second is { Ohms: null })
        {
            return first.DiodeVolts is null && second.DiodeVolts is null
                ? [new("A piezo element such as a knock sensor, or an open circuit", "Over range both ways.", "Tap it while a meter on its millivolt AC range is connected: a piezo answers.")]
                : [new("A sensor with electronics, or a diode", $"Over range as a resistance, {Volts(first.DiodeVolts ?? second.DiodeVolts)} as a diode.", "Look for its part in a pinout sheet before anything else.")];
        }

        if (second is not null && first.Ohms is { } there && second.Ohms is { } back && Math.Max(there, back) > 1.2 * Math.Min(there, back))
        {
            return [new("A sensor with electronics on two wires", $"{Ohms(there)} one way and {Ohms(back)} the other: a semiconductor lies between the pins.", "Its supply comes through a known resistor in the controller: look it up, do not try.")];
        }

        var ohms = first.Ohms ?? second!.Ohms!.Value;
        return ohms switch
        {
            < 2 => [new("A heater, a closed switch, or a short", $"{Ohms(ohms)} both ways.", "Move what it senses by hand: a switch opens.")],
            < 20 => [new("A heater or a solenoid", $"{Ohms(ohms)} both ways.", "Look for a thick pair of wires: a heater has one.")],
            < 200 => [new("A temperature sensor with platinum (about 100 or 200 Ω), or a sender of a gauge", $"{Ohms(ohms)} both ways.", "Warm it by hand: platinum rises a little, a sender of a gauge changes with its lever.")],
            < 3500 => [
                new("A coil that senses a toothed wheel", $"{Ohms(ohms)} both ways.", "Move iron past its tip with a meter on millivolt AC: a coil answers, an NTC does not."),
                new("An NTC", $"{Ohms(ohms)} both ways at room temperature is usual for one.", "Warm it by hand: an NTC falls at once."),
            ],
            < 200_000 => [new("An NTC", $"{Ohms(ohms)} both ways.", "Warm it by hand: it falls at once. Three temperatures and resistances give its curve.")],
            _ => [new("A piezo element with a resistor across it", $"{Ohms(ohms)} both ways.", "Tap it while a meter on its millivolt AC range is connected.")],
        };
    }

    private static ImmutableArray<SensorGuess> ThreePins(IReadOnlyCollection<PinReading> readings, List<string> pins)
    {
        double? Between(string a, string b) => readings.FirstOrDefault(r => r.Red == a && r.Black == b)?.Ohms ?? readings.FirstOrDefault(r => r.Red == b && r.Black == a)?.Ohms;
        // A direction that was not measured speaks neither for nor against it.
        bool DiffersByDirection(string a, string b) =>
            readings.FirstOrDefault(r => r.Red == a && r.Black == b) is { } there && readings.FirstOrDefault(r => r.Red == b && r.Black == a) is { } back
            && ((there.Ohms is null) != (back.Ohms is null) || (there.Ohms is { } x && back.Ohms is { } y && Math.Max(x, y) > 1.2 * Math.Min(x, y)));

        foreach (var wiper in pins)
        {
            var ends = pins.Where(p => p != wiper).ToArray();
            if (Between(ends[0], ends[1]) is { } track and > 500 && Between(wiper, ends[0]) is { } a && Between(wiper, ends[1]) is { } b
                && !DiffersByDirection(ends[0], ends[1]) && !DiffersByDirection(wiper, ends[0]) && !DiffersByDirection(wiper, ends[1]) && Math.Abs(a + b - track) < 0.35 * track)
            {
                return [new($"A potentiometer with its wiper on {wiper}", $"{Ohms(track)} from {ends[0]} to {ends[1]}; {Ohms(a)} and {Ohms(b)} from {wiper} to them, which add up to it.", $"Move its lever: both readings at {wiper} change, the one from {ends[0]} to {ends[1]} stays.")];
            }
        }

        if (readings.Any(r => r.DiodeVolts is > 0.2 and < 2.5) || pins.Any(a => pins.Any(b => a != b && DiffersByDirection(a, b))))
        {
            return [
                new("A sensor with electronics on three wires (5 V, ground, signal): pressure, position, or a Hall sensor", "It reads differently one way and the other, or like a diode.", "The pin towards which two others read like a diode is most often ground. Look the part up; confirm supply pin and voltage on a sheet before any power."),
            ];
        }

        var one = pins.SelectMany(a => pins.Where(b => string.CompareOrdinal(a, b) < 0).Select(b => (a, b, Ohms: Between(a, b)))).Where(x => x.Ohms is not null).ToList();
        return one is [var only]
            ? [new($"A coil or an NTC between {only.a} and {only.b}, with a shield on the third pin", $"Only {only.a} to {only.b} reads: {Ohms(only.Ohms!.Value)}.", "Move iron past its tip with a meter on millivolt AC: a coil answers.")]
            : [new("A sensor on three wires that these readings do not tell", "No usual pattern fits.", "Measure each pair in both directions, as resistance and as diode.")];
    }

    private static SensorGuess Many(int pins) => new(
        string.Create(CultureInfo.InvariantCulture, $"Two sensors in one housing, or a sensor with its own heater ({pins} pins)"),
        "More than three pins.",
        "Find the pairs that read a resistance both ways and treat each as a sensor by itself.");

    private static string Ohms(double ohms) => Say.Ohms(ohms);

    private static string Volts(double? volts) => Say.Volts(volts ?? 0);
}
