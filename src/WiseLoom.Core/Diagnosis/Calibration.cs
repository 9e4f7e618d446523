namespace WiseLoom.Core.Diagnosis;

/// <summary>Makes the share of the likeliest group what it turns out to be worth.</summary>
/// <remarks>
/// Of two faults at once only the likeliest pairs are weighed, each at the size and place that fit best: the share of the first of them comes out too
/// large. Its odds o become o^(1/T) (temperature scaling of the likeliest answer); what it loses goes to the others in proportion, so that no order changes.
/// Single faults are all weighed, and are right as often as they say. See docs/formulas.md for how T was found and what it does.
/// </remarks>
internal static class Calibration
{
    /// <summary>T, by the greatest likelihood over 1,309 answers of two faults on four looms.</summary>
    private const double Temperature = 1.75;

    /// <summary>The shares as they are told.</summary>
    /// <param name="shares">Falling, 0 to 1; together at most 1.</param>
    /// <param name="faults">How many the first supposes.</param>
    internal static double[] Told(IReadOnlyList<double> shares, int faults)
    {
        var first = shares[0];
        if (faults < 2 || first is <= 0.5 or >= 1)
        {
            return [.. shares];
        }

        var odds = Math.Pow(first / (1 - first), 1 / Temperature);
        var told = odds / (1 + odds);
        return [told, .. shares.Skip(1).Select(s => s * (1 - told) / (1 - first))];
    }
}
