using System.Collections.Immutable;
using System.Text.Json;

namespace WiseLoom.Core.Devices;

/// <summary>A point of a sensor's curve.</summary>
public sealed record NtcPoint(double Celsius, double Ohms);

/// <summary>A temperature sensor whose resistance falls as it warms.</summary>
/// <param name="Points">Three or more.</param>
public sealed record NtcModel(ImmutableArray<NtcPoint> Points) : DeviceModel
{
    /// <summary>The curve through the points, or what is wrong with them.</summary>
    public NtcFit Fit { get; } = NtcFit.Through(Points);

    /// <inheritdoc/>
    internal override DeviceModel Measuring(double ohm) => LoadModel.Plain(ohm);

    /// <inheritdoc/>
    internal override IEnumerable<RestingPart> AtRest(RestingState at)
    {
        var ohms = Fit.OhmsAt(at.AmbientC);
        if (double.IsNaN(ohms))
        {
            return [];
        }

        // The sensor stands somewhere in the same air as the copper: warmer is less, colder is more.
        var (warm, cold) = (Fit.OhmsAt(at.AmbientC + at.AmbientK), Fit.OhmsAt(at.AmbientC - at.AmbientK));
        return [new("1", "2", new(double.IsNaN(warm) ? ohms : warm, ohms, double.IsNaN(cold) ? ohms : cold))];
    }
}

/// <summary>Temperature sensors.</summary>
internal static class NtcKind
{
    /// <summary>The kind in files.</summary>
    internal static DeviceKind Kind { get; } = new("ntc", true, e => Read(e.Place));

    private static NtcModel? Read(JsonPlace place)
    {
        var points = ImmutableArray.CreateBuilder<NtcPoint>();
        var items = place.Items("points").ToList();
        if (items.Count < 3)
        {
            place.Wrong("points", "An NTC needs at least three [celsius, ohm] pairs.");
            return null;
        }

        foreach (var (value, at) in items)
        {
            if (value.ValueKind != JsonValueKind.Array || value.GetArrayLength() != 2)
            {
                place.Wrong("points", $"{at}: a pair [celsius, ohm] is needed.");
                continue;
            }

            if (place.NumberOf(value[0], $"{at}/0", -273.15, 2000, "degrees Celsius") is { } celsius && place.NumberOf(value[1], $"{at}/1", 1e-6, 1e12, "ohms") is { } ohms)
            {
                points.Add(new(celsius, ohms));
            }
        }

        return points.Count == items.Count ? new NtcModel(points.ToImmutable()) : null;
    }
}
