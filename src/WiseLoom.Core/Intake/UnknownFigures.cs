using System.Collections.Immutable;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>What a shop takes for a wire of which papers do not say it. The figures are the shop's; a loom keeps those it came in with.</summary>
/// <param name="LeastMm">Its shortest wire, millimetres; 1 to 100,000.</param>
/// <param name="UsualMm">A usual one.</param>
/// <param name="MostMm">Its longest; 1 to 100,000.</param>
/// <param name="LeastMm2">Its thinnest wire, mm²; 0.05 to 100.</param>
/// <param name="UsualMm2">Its usual section.</param>
/// <param name="MostMm2">The thickest that it uses without writing it down; 0.05 to 100.</param>
public sealed record UnknownFigures(double LeastMm, double UsualMm, double MostMm, double LeastMm2, double UsualMm2, double MostMm2)
{
    /// <summary>What a shop starts with, until a lead has set its own.</summary>
    public static UnknownFigures Usual { get; } = new(100, 1500, 6000, 0.35, 0.5, 1);

    /// <summary>What of it cannot be, by field; empty when all of it can.</summary>
    public ImmutableArray<Problem> Problems()
    {
        var problems = ImmutableArray.CreateBuilder<Problem>();
        void Rising(string unit, double most, double least, params (string At, double Value)[] figures)
        {
            for (var i = 0; i < figures.Length; i++)
            {
                if (!(figures[i].Value >= least && figures[i].Value <= most) || (i > 0 && !(figures[i].Value >= figures[i - 1].Value)))
                {
                    problems.Add(new(figures[i].At, FormattableString.Invariant($"Shortest, usual and longest rise, from {least} to {most} {unit}.")));
                }
            }
        }

        Rising("mm", 100_000, 1, ("/leastMm", LeastMm), ("/usualMm", UsualMm), ("/mostMm", MostMm));
        Rising("mm²", 100, 0.05, ("/leastMm2", LeastMm2), ("/usualMm2", UsualMm2), ("/mostMm2", MostMm2));
        return problems.ToImmutable();
    }

    /// <summary>A length that nobody gave, as a loom file writes it.</summary>
    internal JsonObject Length() => new() { ["min"] = LeastMm, ["nominal"] = UsualMm, ["max"] = MostMm };

    /// <summary>A section that nobody gave, as a loom file writes it.</summary>
    internal JsonObject Section() => new() { ["min"] = LeastMm2, ["nominal"] = UsualMm2, ["max"] = MostMm2 };
}
