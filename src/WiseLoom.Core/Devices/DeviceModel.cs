using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Devices;

/// <summary>What a device is electrically. Every default is in docs/formats; voltages are volts, resistances ohms.</summary>
public abstract record DeviceModel;

/// <summary>A coil, heater, lamp, solenoid, injector or motor: two terminals and a resistance.</summary>
/// <param name="AtRest">What it measures cold and idle.</param>
/// <param name="AtWork">What it is while it works (a hot filament, a turning motor).</param>
/// <param name="Verb">What it does when it works: <c>fires</c>, <c>lights</c>, <c>runs</c>.</param>
/// <param name="WorksFromVolts">Least voltage across it at which it works; null for <see cref="WorksFromShare"/> of the loom's supply.</param>
public sealed record LoadModel(OhmRange AtRest, OhmRange AtWork, string Verb, double? WorksFromVolts) : DeviceModel
{
    /// <summary>A load without a figure of its own works from this share of the loom's supply voltage.</summary>
    public const double WorksFromShare = 0.6;

    /// <summary>Least voltage across it at which it works, volts.</summary>
    public double WorksFrom(double supplyVolts) => WorksFromVolts ?? WorksFromShare * supplyVolts;
}

/// <summary>A point of a sensor's curve.</summary>
public sealed record NtcPoint(double Celsius, double Ohms);

/// <summary>A temperature sensor whose resistance falls as it warms.</summary>
/// <param name="Points">Three or more.</param>
public sealed record NtcModel(ImmutableArray<NtcPoint> Points) : DeviceModel
{
    /// <summary>The curve through the points, or what is wrong with them.</summary>
    public NtcFit Fit { get; } = NtcFit.Through(Points);
}

/// <summary>A potentiometer: a track between pins 1 and 2, and a wiper.</summary>
/// <param name="Least">Share of the track between pin 1 and the wiper, least, 0 to 1.</param>
/// <param name="Rest">The share at rest.</param>
/// <param name="Most">The largest share.</param>
public sealed record PotModel(OhmRange Ohm, double Least, double Rest, double Most) : DeviceModel;

/// <summary>A contact that a named condition closes.</summary>
/// <param name="Closed">What it measures closed.</param>
public sealed record SwitchModel(string ClosedWhen, OhmRange Closed) : DeviceModel;

/// <summary>A contact of a relay, by names of pins.</summary>
/// <param name="Working">Joined to <paramref name="Common"/> while the coil is pulled in; null when there is none.</param>
/// <param name="Resting">Joined to <paramref name="Common"/> while it is not; null when there is none.</param>
public sealed record RelayContact(string Common, string? Working, string? Resting);

/// <summary>A coil and the contacts it moves. It pulls in at <paramref name="PullInVolts"/> and lets go at <paramref name="DropOutVolts"/>; between them it stays as it was.</summary>
/// <param name="Contact">What a closed contact measures.</param>
/// <param name="CoilDiode">A diode lies across the coil, its cathode at <c>coil+</c>.</param>
/// <param name="CoilResistor">A resistor across the coil; null when there is none.</param>
public sealed record RelayModel(
    OhmRange Coil, double PullInVolts, double DropOutVolts, OhmRange Contact, ImmutableArray<RelayContact> Contacts, bool CoilDiode, OhmRange? CoilResistor) : DeviceModel;

/// <summary>A diode by Shockley's law: I = Is·(exp((V − I·Rs)/(n·25.85 mV)) − 1).</summary>
/// <param name="SaturationAmps">Is, amperes.</param>
/// <param name="Ideality">n.</param>
/// <param name="SeriesOhms">Rs.</param>
public sealed record DiodeModel(double SaturationAmps, double Ideality, double SeriesOhms) : DeviceModel
{
    public static DiodeModel Usual { get; } = new(1e-12, 1.8, 0.05);
}

/// <summary>A fuse.</summary>
/// <param name="Amps">What it is rated for.</param>
public sealed record FuseModel(double Amps, OhmRange Ohm) : DeviceModel;

/// <summary>A source of power.</summary>
/// <param name="StartVolts">Its voltage while the starter turns.</param>
/// <param name="RunningVolts">Its voltage while the engine charges it.</param>
/// <param name="Ohm">What lies in series with it; may be 0.</param>
public sealed record BatteryModel(double Volts, double StartVolts, double RunningVolts, OhmRange Ohm) : DeviceModel;

/// <summary>A key switch.</summary>
/// <param name="Joins">For each position, the groups of terminals that it joins.</param>
public sealed record KeyModel(ImmutableSortedDictionary<KeyPosition, ImmutableArray<ImmutableArray<string>>> Joins, OhmRange Contact) : DeviceModel;

/// <summary>A sensor on three wires that puts out a share of its supply.</summary>
/// <param name="Supply">What lies between its supply and ground pins.</param>
/// <param name="Output">What lies in series with its signal.</param>
/// <param name="ReferenceVolts">Supply at which the two voltages hold.</param>
/// <param name="RestVolts">Signal with the engine at rest.</param>
/// <param name="Scale">Volts to units; null when the file does not say.</param>
public sealed record TransducerModel(OhmRange Supply, OhmRange Output, double ReferenceVolts, double RestVolts, TransducerScale? Scale) : DeviceModel;

/// <summary>Units of a transducer by two points of its line.</summary>
/// <param name="Unit">The unit's sign, such as <c>kPa</c>.</param>
public sealed record TransducerScale(double LowVolts, double LowUnits, double HighVolts, double HighUnits, string Unit)
{
    /// <summary>The quantity for a voltage; beyond the two points the line goes on.</summary>
    public double UnitsAt(double volts) => LowUnits + ((volts - LowVolts) / (HighVolts - LowVolts) * (HighUnits - LowUnits));

    /// <summary>The voltage for a quantity.</summary>
    public double VoltsAt(double units) => LowVolts + ((units - LowUnits) / (HighUnits - LowUnits) * (HighVolts - LowVolts));
}

/// <summary>A controller: what each of its pins does.</summary>
/// <param name="Pins">By the device's own names of pins; pins without a role are not in it and carry nothing.</param>
/// <param name="LeastVolts">It is awake only while it has this much.</param>
public sealed record ControllerModel(ImmutableSortedDictionary<string, ControllerPin> Pins, double LeastVolts) : DeviceModel;

/// <summary>A stand-in for another loom or for the metal of an engine: some of its pins are joined.</summary>
/// <param name="Joins">Groups of pins that are joined with each other.</param>
/// <param name="ToCase">Its metal is the engine's: a device with one pin returns through it.</param>
/// <param name="Ohm">From a pin to the middle of its group.</param>
public sealed record CableModel(ImmutableArray<ImmutableArray<string>> Joins, bool ToCase, OhmRange Ohm) : DeviceModel;
