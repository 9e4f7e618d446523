using System.Collections.Immutable;

namespace WiseLoom.Core.Planning;

/// <summary>What a shop asks of every run at its bench. Less is a lead's decision.</summary>
/// <param name="MostSkipped">Share of the steps that may be skipped without a lead's decision; 0 to 0.5.</param>
/// <param name="Thorough">Whether each circuit is measured against all others, and not against its neighbours alone.</param>
/// <param name="Pulls">Whether crimp samples are pulled.</param>
/// <param name="Looks">Whether connectors, rings and pairs are looked at.</param>
public sealed record BenchTemplate(double MostSkipped, bool Thorough, bool Pulls, bool Looks)
{
    /// <summary>What a shop starts with: 5 % of the steps, and whatever the technician chooses.</summary>
    public static BenchTemplate Usual { get; } = new(TestPlan.UsualMostSkipped, false, false, false);

    /// <summary>A plan that knows what the shop asks and it does not do.</summary>
    /// <param name="pulls">Whether crimp samples were asked for.</param>
    /// <param name="looks">Whether looks were asked for.</param>
    public TestPlan On(TestPlan plan, bool pulls, bool looks)
    {
        ArgumentNullException.ThrowIfNull(plan);
        return plan with
        {
            MostSkipped = MostSkipped,
            LessThanAsked =
            [
                .. Thorough && plan.Isolation == Isolation.Neighbours ? (string[])["each circuit against all others, where this plan goes by neighbours"] : [],
                .. Pulls && !pulls ? (string[])["crimp samples, which this plan leaves out"] : [],
                .. Looks && !looks ? (string[])["looks at connectors, rings and pairs, which this plan leaves out"] : [],
            ],
        };
    }
}
