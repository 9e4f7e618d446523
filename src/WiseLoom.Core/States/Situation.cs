using System.Collections.Immutable;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.States;

/// <summary>What is asked about: a key position and what else is so.</summary>
/// <param name="Conditions">Named conditions that hold: those that close switches or turn outputs on, and names of outputs that are driven.</param>
/// <param name="Without">Refs of devices that are unplugged.</param>
public sealed record Situation(KeyPosition Key, ImmutableHashSet<string> Conditions, ImmutableHashSet<string> Without)
{
    /// <summary>A key position with what else is so, named as the loom file names it; no output is driven.</summary>
    public static Situation At(KeyPosition key, params IEnumerable<string> conditions) => new(key, [.. conditions], []);
}

/// <summary>What the devices of a loom are doing: everything that is one way or another.</summary>
/// <param name="Pulled">By relay: whether its coil holds it.</param>
/// <param name="Awake">By controller.</param>
/// <param name="AtWork">By load: whether it is hot or turns.</param>
internal sealed record DeviceStates(ImmutableArray<bool> Pulled, ImmutableArray<bool> Awake, ImmutableArray<bool> AtWork)
{
    internal string Key => string.Concat(Pulled.Concat(Awake).Concat(AtWork).Select(b => b ? '1' : '0'));
}
