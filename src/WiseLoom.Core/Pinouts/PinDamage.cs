namespace WiseLoom.Core.Pinouts;

/// <summary>How bad it is when a plug is put where it fits but does not belong.</summary>
public enum DamageLevel
{
    /// <summary>Nothing happens.</summary>
    None,

    /// <summary>Something does not work.</summary>
    NoFunction,

    /// <summary>A part may die.</summary>
    Harm,

    /// <summary>A wire may burn.</summary>
    Fire,
}

/// <summary>What one cavity of the wrong plug would do.</summary>
public sealed record PinDamage(DamageLevel Level, string Sentence)
{
    /// <summary>What happens when a wire of one kind meets a pin of another.</summary>
    /// <param name="one">Kind on one side.</param>
    /// <param name="other">Kind on the other; the answer is the same either way round.</param>
    public static PinDamage Between(PinRole one, PinRole other)
    {
        var (a, b) = one <= other ? (one, other) : (other, one);
        return (a, b) switch
        {
            (PinRole.Feed, PinRole.Ground) => new(DamageLevel.Fire, "A feed meets a ground: a dead short. The fuse blows; without one the wire burns."),
            (PinRole.Feed, PinRole.SensorGround) => new(DamageLevel.Fire, "A feed meets the sensor ground: battery current runs through the controller’s thin ground track and burns it."),
            (PinRole.Feed, PinRole.Reference) => new(DamageLevel.Harm, "A feed meets the 5 V supply: battery voltage on every sensor and on the controller’s regulator. They die."),
            (PinRole.Feed, PinRole.Input) => new(DamageLevel.Harm, "A feed meets a signal input: battery voltage where a few volts belong. The input may die."),
            (PinRole.Feed, PinRole.Output) => new(DamageLevel.Harm, "A feed meets a switched output: when it switches to ground nothing limits the current. The driver dies."),
            (PinRole.Feed, PinRole.Network) => new(DamageLevel.Harm, "A feed meets a data line: every controller on the line may die."),
            (PinRole.Feed, PinRole.Shield) => new(DamageLevel.Fire, "A feed meets a shield, which is tied to ground: a dead short."),
            (PinRole.Ground or PinRole.SensorGround, PinRole.Reference) => new(DamageLevel.NoFunction, "Ground meets the 5 V supply: all sensors of that supply read nothing; the regulator limits, and grows hot."),
            (PinRole.Ground, PinRole.Output) => new(DamageLevel.Harm, "Ground meets a switched output: an output that feeds its load is shorted, a load that is switched to ground runs all the time."),
            (PinRole.SensorGround, PinRole.Output) => new(DamageLevel.Harm, "A switched output meets the sensor ground: load current through the sensors’ ground."),
            (PinRole.Ground or PinRole.SensorGround, PinRole.Network) => new(DamageLevel.NoFunction, "Ground meets a data line: nothing on the line talks."),
            (PinRole.Reference, PinRole.Output) => new(DamageLevel.Harm, "The 5 V supply meets a switched output: switching it pulls all sensors down."),
            (PinRole.Output, PinRole.Network) => new(DamageLevel.Harm, "A switched output meets a data line: the line carries load voltage; controllers may die."),
            (PinRole.Input, PinRole.Output) => new(DamageLevel.Harm, "A switched output meets a signal input: load voltage and its spikes on the input."),
            (PinRole.Output, PinRole.Output) => new(DamageLevel.NoFunction, "Another load is switched than the one that is meant."),
            (PinRole.Input, PinRole.Input) => new(DamageLevel.NoFunction, "Another signal is read than the one that is meant."),
            (_, PinRole.Restraint) => new(DamageLevel.Harm, "An airbag or tensioner circuit is joined to something else: it may fire. Leave it to a licensed shop."),
            _ when a == b => new(DamageLevel.NoFunction, "The same kind of circuit, but not the same one: it does not work as meant."),
            (PinRole.Unknown, _) or (_, PinRole.Unused) => new(DamageLevel.NoFunction, "Nobody has said what is on one side. Find out before power is put on it."),
            _ => new(DamageLevel.NoFunction, "It does not work as meant."),
        };
    }
}
