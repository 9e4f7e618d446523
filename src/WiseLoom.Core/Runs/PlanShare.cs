using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;

namespace WiseLoom.Core.Runs;

/// <summary>A plan shared out between people by connectors: each does the steps at the connectors next to them.</summary>
/// <param name="holders">Who took which connector, by ref.</param>
public sealed class PlanShare(IReadOnlyDictionary<string, Guid> holders)
{
    /// <summary>Nobody took anything: every step is everybody's.</summary>
    public static PlanShare None { get; } = new(new Dictionary<string, Guid>(StringComparer.Ordinal));

    /// <summary>Whether a step is for a person: at connectors that nobody took it is for everybody; at one that is taken for its holder; between two holders' connectors
    /// for the holder of the one that comes first by name, so that it is for exactly one of them.</summary>
    public bool IsFor(PlanStep step, Guid person)
    {
        ArgumentNullException.ThrowIfNull(step);
        var first = step.Red is { } red && NaturalOrder.Compare(red.Connector, step.Black.Connector) < 0 ? red.Connector : step.Black.Connector;
        var second = first == step.Black.Connector ? step.Red?.Connector : step.Black.Connector;
        return holders.TryGetValue(first, out var holder) || (second is not null && holders.TryGetValue(second, out holder)) ? holder == person : true;
    }
}
