namespace WiseLoom.Core.Devices;

/// <summary>A potentiometer: a track between pins 1 and 2, and a wiper.</summary>
/// <param name="Least">Share of the track between pin 1 and the wiper, least, 0 to 1.</param>
/// <param name="Rest">The share at rest.</param>
/// <param name="Most">The largest share.</param>
public sealed record PotModel(OhmRange Ohm, double Least, double Rest, double Most) : DeviceModel
{
    /// <inheritdoc/>
    internal override DeviceModel Measuring(double ohm) => this with { Ohm = OhmRange.Exactly(ohm) };

    /// <inheritdoc/>
    internal override DeviceModel AtCorner(Corner corner) => this with { Ohm = OhmRange.Exactly(Ohm.At(corner)) };

    /// <inheritdoc/>
    internal override IEnumerable<RestingPart> AtRest(RestingState at)
    {
        var share = at.Wiper switch { WiperSetting.Least => Least, WiperSetting.Most => Most, _ => Rest };
        return [new("1", "wiper", Ohm.Scaled(share)), new("wiper", "2", Ohm.Scaled(1 - share))];
    }
}

/// <summary>Potentiometers.</summary>
internal static class PotKind
{
    /// <summary>The kind in files.</summary>
    internal static DeviceKind Kind { get; } = new("pot", false, e => Read(e.Place),
        ["1", "a", "+", "5v"], ["2", "b", "-", "ground"], ["wiper", "w", "signal", "3", "c"]);

    private static PotModel Read(JsonPlace place)
    {
        var ohm = place.Range("ohm", 1, "ohms") ?? OhmRange.Exactly(5000);
        var wiper = place.Range("wiper", 1, "shares of the track") ?? new OhmRange(0, 0.5, 1);
        if (wiper.Max > 1)
        {
            place.Wrong("wiper", "A share of the track lies between 0 and 1.");
            wiper = new OhmRange(0, 0.5, 1);
        }

        return new(ohm, wiper.Min, wiper.Nominal, wiper.Max);
    }
}
