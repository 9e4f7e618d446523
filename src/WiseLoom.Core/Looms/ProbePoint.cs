using System.Diagnostics.CodeAnalysis;

namespace WiseLoom.Core.Looms;

/// <summary>A cavity of a connector: a place that a probe can touch. Rings and open tails are one-cavity connectors.</summary>
/// <param name="Connector">The connector's <c>ref</c>, such as <c>INJ1</c>.</param>
/// <param name="Cavity">The cavity's name in the family, such as <c>1</c> or <c>B4</c>.</param>
public readonly record struct ProbePoint(string Connector, string Cavity) : IComparable<ProbePoint>
{
    /// <summary>Written as in loom files: <c>INJ1:1</c>.</summary>
    public override string ToString() => $"{Connector}:{Cavity}";

    /// <summary>Reads <c>CONNECTOR:CAVITY</c>. The text is split at the first colon; both sides must hold something.</summary>
    /// <returns>False when there is no colon or a side is empty: the text may then name a splice.</returns>
    public static bool TryParse([NotNullWhen(true)] string? text, out ProbePoint point)
    {
        var colon = text?.IndexOf(':', StringComparison.Ordinal) ?? -1;
        if (colon <= 0 || colon == text!.Length - 1)
        {
            point = default;
            return false;
        }

        point = new ProbePoint(text[..colon], text[(colon + 1)..]);
        return true;
    }

    /// <summary>Reads <c>CONNECTOR:CAVITY</c>.</summary>
    /// <exception cref="FormatException">The text has no such form.</exception>
    public static ProbePoint Parse(string text) =>
        TryParse(text, out var point) ? point : throw new FormatException($"'{text}' is not CONNECTOR:CAVITY, such as INJ1:1.");

    /// <summary>By connector, then by cavity with numbers in number order (2 before 10).</summary>
    public int CompareTo(ProbePoint other)
    {
        var byConnector = NaturalOrder.Compare(Connector, other.Connector);
        return byConnector != 0 ? byConnector : NaturalOrder.Compare(Cavity, other.Cavity);
    }

    /// <summary>Before, by connector and then cavity, in natural order.</summary>
    public static bool operator <(ProbePoint left, ProbePoint right) => left.CompareTo(right) < 0;

    /// <summary>Before or the same.</summary>
    public static bool operator <=(ProbePoint left, ProbePoint right) => left.CompareTo(right) <= 0;

    /// <summary>After.</summary>
    public static bool operator >(ProbePoint left, ProbePoint right) => left.CompareTo(right) > 0;

    /// <summary>After or the same.</summary>
    public static bool operator >=(ProbePoint left, ProbePoint right) => left.CompareTo(right) >= 0;
}
