namespace WiseLoom.Core.Electrical;

/// <summary>How far a wire may be from what the drawing says of it. The figures are the shop's; a test run keeps those it was judged by.</summary>
/// <param name="LengthShare">A length is trusted to this fraction; 0 to 0.5.</param>
/// <param name="LengthMm">Least tolerance of a length, millimetres; 0 to 1,000.</param>
/// <param name="AmbientK">The ambient temperature is trusted to this many kelvin either way; 0 to 30.</param>
/// <param name="LeastOfNominal">The copper may be this much better than nominal; 0.5 to 1.</param>
public sealed record CopperTolerance(double LengthShare, double LengthMm, double AmbientK, double LeastOfNominal)
{
    /// <summary>What a shop starts with, until a lead has set its own.</summary>
    public static CopperTolerance Usual { get; } = new(0.02, 20, 3, 0.96);
}
