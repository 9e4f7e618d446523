using CsCheck;
using WiseLoom.Core.Diagnosis;

namespace WiseLoom.Core.Tests;

/// <summary>What is told of two faults at once is less sure than its share, and no order changes.</summary>
public sealed class CalibrationTests
{
    private static readonly Gen<double[]> Shares = Gen.Double[0.001, 1].Array[1, 12].Select(Gen.Double[0.2, 1], (parts, together) =>
        parts.OrderDescending().Select(p => p * together / parts.Sum()).ToArray());

    [Fact]
    public void Order_and_sum_stay() => Shares.Sample(shares =>
    {
        var told = Calibration.Told(shares, 2);
        told.ShouldBeInOrder(SortDirection.Descending);
        told.ShouldAllBe(t => t >= 0 && t <= 1);
        if (told[0] != shares[0])
        {
            // What is left for all that is not told grows alike.
            ((1 - told.Sum()) / (1 - told[0])).ShouldBe((1 - shares.Sum()) / (1 - shares[0]), 1e-9);
            told[0].ShouldBeInRange(0.5, shares[0]);
        }
    });

    [Fact]
    public void One_fault_is_told_as_it_is() => Shares.Sample(shares => Calibration.Told(shares, 1).ShouldBe(shares));

    [Theory]
    [InlineData(0.5, 0.5)]
    [InlineData(0.9, 0.7783)]
    [InlineData(0.99, 0.9325)]
    [InlineData(0.9999, 0.9948)]
    [InlineData(1.0, 1.0)]
    public void Odds_are_tempered(double share, double told) => Calibration.Told([share], 2)[0].ShouldBe(told, 1e-4);
}
