using System.Globalization;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What makes two suppositions the same: what is wrong and where, whatever its size and however it is written.</summary>
internal static class FaultKeys
{
    /// <summary>Of all faults of a supposition, in any order.</summary>
    internal static string Of(Weighed one) => string.Join('|', one.Faults.Select(Of).Order(StringComparer.Ordinal));

    /// <summary>Of one fault; bridges between two wires are the same wherever along them.</summary>
    internal static string Of(Fault fault) => fault switch
    {
        ResistiveFault poor => $"poor {poor.Wire}",
        ShortFault bridge => string.CompareOrdinal(bridge.A, bridge.B) < 0 ? $"bridge {bridge.A} {bridge.B}" : $"bridge {bridge.B} {bridge.A}",
        ShiftFault shift => $"shift {shift.Connector} {shift.By} {string.Join(' ', shift.Cavities)}",
        SwapFault swap => $"swap {swap.Connector} {string.Join(' ', swap.Cavities)}",
        _ => fault.ToString(),
    };

    /// <summary>The same with where it lies: the end of a poor joint, places along wires.</summary>
    internal static string Placed(Fault fault) => fault switch
    {
        ResistiveFault poor => $"{Of(poor)} {poor.End}",
        ShortFault { AlongMm: { } along } bridge => string.Create(CultureInfo.InvariantCulture, $"bridge {bridge.A} {bridge.B} {string.Join(' ', along)}"),
        _ => Of(fault),
    };

    /// <summary>The same with its size to be found.</summary>
    internal static Fault Unsized(Fault fault) => fault switch
    {
        ResistiveFault poor => poor with { Ohm = double.NaN },
        ShortFault bridge => bridge with { Ohm = double.NaN },
        _ => fault,
    };
}
