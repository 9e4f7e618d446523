using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>Which pins of the one end a cable joins with which of the other.</summary>
public enum CableWay
{
    /// <summary>1 with 1, 2 with 2 and so on.</summary>
    Straight,

    /// <summary>1 with 2 and 2 with 1, pair by pair; the last of an odd number with itself.</summary>
    Crossed,

    /// <summary>1 with the last, 2 with the last but one and so on.</summary>
    Rolled,
}

/// <summary>A cable with two plugs.</summary>
/// <param name="Name">Of the cable.</param>
/// <param name="One">Ref of the plug at one end.</param>
/// <param name="Other">Ref of the plug at the other end.</param>
/// <param name="Pins">Pins of each, 1 to 200.</param>
/// <param name="LengthMm">Null when nobody measured it.</param>
/// <param name="Mm2">Null when nobody knows it.</param>
public sealed record StraightCable(string Name, string One, string Other, int Pins, CableWay Way, double? LengthMm, double? Mm2)
{
    /// <summary>The most pins of a plug.</summary>
    public const int MostPins = 200;

    /// <summary>What is wrong with it, by field; empty for nothing.</summary>
    public ImmutableArray<Problem> Problems()
    {
        var problems = ImmutableArray.CreateBuilder<Problem>();
        if (string.IsNullOrWhiteSpace(Name) || Name.Length > 120)
        {
            problems.Add(new("/name", "A name of 1 to 120 signs is needed."));
        }

        foreach (var (field, plug) in (ReadOnlySpan<(string, string)>)[("/one", One), ("/other", Other)])
        {
            if (string.IsNullOrWhiteSpace(plug) || plug.Length > 40 || plug.Any(c => char.IsWhiteSpace(c) || char.IsControl(c) || c is ':' or '@'))
            {
                problems.Add(new(field, "A short name without blanks is needed, such as A or ECU-A."));
            }
        }

        if (One == Other && problems.Count == 0)
        {
            problems.Add(new("/other", "The two plugs need two names."));
        }

        if (Pins is < 1 or > MostPins)
        {
            problems.Add(new("/pins", $"1 to {MostPins} pins."));
        }

        if (!Enum.IsDefined(Way))
        {
            problems.Add(new("/way", "straight, crossed or rolled."));
        }

        if (LengthMm is <= 0 or > 1_000_000 || LengthMm is double.NaN)
        {
            problems.Add(new("/lengthMm", "A length in millimetres, up to 1,000,000."));
        }

        if (Mm2 is <= 0 or > 1000 || Mm2 is double.NaN)
        {
            problems.Add(new("/mm2", "A section in mm², up to 1000."));
        }

        return problems.ToImmutable();
    }

    /// <summary>The other end's pin for one of the first, both from 1.</summary>
    internal int Across(int pin) => Way switch
    {
        CableWay.Rolled => Pins + 1 - pin,
        CableWay.Crossed => pin % 2 == 0 ? pin - 1 : Math.Min(pin + 1, Pins),
        _ => pin,
    };

    /// <summary>The cable as a loom file.</summary>
    /// <param name="unknown">What is taken where length or section are not given.</param>
    public JsonObject Document(UnknownFigures unknown)
    {
        ArgumentNullException.ThrowIfNull(unknown);
        var cavities = MadeFamily.Cavities([.. Enumerable.Range(1, Pins).Select(p => p.ToString(CultureInfo.InvariantCulture))]);
        var family = MadeFamily.Id(cavities);
        var document = LoomDocument.Empty(Name.Trim());
        document["families"] = new JsonArray(MadeFamily.Write(family, cavities, cavities.Length == 1));
        document["connectors"] = new JsonArray([.. new[] { One, Other }.Select(plug => (JsonNode)new JsonObject { ["ref"] = plug, ["title"] = plug, ["family"] = family })]);
        document["wires"] = new JsonArray([.. Enumerable.Range(1, Pins).Select(pin => (JsonNode)new JsonObject
        {
            ["id"] = $"W{pin}",
            ["from"] = $"{One}:{pin}",
            ["to"] = $"{Other}:{Across(pin)}",
            ["mm2"] = Mm2 is { } mm2 ? mm2 : unknown.Section(),
            ["lengthMm"] = LengthMm is { } length ? length : unknown.Length(),
        })]);
        return document;
    }
}
