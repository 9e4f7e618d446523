using System.Collections.Immutable;

namespace WiseLoom.Core.Devices;

/// <summary>Where the key stands, in the order in which it is turned. Running is where it goes back to from start.</summary>
public enum KeyPosition
{
    /// <summary>Nothing switched.</summary>
    Off,
    /// <summary>What runs while standing, without the engine’s circuits.</summary>
    Accessory,
    /// <summary>Everything switched, engine still.</summary>
    On,
    /// <summary>Cranking.</summary>
    Start,
    /// <summary>Engine running, alternator charging.</summary>
    Running,
}

/// <summary>Key positions as they are written.</summary>
public static class KeyPositions
{
    /// <summary>Every position, in the order a key turns through them.</summary>
    public static ImmutableArray<KeyPosition> All { get; } = [KeyPosition.Off, KeyPosition.Accessory, KeyPosition.On, KeyPosition.Start, KeyPosition.Running];

    /// <summary>The position by its word in files and commands; words in any case.</summary>
    public static KeyPosition? Find(string? word) => All.Where(p => string.Equals(Word(p), word, StringComparison.OrdinalIgnoreCase)).Select(p => (KeyPosition?)p).FirstOrDefault();

    /// <summary>The word in files and commands: <c>off</c>, <c>accessory</c>, <c>on</c>, <c>start</c>, <c>running</c>.</summary>
    public static string Word(KeyPosition position) => position switch
    {
        KeyPosition.Off => "off",
        KeyPosition.Accessory => "accessory",
        KeyPosition.On => "on",
        KeyPosition.Start => "start",
        _ => "running",
    };
}
