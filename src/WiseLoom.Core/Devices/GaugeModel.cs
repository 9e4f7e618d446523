using System.Collections.Immutable;
using System.Text.Json;

namespace WiseLoom.Core.Devices;

/// <summary>What a gauge shows for the resistance of its sender.</summary>
/// <param name="Points">Two or more.</param>
/// <param name="Unit">Sign of what it shows, such as <c>%</c>.</param>
public sealed record GaugeScale(ImmutableArray<SenderPoint> Points, string Unit)
{
    /// <summary>Reads the scale of a gauge; null when it has none, or when something in it is wrong, and the place has then been told.</summary>
    internal static GaugeScale? Read(JsonPlace device)
    {
        if (device.Object("gauge") is not { } place)
        {
            return null;
        }

        var points = ImmutableArray.CreateBuilder<SenderPoint>();
        foreach (var (value, at) in place.Items("points"))
        {
            if (value.ValueKind != JsonValueKind.Array || value.GetArrayLength() != 2)
            {
                place.WrongAt(at, "A pair [what it shows, ohms of the sender] is needed.");
            }
            else if (place.NumberOf(value[0], $"{at}/0", -1e6, 1e6, "units") is { } units && place.NumberOf(value[1], $"{at}/1", 0, 1e9, "ohms") is { } ohms)
            {
                points.Add(new(units, ohms));
            }
        }

        var unit = place.Text("unit", longest: 20) ?? "";
        if (points.Count < 2)
        {
            place.Wrong("points", "A gauge needs at least two pairs [what it shows, ohms of the sender].");
            return null;
        }

        return new(points.ToImmutable(), unit);
    }
}
