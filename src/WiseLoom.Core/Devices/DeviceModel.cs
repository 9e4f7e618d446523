using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Devices;

/// <summary>What a device is electrically. Every default is in docs/formats; voltages are volts, resistances ohms.</summary>
/// <remarks>Each kind stands in a file of its own: its record, how a file's entry is read into it, the names of its pins, and what it is at
/// rest. What it is under power stands with the circuits of states.</remarks>
public abstract record DeviceModel
{
    /// <summary>What it puts between its pins while nothing has power; empty when it takes no part: controllers (one measures from their plugs), batteries (disconnected), keys (off).</summary>
    internal virtual IEnumerable<RestingPart> AtRest(RestingState at) => [];

    /// <summary>The same as it would be if it measured otherwise than drawn, its contacts open; itself where no single figure says what it measures.</summary>
    /// <param name="ohm">What it measures between its terminals, ohms.</param>
    internal virtual DeviceModel Measuring(double ohm) => this;

    /// <summary>The same with all its resistances at one corner of their limits; itself where it has none.</summary>
    internal virtual DeviceModel AtCorner(Corner corner) => this;

    /// <summary>Pins that it uses by the names that the file gives them.</summary>
    internal virtual IEnumerable<string> OwnPins => [];
}

/// <summary>A resistance or a diode between two pins of a device that has no power.</summary>
/// <param name="From">Role of a pin; of the anode for a diode.</param>
/// <param name="To">Role of another; the engine's metal when the file does not connect it.</param>
/// <param name="Ohm">Limits; meaningless for a diode.</param>
/// <param name="Diode">Null for a resistance.</param>
internal sealed record RestingPart(string From, string To, OhmRange Ohm, DiodeModel? Diode = null)
{
    /// <summary>It is there only when the file connects both pins.</summary>
    internal bool NeedsBoth { get; init; }

    /// <summary>Its other end is the engine's metal, or a middle that it shares with others of the device; null for a pin.</summary>
    internal string? Middle { get; init; }
}

/// <summary>Where the wipers of all potentiometers stand.</summary>
internal enum WiperSetting
{
    /// <summary>Where they rest.</summary>
    Rest,

    /// <summary>At the least share of the track.</summary>
    Least,

    /// <summary>At the largest.</summary>
    Most,
}

/// <summary>The air and the engine around a device that has no power.</summary>
/// <param name="AmbientC">Degrees Celsius.</param>
/// <param name="AmbientK">The temperature is trusted to this many kelvin either way.</param>
/// <param name="Conditions">Conditions that hold, such as "no oil pressure" of an engine at rest.</param>
internal sealed record RestingState(double AmbientC, double AmbientK, IReadOnlySet<string> Conditions, WiperSetting Wiper)
{
    /// <summary>Name of the engine's metal.</summary>
    internal const string Case = "(case)";
}
