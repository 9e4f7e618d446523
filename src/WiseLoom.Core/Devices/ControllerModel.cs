using System.Collections.Immutable;

namespace WiseLoom.Core.Devices;

/// <summary>A controller: what each of its pins does.</summary>
/// <param name="Pins">By the device's own names of pins; pins without a role are not in it and carry nothing.</param>
/// <param name="LeastVolts">It is awake only while it has this much.</param>
public sealed record ControllerModel(ImmutableSortedDictionary<string, ControllerPin> Pins, double LeastVolts) : DeviceModel
{
    /// <summary>Names of its outputs in the order in which cylinders fire; empty when the file does not say.</summary>
    public ImmutableArray<string> FiringOrder { get; init; } = [];

    /// <summary>What it must be set to besides what the loom itself says, in the file's order.</summary>
    public ImmutableArray<ControllerSetting> Settings { get; init; } = [];
}
