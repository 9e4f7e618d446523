using System.Collections.Immutable;

namespace WiseLoom.Core.Devices;

/// <summary>What a pin of a controller is for.</summary>
public enum ControllerRole
{
    /// <summary>Takes the controller’s own supply.</summary>
    Supply,
    /// <summary>The controller’s own ground.</summary>
    Ground,
    /// <summary>Switches the controller on when it is at supply.</summary>
    Wake,
    /// <summary>Drives a load by pulling it to ground.</summary>
    LowSide,
    /// <summary>Drives a load by pulling it to supply.</summary>
    HighSide,
    /// <summary>Gives the sensors 5 V.</summary>
    Reference5,
    /// <summary>The sensors’ clean ground.</summary>
    SensorGround,
    /// <summary>Measures a voltage.</summary>
    AnalogIn,
    /// <summary>Tells high from low.</summary>
    DigitalIn,
    /// <summary>A line of a data bus.</summary>
    Network,
}

/// <summary>Where an input is pulled while nothing else decides.</summary>
public enum Pull
{
    /// <summary>Pulled nowhere.</summary>
    None,
    /// <summary>Pulled towards a supply.</summary>
    Up,
    /// <summary>Pulled towards ground.</summary>
    Down,
}

/// <summary>A pin of a controller.</summary>
/// <param name="Ohms">Of a supply: what the controller draws through it awake. Of an output: on-resistance. Of a reference: what lies in series.
/// Of an input: the pull. Of a network pin: termination towards the other pin of its bus; null for none.</param>
/// <param name="Volts">Of a reference: its voltage. Of an input: where it is pulled to.</param>
/// <param name="Output">Name of an output; also the condition that drives it by itself.</param>
/// <param name="OnIn">Key positions in which an output is on.</param>
/// <param name="OnWhen">Conditions any one of which turns an output on.</param>
/// <param name="Pulsed">An output that is on only for moments, such as an injector’s: a key position alone shows it off, its own name or a condition drives it.</param>
/// <param name="Needed">A supply without which the controller is not awake, whatever the others give.</param>
/// <param name="From">Of a high-side output: the supply pin it takes its current from; null for the first.</param>
/// <param name="Bus">Of a network pin: the name of its pair.</param>
public sealed record ControllerPin(
    ControllerRole Role,
    double? Ohms,
    double Volts,
    Pull Pull,
    string Output,
    ImmutableArray<KeyPosition> OnIn,
    ImmutableArray<string> OnWhen,
    bool Pulsed,
    bool Needed,
    string? From,
    string Bus)
{
    /// <summary>What the controller calls what it measures here; null when the file does not say.</summary>
    public string? Channel { get; init; }

    /// <summary>Sign of the unit in which it shows it; empty for none.</summary>
    public string Unit { get; init; } = "";

    /// <summary>Whether it is an output that the controller turns on and off.</summary>
    public bool IsOutput => Role is ControllerRole.LowSide or ControllerRole.HighSide;

    /// <summary>Whether an awake controller has this output on.</summary>
    /// <param name="conditions">What is so; the output's own name drives it.</param>
    public bool IsOn(KeyPosition key, IReadOnlySet<string> conditions) =>
        IsOutput && (conditions.Contains(Output) || OnWhen.Any(conditions.Contains) || (!Pulsed && OnIn.Contains(key)));
}
