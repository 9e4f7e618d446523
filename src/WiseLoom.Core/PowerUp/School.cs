using System.Collections.Immutable;

namespace WiseLoom.Core.PowerUp;

/// <summary>Where a loom has its first power.</summary>
public enum School
{
    /// <summary>On the bench, without an engine.</summary>
    Bench,

    /// <summary>On a test engine.</summary>
    TestEngine,

    /// <summary>In the vehicle.</summary>
    Vehicle,
}

/// <summary>The stages, and which of them each school takes.</summary>
public static class PowerUpStages
{
    /// <summary>Their names, from the first.</summary>
    public static ImmutableArray<string> Names { get; } =
    [
        "Without power", "Limited supply", "Key", "Warning lamps and senders by hand", "Controller talks", "Outputs one at a time", "Crank without fuel or spark",
        "Spark, fuel, first start", "Again",
    ];

    /// <summary>The first stage that needs an engine that can turn.</summary>
    public const int FirstOnEngine = 7;

    /// <summary>Stages that a school takes: on a bench those that need no engine.</summary>
    public static ImmutableArray<int> Of(School school) => [.. Enumerable.Range(1, school == School.Bench ? FirstOnEngine - 1 : Names.Length)];
}
