namespace WiseLoom.Core.Diagnosis;

/// <summary>Readings that touch some drawn nets, with what they say of the drawing: worked out once, when it is first asked for.</summary>
internal sealed class Touched
{
    private readonly Lazy<double> asDrawn;
    private readonly Lazy<int> deniedAsDrawn;
    private readonly Lazy<Correlated?> drawn;

    /// <param name="score">Their score with the loom as drawn.</param>
    /// <param name="denied">Whether one denies the drawing.</param>
    /// <param name="held">Those that found metal where it is drawn, held against the drawing; null where they are too many.</param>
    internal Touched(List<Located> readings, Func<Touched, double> score, Func<Located, bool> denied, Func<Touched, Correlated?> held)
    {
        Readings = [.. readings.Where(r => r.IsMetalAsDrawn), .. readings.Where(r => !r.IsMetalAsDrawn)];
        asDrawn = new(() => score(this));
        deniedAsDrawn = new(() => Readings.Count(denied));
        drawn = new(() => held(this));
    }

    /// <summary>Those that found metal where it is drawn first: most suppositions leave most of them as they are.</summary>
    internal Located[] Readings { get; }

    /// <summary>Their score with the loom as drawn.</summary>
    internal double AsDrawn => asDrawn.Value;

    /// <summary>How many of them deny the drawing.</summary>
    internal int DeniedAsDrawn => deniedAsDrawn.Value;

    /// <summary>The first of them, those that found metal where it is drawn, held against the drawing.</summary>
    internal Correlated? Drawn => drawn.Value;
}
