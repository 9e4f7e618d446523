using System.Collections.Immutable;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.PowerUp;

/// <summary>What a controller measures on one channel.</summary>
/// <param name="Pin">The cavity of its pin.</param>
/// <param name="Volts">At its pin.</param>
/// <param name="Value">By the controller's own table, in <paramref name="Unit"/>; null without one.</param>
public sealed record LiveValue(string Channel, string Pin, double Volts, double? Value, string Unit);

/// <summary>What came of driving an output.</summary>
/// <param name="Times">How often it was switched on.</param>
/// <param name="Amps">What it drew; null when the controller does not measure that.</param>
public sealed record Driven(int Times, double? Amps);

/// <summary>A controller cannot be reached, did not understand, or said no.</summary>
public sealed class ControllerException : Exception
{
    /// <summary>Says what is wrong.</summary>
    /// <param name="message">In words, with what to do.</param>
    public ControllerException(string message)
        : base(message)
    {
    }

    /// <summary>Says what is wrong, and what lies behind it.</summary>
    public ControllerException(string message, Exception inner)
        : base(message, inner)
    {
    }

    /// <summary>Says nothing.</summary>
    public ControllerException()
    {
    }
}

/// <summary>A controller's line, as docs/controller-line.md describes it. Every call has an end: it answers in time or throws.</summary>
public interface IController
{
    /// <summary>Who it is.</summary>
    /// <exception cref="ControllerException">It cannot be reached or does not answer, as with all calls.</exception>
    Task<string> IdentityAsync(CancellationToken cancel);

    /// <summary>Its settings.</summary>
    Task<ImmutableArray<ControllerSetting>> SettingsAsync(CancellationToken cancel);

    /// <summary>All channels now.</summary>
    Task<ImmutableArray<LiveValue>> LiveAsync(CancellationToken cancel);

    /// <summary>Stored codes.</summary>
    Task<ImmutableArray<ControllerCode>> CodesAsync(CancellationToken cancel);

    /// <summary>Forgets stored codes.</summary>
    Task ClearAsync(CancellationToken cancel);

    /// <summary>Names of outputs that can be driven.</summary>
    Task<ImmutableArray<string>> OutputsAsync(CancellationToken cancel);

    /// <summary>Drives an output so many times; it comes back when the output is off again. When the caller hangs up, the line is cut, and the controller switches off.</summary>
    /// <param name="times">1 to 50.</param>
    /// <param name="onMs">1 to 2,000.</param>
    /// <param name="offMs">0 to 2,000.</param>
    Task<Driven> DriveAsync(string output, int times, int onMs, int offMs, CancellationToken cancel);

    /// <summary>Switches off whatever is driven.</summary>
    Task StopAsync(CancellationToken cancel);

    /// <summary>When the edges of its triggers came.</summary>
    /// <param name="ms">Length of the log, 100 to 10,000.</param>
    Task<TriggerLog> LogAsync(int ms, CancellationToken cancel);

    /// <summary>All channels, so many times a second, until the caller hangs up.</summary>
    /// <param name="perSecond">1 to 20.</param>
    IAsyncEnumerable<ImmutableArray<LiveValue>> WatchAsync(int perSecond, CancellationToken cancel);

    /// <summary>The engine behind it, when it is one that is simulated; null for a real one.</summary>
    Task<IPracticeEngine?> PracticeAsync(CancellationToken cancel);
}

/// <summary>An engine that is simulated behind a stand-in controller: its key can be turned, its places measured and its devices looked at over the line.</summary>
public interface IPracticeEngine
{
    /// <summary>Puts key, conditions, plugs and levers.</summary>
    Task PutAsync(PowerUpCheck check, CancellationToken cancel);

    /// <summary>Does a check by hand: meter, eye and ear.</summary>
    /// <returns>What was found, as a person would answer it.</returns>
    Task<FoundByHand> DoAsync(PowerUpCheck check, CancellationToken cancel);
}

/// <summary>What hands, eyes and a meter found at a simulated engine.</summary>
/// <param name="Findings">Besides, in words.</param>
public sealed record FoundByHand(Answer Answer, ImmutableArray<string> Findings);
