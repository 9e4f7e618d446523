using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp;

/// <summary>Something that a controller measures: its pin, what hangs on it as drawn, and how volts become units.</summary>
/// <param name="Name">As the controller calls it.</param>
/// <param name="Unit">Empty for a level or plain volts.</param>
/// <param name="Controller">Ref of the controller.</param>
/// <param name="Point">The cavity of its pin.</param>
/// <param name="Pin">What the pin is.</param>
/// <param name="Sensor">What hangs on it as drawn; null when nothing that is known does.</param>
public sealed record Channel(string Name, string Unit, string Controller, ProbePoint Point, ControllerPin Pin, Device? Sensor)
{
    /// <summary>A pin this near to either end of its range tells of a break or a short, share of the pull or reference.</summary>
    public const double EndShare = 0.03;

    /// <summary>All channels of a loom's controllers that have a wire, in the order of the pins.</summary>
    public static ImmutableArray<Channel> Of(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        var nets = Electrical.WireGraph.Topology(loom);
        var found = ImmutableArray.CreateBuilder<Channel>();
        foreach (var controller in loom.Devices.Where(d => d.Model is ControllerModel))
        {
            foreach (var (name, pin) in ((ControllerModel)controller.Model!).Pins.Where(p => p.Value.Role is ControllerRole.AnalogIn or ControllerRole.DigitalIn))
            {
                if (controller.Pins.TryGetValue(name, out var point) && nets.NetOf(point) is { } net)
                {
                    var sensor = loom.Devices.FirstOrDefault(d => d.Ref != controller.Ref && Senses(d, net.Points));
                    found.Add(new(pin.Channel ?? loom.WiresAt(point).Select(w => w.Circuit).FirstOrDefault(c => c is not null) ?? name, pin.Unit, controller.Ref, point, pin, sensor));
                }
            }
        }

        return found.ToImmutable();
    }

    /// <summary>What volts at its pin mean with the sensor as drawn.</summary>
    /// <returns>In <see cref="Unit"/>; null where the loom does not say how.</returns>
    public double? Value(double volts) => Sensor?.Model switch
    {
        NtcModel ntc when Ohms(volts) is { } ohms => ntc.Fit.CelsiusAt(ohms) is var celsius && double.IsFinite(celsius) ? celsius : null,
        TransducerModel { Scale: { } scale } => scale.UnitsAt(volts),
        PotModel when Unit == "%" => 100 * volts / Reference,
        LoadModel when Unit == "Ω" => Ohms(volts),
        _ => null,
    };

    /// <summary>The resistance towards ground that makes volts of the pin's pull; null for a pin without one.</summary>
    public double? Ohms(double volts) => Pin is { Pull: Pull.Up, Ohms: { } pull } && volts < Pin.Volts - 1e-9 && volts > 0 ? pull * volts / (Pin.Volts - volts) : null;

    /// <summary>What its sensor is fed with, or what its pin is pulled to, volts.</summary>
    public double Reference => Pin.Pull == Pull.Up ? Pin.Volts : Sensor?.Model is TransducerModel transducer ? transducer.ReferenceVolts : 5;

    /// <summary>Whether volts lie at an end of its range: nothing but a break or a short puts an analogue sensor there.</summary>
    public ChannelEnd EndAt(double volts) => Pin.Role != ControllerRole.AnalogIn || Sensor is null ? ChannelEnd.None
        : volts > (1 - EndShare) * Reference ? ChannelEnd.High
        : volts < EndShare * Reference && Sensor.Model is NtcModel or TransducerModel or PotModel ? ChannelEnd.Low
        : ChannelEnd.None;

    private static bool Senses(Device device, ImmutableArray<ProbePoint> net)
    {
        bool On(string? joint) => ProbePoint.TryParse(joint, out var point) && net.Contains(point);
        return device.Model switch
        {
            TransducerModel => On(device.Joint("signal")),
            PotModel => On(device.Joint("wiper")),
            NtcModel or SwitchModel => device.Pins.Values.Any(net.Contains),
            LoadModel { Verb.Length: 0 } => device.Pins.Values.Any(net.Contains),
            _ => false,
        };
    }
}

/// <summary>An end of a channel's range.</summary>
public enum ChannelEnd
{
    /// <summary>Somewhere between.</summary>
    None,

    /// <summary>At its upper end: a break, most often.</summary>
    High,

    /// <summary>At its lower end.</summary>
    Low,
}
