using System.Collections.Immutable;

namespace WiseLoom.Core.PowerUp;

/// <summary>Makes the checks of one kind for any loom. A new kind is a class like those beside it: it is found by itself.</summary>
internal abstract class CheckMaker
{
    private static readonly Lazy<ImmutableArray<CheckMaker>> Known = new(() =>
    [
        .. typeof(CheckMaker).Assembly.GetTypes().Where(t => t.IsSubclassOf(typeof(CheckMaker)) && !t.IsAbstract).Select(t => (CheckMaker)Activator.CreateInstance(t, nonPublic: true)!)
            .OrderBy(m => m.Stage).ThenBy(m => m.Order).ThenBy(m => m.GetType().Name, StringComparer.Ordinal),
    ]);

    /// <summary>Every kind, in the order of the stages.</summary>
    internal static ImmutableArray<CheckMaker> All => Known.Value;

    /// <summary>The stage that its checks belong to, 1 to 9.</summary>
    internal abstract int Stage { get; }

    /// <summary>Its place among the kinds of its stage.</summary>
    internal abstract int Order { get; }

    /// <summary>Its checks on one bench; none when the loom has nothing of the kind.</summary>
    internal abstract IEnumerable<PowerUpCheck> Of(PowerUpBench bench);
}
