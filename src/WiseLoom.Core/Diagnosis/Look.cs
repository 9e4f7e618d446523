using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What a look is at.</summary>
public enum LookKind
{
    /// <summary>A voltage, by a meter.</summary>
    Volts,

    /// <summary>A test lamp between a place and ground.</summary>
    LampToGround,

    /// <summary>A test lamp between supply and a place.</summary>
    LampToSupply,

    /// <summary>A wire by itself, one end lifted out.</summary>
    Wire,

    /// <summary>A device by itself, unplugged.</summary>
    Device,

    /// <summary>What a known current drops between two places.</summary>
    Drop,
}

/// <summary>What to look at next, where resistances of the bare loom tell less.</summary>
/// <param name="Kind">What kind of look.</param>
/// <param name="Meanwhile">Key position and conditions; null without power.</param>
/// <param name="At">A cavity, a wire's id or a device's ref.</param>
/// <param name="To">The other cavity of a drop; null otherwise.</param>
/// <param name="Text">What to do, in a sentence.</param>
public sealed record Look(LookKind Kind, Situation? Meanwhile, string At, string? To, string Text);
