using System.Collections.Immutable;

namespace WiseLoom.Core.Devices;

/// <summary>A controller: what each of its pins does.</summary>
/// <param name="Pins">By the device's own names of pins; pins without a role are not in it and carry nothing.</param>
/// <param name="LeastVolts">It is awake only while it has this much.</param>
public sealed record ControllerModel(ImmutableSortedDictionary<string, ControllerPin> Pins, double LeastVolts) : DeviceModel;
