using System.Collections.Immutable;

namespace WiseLoom.Core.Pinouts;

/// <summary>What kind of circuit ends in a cavity, seen from the device that the sheet describes.</summary>
public enum PinRole
{
    /// <summary>Nobody has said.</summary>
    Unknown,

    /// <summary>Battery voltage, constant or switched.</summary>
    Feed,

    /// <summary>Power ground.</summary>
    Ground,

    /// <summary>The clean ground of sensors.</summary>
    SensorGround,

    /// <summary>The 5 V supply of sensors.</summary>
    Reference,

    /// <summary>A signal that comes in.</summary>
    Input,

    /// <summary>A load that is switched.</summary>
    Output,

    /// <summary>A data line.</summary>
    Network,

    /// <summary>Screens others.</summary>
    Shield,

    /// <summary>Stands on the sheet as not used.</summary>
    Unused,

    /// <summary>Airbag or seat-belt tensioner.</summary>
    Restraint,
}

/// <summary>Tells the role of a line from its direction and its words.</summary>
public static class PinRoles
{
    /// <summary>Directions that a sheet may give.</summary>
    public static ImmutableArray<string> Directions { get; } = ["supply", "ground", "sensor ground", "5 V", "input", "output", "network", "shield", "not used"];

    /// <summary>The role of a line.</summary>
    /// <param name="direction">One of <see cref="Directions"/>, or empty: then the words decide.</param>
    public static PinRole Of(string function, string direction)
    {
        ArgumentNullException.ThrowIfNull(function);
        ArgumentNullException.ThrowIfNull(direction);
        var words = $" {string.Join(' ', FunctionWords.Split(function))} ";
        bool Has(params string[] any) => any.Any(w => words.Contains($" {w} ", StringComparison.Ordinal));
        if (Has("airbag", "tensioner", "squib"))
        {
            return PinRole.Restraint;
        }

        return direction.Trim().ToLowerInvariant() switch
        {
            "ground" when Has("sensor", "signal", "analogue", "analog") => PinRole.SensorGround,
            "supply" when Is5Volts(words) => PinRole.Reference,
            "supply" => PinRole.Feed,
            "ground" => PinRole.Ground,
            "sensor ground" => PinRole.SensorGround,
            "5 v" or "5v" => PinRole.Reference,
            "input" => PinRole.Input,
            "output" => PinRole.Output,
            "network" => PinRole.Network,
            "shield" => PinRole.Shield,
            "not used" => PinRole.Unused,
            _ => ByWords(words, Has),
        };
    }

    /// <summary>The role in words.</summary>
    public static string Words(PinRole role) => role switch
    {
        PinRole.Feed => "feed",
        PinRole.Ground => "ground",
        PinRole.SensorGround => "sensor ground",
        PinRole.Reference => "5 V for sensors",
        PinRole.Input => "signal in",
        PinRole.Output => "switched output",
        PinRole.Network => "data line",
        PinRole.Shield => "shield",
        PinRole.Unused => "not used",
        PinRole.Restraint => "airbag or tensioner circuit",
        _ => "not known",
    };

    private static PinRole ByWords(string words, Func<string[], bool> has) =>
        words.Trim().Length == 0 ? PinRole.Unknown
        : has(["unused", "spare", "nc", "blank"]) || words.Contains(" not used ", StringComparison.Ordinal) || words.Contains(" not connected ", StringComparison.Ordinal) ? PinRole.Unused
        : has(["shield", "screen", "drain"]) ? PinRole.Shield
        : has(["can", "lin", "network", "bus", "kline"]) ? PinRole.Network
        : has(["ground", "gnd", "earth", "return"]) ? (has(["sensor", "signal", "analogue", "return"]) ? PinRole.SensorGround : PinRole.Ground)
        : Is5Volts(words) ? PinRole.Reference
        : has(["feed", "supply", "battery", "power"]) ? PinRole.Feed
        : has(["drive", "driver", "trigger", "output", "relay", "lamp", "solenoid", "valve", "heater", "coil", "injector"]) ? PinRole.Output
        : has(["signal", "sensor", "switch", "input", "temperature", "pressure", "position", "speed", "wake"]) ? PinRole.Input
        : PinRole.Unknown;

    private static bool Is5Volts(string words) => words.Contains(" 5 v ", StringComparison.Ordinal) || words.Contains(" 5 volt", StringComparison.Ordinal) || words.Contains(" reference ", StringComparison.Ordinal) || words.Contains(" vref ", StringComparison.Ordinal);
}
