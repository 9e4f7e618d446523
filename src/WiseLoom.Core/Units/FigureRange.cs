namespace WiseLoom.Core.Units;

/// <summary>A figure that nobody measured, by the least and the greatest that it can be.</summary>
/// <param name="Nominal">What is likeliest.</param>
public readonly record struct FigureRange(double Min, double Nominal, double Max)
{
    /// <summary>Whether it is known.</summary>
    public bool IsExact => Min == Max;

    /// <summary>A figure that is known.</summary>
    public static FigureRange Exactly(double figure) => new(figure, figure, figure);
}
