using System.Collections.Immutable;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.PowerUp;

/// <summary>What a controller shows on one of its channels.</summary>
/// <param name="Channel">Its name.</param>
/// <param name="Value">In <paramref name="Unit"/>; null when the loom does not say how volts become units.</param>
public sealed record ShownValue(string Channel, ExpectedRange? Value, string Unit);

/// <summary>What a controller’s line is asked for.</summary>
public enum Asked
{
    /// <summary>Nothing.</summary>
    Nothing,

    /// <summary>Who it is.</summary>
    Identity,

    /// <summary>Its settings.</summary>
    Settings,

    /// <summary>One live value.</summary>
    Live,

    /// <summary>All its temperatures.</summary>
    Temperatures,

    /// <summary>Stored codes.</summary>
    Codes,

    /// <summary>A log of a trigger.</summary>
    Log,

    /// <summary>A log of cam and crank.</summary>
    Sync,

    /// <summary>How the crank slows at each compression.</summary>
    Compressions,
}

/// <summary>Where levers and pedals are held.</summary>
public enum Levers
{
    /// <summary>Where they rest.</summary>
    Rest,

    /// <summary>At the end at which their wiper has least of its track.</summary>
    Least,

    /// <summary>At the other end.</summary>
    Most,
}

/// <summary>One thing to do and to look at while a loom is powered up, with what should be seen.</summary>
/// <param name="Id">The same for the same check of the same loom.</param>
/// <param name="Stage">1 to 9.</param>
/// <param name="Do">What to do, in one sentence.</param>
/// <param name="Meanwhile">Key position, conditions and what is unplugged: what <paramref name="Expect"/> was computed for.</param>
/// <param name="With">Where and with what to look.</param>
/// <param name="At">Places that are touched: one for volts and amperes, two for ohms; empty for eye and ear.</param>
/// <param name="Why">How it comes to that.</param>
/// <param name="Cautions">To be seen before the card can be answered.</param>
public sealed record PowerUpCheck(
    string Id, int Stage, SetUp SetUp, string Do, Situation Meanwhile, string With, ImmutableArray<ProbePoint> At, Expectation Expect, string Why, ImmutableArray<string> Cautions)
{
    /// <summary>Wires, devices and cavities that it depends on: a fix at one of them makes it worth doing again.</summary>
    public ImmutableArray<string> Touches { get; init; } = [];

    /// <summary>The device that does something, of an outcome; null when no single one does.</summary>
    public string? Device { get; init; }

    /// <summary>The controller's output to drive; null for none.</summary>
    public string? Output { get; init; }

    /// <summary>What the controller shows for it; null for a check at no channel.</summary>
    public ShownValue? Shows { get; init; }

    /// <summary>Where all levers and pedals are held meanwhile.</summary>
    public Levers Levers { get; init; }

    /// <summary>What the controller’s line is asked for, to answer it; nothing for eye, ear and meter.</summary>
    public Asked Asks { get; init; }

    /// <summary>What else may be behind it when it is not as expected, besides faults of the loom.</summary>
    public ImmutableArray<string> IfNot { get; init; } = [];

    /// <summary>Refs of devices that are plugged in, of a resistance without power; empty for all.</summary>
    public ImmutableArray<string> Plugged { get; init; } = [];

    /// <summary>Ref of the device whose trigger is looked at; null for none.</summary>
    public string? Trigger { get; init; }

    /// <summary>What its outcome was computed from, so that a change of the bench can be seen: the expectation in words.</summary>
    public string Fingerprint() => $"{Expect.InWords()} | {Do}";
}

/// <summary>A stage of power-up: from the least that can go wrong to a running engine.</summary>
/// <param name="Number">1 to 9.</param>
/// <param name="Checks">Those of one set-up one after the other.</param>
/// <param name="CannotDo">Why nothing of it can be done on this bench; null when it can.</param>
/// <param name="IsVacant">Whether the loom itself has nothing for it, so that nobody has to say that it was not done.</param>
public sealed record PowerUpStage(int Number, string Name, ImmutableArray<PowerUpCheck> Checks, string? CannotDo, bool IsVacant);
