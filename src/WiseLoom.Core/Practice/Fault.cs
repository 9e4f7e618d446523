using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace WiseLoom.Core.Practice;

/// <summary>What can be wrong with a loom: one vocabulary for the simulator, the ranking and the log.</summary>
[JsonConverter(typeof(JsonStringEnumConverter<FaultKind>))]
public enum FaultKind
{
    /// <summary>A wire does not conduct; <c>end</c> says where when it is known.</summary>
    [JsonStringEnumMemberName("open")]
    Open,

    /// <summary>A wire has too much resistance by <c>ohm</c>.</summary>
    [JsonStringEnumMemberName("resistive")]
    Resistive,

    /// <summary>Metal joins cavities <c>a</c> and <c>b</c> that should be apart.</summary>
    [JsonStringEnumMemberName("short")]
    Short,

    /// <summary>Two contacts of a connector are exchanged.</summary>
    [JsonStringEnumMemberName("swap")]
    Swap,

    /// <summary>A contact stands in a wrong, empty cavity.</summary>
    [JsonStringEnumMemberName("misplaced")]
    Misplaced,

    /// <summary>A run of contacts stands one place along.</summary>
    [JsonStringEnumMemberName("shift")]
    Shift,

    /// <summary>A connector was filled as seen from the wrong face.</summary>
    [JsonStringEnumMemberName("mirrored")]
    Mirrored,

    /// <summary>A wire is not there.</summary>
    [JsonStringEnumMemberName("missing")]
    Missing,

    /// <summary>A device is not as drawn.</summary>
    [JsonStringEnumMemberName("device")]
    Device,

    /// <summary>A wire opens while it is moved.</summary>
    [JsonStringEnumMemberName("intermittent")]
    Intermittent,
}

/// <summary>One fault. Which fields stand depends on the kind.</summary>
/// <param name="Wire">Id of the wire: open, resistive, missing, intermittent.</param>
/// <param name="End"><c>from</c> or <c>to</c>; null when it may be anywhere along the wire.</param>
/// <param name="Ohm">Added resistance (resistive), bridge (short) or measured value (device), ohms.</param>
/// <param name="A">Cavity such as <c>ECU:17</c>: short.</param>
/// <param name="B">The other cavity: short.</param>
/// <param name="Connector">Ref: swap, misplaced, shift, mirrored.</param>
/// <param name="Cavities">Two cavities (swap), or a run in face order (shift).</param>
/// <param name="From">The cavity that should hold the contact: misplaced.</param>
/// <param name="To">The cavity that holds it: misplaced.</param>
/// <param name="By">+1 or −1: shift.</param>
/// <param name="Device">Ref: device.</param>
public sealed record Fault(
    FaultKind Kind,
    string? Wire = null,
    string? End = null,
    double? Ohm = null,
    string? A = null,
    string? B = null,
    string? Connector = null,
    ImmutableArray<string>? Cavities = null,
    string? From = null,
    string? To = null,
    int? By = null,
    string? Device = null)
{
    public static Fault Open(string wire, string? end = null) => new(FaultKind.Open, Wire: wire, End: end);

    public static Fault Resistive(string wire, double ohm, string? end = null) => new(FaultKind.Resistive, Wire: wire, End: end, Ohm: ohm);

    public static Fault Short(string a, string b, double ohm) => new(FaultKind.Short, A: a, B: b, Ohm: ohm);

    public static Fault Swap(string connector, string first, string second) => new(FaultKind.Swap, Connector: connector, Cavities: [first, second]);

    public static Fault Misplaced(string connector, string from, string to) => new(FaultKind.Misplaced, Connector: connector, From: from, To: to);
}
