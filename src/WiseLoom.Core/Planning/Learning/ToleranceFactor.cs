using MathNet.Numerics.Distributions;

namespace WiseLoom.Core.Planning.Learning;

/// <summary>How many standard deviations of a sample a limit lies from its mean, so that with some confidence it leaves out few of what is still to come.</summary>
/// <remarks>Source: W. G. Howe, Two-sided tolerance limits for normal populations, Journal of the American Statistical Association 64 (1969) 610–620:
/// k = z · √((n − 1)(1 + 1/n) / χ²), z the normal quantile of (1 + share)/2, χ² the quantile of 1 − confidence with n − 1 degrees of freedom.</remarks>
public static class ToleranceFactor
{
    /// <summary>The factor for a normal sample.</summary>
    /// <param name="count">Size of the sample, 2 or more.</param>
    /// <param name="share">Of the population that is to lie within, 0 to 1.</param>
    /// <param name="confidence">How sure that is to be, 0 to 1.</param>
    /// <exception cref="ArgumentOutOfRangeException">One of them is not.</exception>
    public static double TwoSided(int count, double share = 0.99, double confidence = 0.95)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(count, 2);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(share);
        ArgumentOutOfRangeException.ThrowIfGreaterThanOrEqual(share, 1);
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(confidence);
        ArgumentOutOfRangeException.ThrowIfGreaterThanOrEqual(confidence, 1);
        var z = Normal.InvCDF(0, 1, (1 + share) / 2);
        return z * Math.Sqrt((count - 1) * (1 + (1.0 / count)) / ChiSquared.InvCDF(count - 1, 1 - confidence));
    }
}
