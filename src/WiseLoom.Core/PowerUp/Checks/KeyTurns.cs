using System.Collections.Immutable;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>One going round of the key: in which stage, over which positions, with what set up.</summary>
internal sealed record KeyTurns(int Stage, ImmutableArray<KeyPosition> Positions, Func<PowerUpBench, SetUp> On)
{
    /// <summary>With the controllers off: what the key does by itself.</summary>
    internal static readonly KeyTurns ControllerOff = new(3, [KeyPosition.Accessory, KeyPosition.On, KeyPosition.Start], SetUps.ControllerOff);

    /// <summary>With the controllers plugged in: what they switch on.</summary>
    internal static readonly KeyTurns ControllerOn = new(5, [KeyPosition.On], SetUps.ControllerOn);

    /// <summary>Whether there is anything to see: with controllers plugged in only where there are some.</summary>
    internal bool IsFor(PowerUpBench bench) => this != ControllerOn || !bench.Controllers.IsEmpty;
}
