namespace WiseLoom.Core.Diagnosis;

/// <summary>What the readings that touch some metal would be with it, each worked out when it is first asked for and kept.</summary>
internal sealed class Foreseen
{
    /// <summary>Stands for nothing between two places; null is not worked out yet.</summary>
    private static readonly object Apart = new();

    private readonly Evidence evidence;
    private readonly Altered metal;

    /// <summary>By reading.</summary>
    private readonly object?[] known;

    /// <param name="touched">Of <paramref name="evidence"/>, what touches the metal.</param>
    /// <param name="before">The same by fewer readings, in the same order; null where nothing is known.</param>
    internal Foreseen(Evidence evidence, Altered metal, Touched touched, Foreseen? before)
        : this(evidence, metal, touched, new object?[touched.Readings.Length])
    {
        for (int i = 0, k = 0; before is not null && k < before.Readings.Length && i < Readings.Length; i++)
        {
            if (ReferenceEquals(Readings[i], before.Readings[k]))
            {
                known[i] = before.known[k++];
            }
        }
    }

    private Foreseen(Evidence evidence, Altered metal, Touched touched, object?[] known) => (this.evidence, this.metal, Touched, this.known) = (evidence, metal, touched, known);

    /// <summary>What touches the metal, as drawn.</summary>
    internal Touched Touched { get; }

    /// <summary>Those that touch the metal.</summary>
    internal Located[] Readings => Touched.Readings;

    /// <summary>Whether it is of some evidence.</summary>
    internal bool IsOf(Evidence some) => ReferenceEquals(evidence, some);

    /// <summary>What a reading would be; null for apart. May be asked by several at once.</summary>
    /// <param name="at">Its place among <see cref="Readings"/>.</param>
    internal Predicted? this[int at]
    {
        get
        {
            var found = known[at] ??= evidence.Predict(Readings[at], metal) ?? Apart;
            return found as Predicted;
        }
    }

    /// <summary>The same when one part has other ohms: what does not pass it stays, and where no loop is, all but the sum.</summary>
    /// <param name="other">The metal then.</param>
    /// <param name="resized">Says of what was predicted what it is then; null where it has to be worked out anew.</param>
    internal Foreseen Resized(Altered other, Func<Predicted, Predicted?> resized) =>
        new(evidence, other, Touched, Array.ConvertAll(known, k => k is Predicted predicted ? resized(predicted) : k));
}
