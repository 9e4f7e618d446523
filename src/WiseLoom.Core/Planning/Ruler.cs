using WiseLoom.Core.Electrical;

namespace WiseLoom.Core.Planning;

/// <summary>The stretch of a logarithmic scale on which a step's reading is drawn: whole decades around its limits.</summary>
/// <param name="From">Left end, a power of ten, in the unit of the limits.</param>
/// <param name="To">Right end, a power of ten; a greater value lands beyond it.</param>
public readonly record struct Ruler(double From, double To)
{
    private const double Finest = 1e-4;

    /// <summary>At least four decades, with the limits well inside.</summary>
    public static Ruler For(Limits limits)
    {
        if (double.IsPositiveInfinity(limits.Most))
        {
            return new(1, 1e8);
        }

        var from = Math.Pow(10, Math.Floor(Math.Log10(Math.Max(Finest, limits.Least / 2))));
        var to = Math.Pow(10, Math.Ceiling(Math.Log10(Math.Max(limits.Most * 8, from * 1e4))));
        return new(from, to);
    }
}
