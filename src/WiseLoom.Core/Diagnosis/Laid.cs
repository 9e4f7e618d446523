using System.Collections.Immutable;
using WiseLoom.Core.Faults;

namespace WiseLoom.Core.Diagnosis;

/// <summary>The nets that some faults touch, as they would then be: laid out when their metal is asked for, because most suppositions are out before that. May be asked by several at once.</summary>
/// <remarks>It holds nothing but the loom and the faults: thousands of these stay while a case goes on.</remarks>
internal sealed class Laid
{
    private readonly DrawnLoom? drawn;
    private readonly ImmutableArray<Fault> faults;
    private Altered? metal;
    private IReadOnlySet<int>? nets;

    internal Laid(DrawnLoom drawn, ImmutableArray<Fault> faults) => (this.drawn, this.faults) = (drawn, faults);

    /// <param name="metal">Laid out already.</param>
    internal Laid(Altered metal) => this.metal = metal;

    /// <summary>Numbers of the drawn nets, without laying out any.</summary>
    internal IReadOnlySet<int> Nets => nets ??= metal?.Nets ?? drawn!.NetsOf(faults);

    internal Altered Metal => metal ?? Interlocked.CompareExchange(ref metal, new(drawn!, faults, Nets), null) ?? metal;

    /// <summary>Lets go of what readings would be; it is worked out anew when it is asked for again.</summary>
    internal void Forget()
    {
        if (metal is { } known)
        {
            known.Foreseen = null;
        }
    }
}
