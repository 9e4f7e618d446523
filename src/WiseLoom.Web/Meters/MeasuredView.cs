using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Shop;

namespace WiseLoom.Web.Meters;

/// <summary>What a meter showed; it is not stored by this.</summary>
/// <param name="Ohms">Null for over range.</param>
internal sealed record MeasuredView(double? Ohms, bool OverRange)
{
    internal static MeasuredView Of(Reading reading) => new(reading.Ohms, reading.IsOverRange);

    /// <summary>The meter gave no reading.</summary>
    internal static ProblemHttpResult None(MeterException e) =>
        TypedResults.Problem(title: "No reading from the meter.", detail: e.Message, statusCode: StatusCodes.Status503ServiceUnavailable);
}
