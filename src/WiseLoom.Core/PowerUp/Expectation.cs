using System.Text.Json.Serialization;

namespace WiseLoom.Core.PowerUp;

/// <summary>What a meter may show.</summary>
/// <param name="Nominal">With every part at its nominal value.</param>
public readonly record struct ExpectedRange(double Min, double Nominal, double Max)
{
    /// <summary>Whether a value lies in it.</summary>
    public bool Holds(double value) => value >= Min && value <= Max;

    /// <summary>The range with what a meter may be off by on either side.</summary>
    /// <param name="share">Share of the value.</param>
    /// <param name="steps">In the range's own unit.</param>
    internal ExpectedRange Widened(double share, double steps) => new(Min - (share * Math.Abs(Min)) - steps, Nominal, Max + (share * Math.Abs(Max)) + steps);

    /// <summary>The range of some values, the nominal one first.</summary>
    internal static ExpectedRange Of(IReadOnlyCollection<double> values) => new(values.Min(), values.First(), values.Max());
}

/// <summary>What should be seen at a check.</summary>
/// <remarks>Written as JSON with <c>kind</c> and the fields of the record.</remarks>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(VoltsExpected), "volts")]
[JsonDerivedType(typeof(AmpsExpected), "amps")]
[JsonDerivedType(typeof(OhmExpected), "ohm")]
[JsonDerivedType(typeof(OutcomeExpected), "outcome")]
public abstract record Expectation
{
    /// <summary>In words: <c>12.1 to 12.9 V (12.6 V)</c>, <c>lights</c>.</summary>
    public abstract string InWords();

    /// <summary>Whether what was seen is so.</summary>
    /// <exception cref="ArgumentException">The answer is of another kind; see <see cref="Wrong"/>.</exception>
    public abstract bool Holds(Answer answer);

    /// <summary>Why an answer does not belong here; null when it does.</summary>
    public abstract string? Wrong(Answer answer);

    /// <summary>What was seen, in words.</summary>
    public abstract string Said(Answer answer);

    private protected static string Between(ExpectedRange range, Func<double, string> say) =>
        say(range.Min) == say(range.Max) ? say(range.Nominal) : $"{say(range.Min)} to {say(range.Max)} (computed {say(range.Nominal)})";

    private protected static string? WrongNumber(Answer answer, double least, double most, string unit) => answer is not MeasuredAnswer measured ? $"A figure in {unit} is needed here."
        : measured.Value is not { } value ? $"Over range is no answer here; a figure in {unit} is needed."
        : value >= least && value <= most ? null : FormattableString.Invariant($"It lies between {least:#,0.###} and {most:#,0.###} {unit}.");
}

/// <summary>A voltage against the battery's negative pole, by a meter of 10 MΩ.</summary>
public sealed record VoltsExpected(ExpectedRange Volts) : Expectation
{
    /// <inheritdoc/>
    public override string InWords() => Between(Volts, Say.Volts);

    /// <inheritdoc/>
    public override bool Holds(Answer answer) => Volts.Holds(((MeasuredAnswer)answer).Value!.Value);

    /// <inheritdoc/>
    public override string? Wrong(Answer answer) => WrongNumber(answer, -100, 100, "V");

    /// <inheritdoc/>
    public override string Said(Answer answer) => Say.Volts(((MeasuredAnswer)answer).Value!.Value);
}

/// <summary>A current, by an ammeter or a clamp.</summary>
public sealed record AmpsExpected(ExpectedRange Amps) : Expectation
{
    /// <summary>What a clamp shows of nothing at all, amperes: as little the other way round is nothing too.</summary>
    private const double NothingAmps = 0.005;

    /// <inheritdoc cref="AmpsExpected(ExpectedRange)" path="/param[@name='Amps']"/>
    public ExpectedRange Amps { get; init; } = Amps with { Min = Math.Max(0, Amps.Min) };

    /// <inheritdoc/>
    public override string InWords() => Between(Amps, Say.Amps);

    /// <inheritdoc/>
    public override bool Holds(Answer answer) => ((MeasuredAnswer)answer).Value is { } value && Amps.Holds(value is < 0 and >= -NothingAmps ? 0 : value);

    /// <inheritdoc/>
    public override string? Wrong(Answer answer) => WrongNumber(answer, -1000, 1000, "A");

    /// <inheritdoc/>
    public override string Said(Answer answer) => Say.Amps(((MeasuredAnswer)answer).Value!.Value);
}

/// <summary>A resistance without power.</summary>
/// <param name="Ohm">Null for over range.</param>
/// <param name="LeastOhm">What reads less is a short, ohms; for over range the least that counts as open.</param>
public sealed record OhmExpected(ExpectedRange? Ohm, double LeastOhm) : Expectation
{
    /// <inheritdoc/>
    public override string InWords() => Ohm is { } range ? Between(range, Say.Ohms) : $"over range, or more than {Say.Ohms(LeastOhm)}";

    /// <inheritdoc/>
    public override bool Holds(Answer answer) => ((MeasuredAnswer)answer).Value is { } read ? Ohm?.Holds(read) ?? read >= LeastOhm : Ohm is null;

    /// <inheritdoc/>
    public override string? Wrong(Answer answer) => answer is MeasuredAnswer { Value: null } ? null : WrongNumber(answer, 0, 1e12, "Ω");

    /// <inheritdoc/>
    public override string Said(Answer answer) => ((MeasuredAnswer)answer).Value is { } read ? Say.Ohms(read) : "over range";
}

/// <summary>Something that is no figure.</summary>
public sealed record OutcomeExpected(Outcome Outcome) : Expectation
{
    /// <inheritdoc/>
    public override string InWords() => Outcome.InWords();

    /// <inheritdoc/>
    public override bool Holds(Answer answer) => answer is SeenAnswer seen && seen.Outcome == Outcome;

    /// <inheritdoc/>
    public override string? Wrong(Answer answer) => answer is MeasuredAnswer ? $"What was seen is needed here: {Outcome.InWords()}, or {Outcome.Otherwise().InWords()}." : null;

    /// <inheritdoc/>
    public override string Said(Answer answer) => answer is SeenAnswer seen ? seen.Outcome.InWords() : $"instead: {string.Join(", ", ((OthersAnswer)answer).Devices)}";
}
