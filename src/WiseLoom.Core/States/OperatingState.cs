using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.States;

/// <summary>How a lamp burns.</summary>
public enum Glow
{
    /// <summary>Under three tenths of its voltage.</summary>
    Dark,

    /// <summary>Between three and seven tenths.</summary>
    Dim,

    /// <summary>From seven tenths up.</summary>
    Bright,
}

/// <summary>What a test lamp shows.</summary>
/// <param name="Volts">Across the lamp; more than 0 whichever way round. Of one that flickers: at its brightest.</param>
/// <param name="Flickers">A device lets go and comes back, by itself or as the lamp loads it.</param>
/// <param name="LeastVolts">Of one that flickers: at its darkest; else the same as <paramref name="Volts"/>.</param>
public readonly record struct LampShows(Glow Glow, double Volts, bool Flickers, double LeastVolts);

/// <summary>What one point shows.</summary>
/// <param name="Volts">Against the battery's negative pole; null for a point that floats.</param>
/// <param name="Least">Where devices chatter: the lowest it swings to; else the same as the voltage, 0 for a floating point.</param>
/// <param name="Most">The highest it swings to.</param>
/// <param name="Shows">What a meter and lamps show; null when that was not asked for.</param>
public sealed record PointState(double? Volts, double Least, double Most, ProbeShows? Shows)
{
    /// <summary>Nothing holds the point: a meter there shows nothing that means anything.</summary>
    public bool Floats => Volts is null;
}

/// <summary>What the three usual probes show at a point.</summary>
/// <param name="Meter">What a meter of 10 MΩ shows, volts; where something chatters, the mean of its moments.</param>
/// <param name="MeterLeast">Where something chatters: the lowest it swings to; else the same.</param>
/// <param name="MeterMost">The highest.</param>
/// <param name="LampToGround">A lamp between the point and the battery's negative pole.</param>
/// <param name="LampToSupply">A lamp between the point and the battery's positive pole.</param>
/// <param name="SourceOhms">What stands behind the point, for a small load: ohms to the rest of the circuit.</param>
public sealed record ProbeShows(double Meter, double MeterLeast, double MeterMost, LampShows LampToGround, LampShows LampToSupply, double SourceOhms);

/// <summary>What one wire carries.</summary>
/// <param name="Amps">From its first end to its second; below 0 the other way.</param>
/// <param name="DropVolts">What is lost along it, more than 0.</param>
/// <param name="LeastAmps">Where something chatters: the lowest it swings to; else the same as <paramref name="Amps"/>.</param>
/// <param name="MostAmps">The highest.</param>
public readonly record struct WireState(double Amps, double DropVolts, double LeastAmps, double MostAmps);

/// <summary>Whether something that the loom is for can be had.</summary>
/// <param name="Name">What it is: <c>Fuel pump runs</c>.</param>
/// <param name="Device">Ref of the device that does it.</param>
/// <param name="Works">Whether it can be had in this key position: at once, or at the moment when its output is driven.</param>
/// <param name="Now">Whether it is so at this moment.</param>
/// <param name="WhenDriven">The output that brings it about; null when none does.</param>
/// <param name="Sentence">Why, in words.</param>
/// <param name="Flickers">It comes and goes while something chatters: it neither works nor is it dead.</param>
public sealed record FunctionState(string Name, string Device, bool Works, bool Now, string? WhenDriven, string Sentence, bool Flickers = false);

/// <summary>What a device does.</summary>
/// <param name="Word"><c>pulled in</c>, <c>at rest</c>, <c>awake</c>, <c>asleep</c>, <c>works</c>, <c>chatters</c>.</param>
public sealed record DeviceState(string Device, string Title, string Word);

/// <summary>A current in one part of the circuit, for whoever wants to add them up.</summary>
/// <param name="From">Node it leaves.</param>
/// <param name="To">Node it enters.</param>
/// <param name="Label">Id of the wire, or ref of the device and its part.</param>
public sealed record PartCurrent(string From, string To, double Amps, string Label);

/// <summary>A part of a state: what some points show with their probes, and which functions can be had.</summary>
internal sealed record Glimpse(ImmutableSortedDictionary<ProbePoint, PointState> Points, ImmutableArray<FunctionState> Functions);

/// <summary>Voltages, and which functions can be had, in one position of a key that is turned through.</summary>
internal sealed record TurnedState(BareState Bare, ImmutableArray<FunctionState> Functions);

/// <summary>What every point of a loom shows in one key position.</summary>
/// <param name="NoState">Why there is no state at all, in words; null when there is one. Then points and wires are empty.</param>
/// <param name="Chatters">Titles of devices that never come to rest; the voltages are those of one of the moments.</param>
/// <param name="SupplyVolts">What the battery's positive pole has; 0 without a battery.</param>
/// <param name="Notes">What is odd, and what was not taken into the circuit, in words.</param>
public sealed record OperatingState(
    Situation Situation,
    string? NoState,
    double SupplyVolts,
    ImmutableArray<string> Chatters,
    ImmutableSortedDictionary<ProbePoint, PointState> Points,
    ImmutableDictionary<string, WireState> Wires,
    ImmutableArray<FunctionState> Functions,
    ImmutableArray<DeviceState> Devices,
    ImmutableArray<PartCurrent> Parts,
    ImmutableArray<string> Notes);
