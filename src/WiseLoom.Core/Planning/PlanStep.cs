using System.Collections.Immutable;
using System.Text.Json.Serialization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning.Steps;

namespace WiseLoom.Core.Planning;

/// <summary>What the bench is set up for while a step is done; a plan goes through them in this order.</summary>
public enum StepPhase
{
    /// <summary>The loom alone.</summary>
    Bare,

    /// <summary>A supply and a load at hand.</summary>
    UnderLoad,

    /// <summary>Devices plugged in.</summary>
    Fitted,

    /// <summary>Crimp samples on the gauge.</summary>
    Samples,

    /// <summary>Eyes only.</summary>
    Looks,
}

/// <summary>One touch. Each kind of step is a record of its own that says what it is read in, how it is judged, what a fix does to it, and
/// how it is put in words.</summary>
/// <param name="Number">Its place in the plan, from 1; never changes within a run.</param>
/// <param name="Black">Where the black probe is; the place itself where nothing is probed.</param>
/// <param name="Red">Where the red probe is; null for the shorting plug that joins all other nets, and where nothing is probed.</param>
/// <param name="Limits">What passes: ohms, or in the unit of the step where it reads no resistance.</param>
/// <param name="Seconds">Planned time: moving, turning and touching.</param>
/// <param name="Circuit">What the net is for, when a wire says so.</param>
/// <remarks>Written as JSON with <c>kind</c> and the fields of the record. A new kind is a record in <c>Steps</c>, and a line here.</remarks>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(ContinuityStep), ContinuityStep.Word)]
[JsonDerivedType(typeof(IsolationStep), IsolationStep.Word)]
[JsonDerivedType(typeof(LoadStep), LoadStep.Word)]
[JsonDerivedType(typeof(FittedStep), FittedStep.Word)]
[JsonDerivedType(typeof(DiodeStep), DiodeStep.Word)]
[JsonDerivedType(typeof(PairStep), PairStep.Word)]
[JsonDerivedType(typeof(PullStep), PullStep.Word)]
[JsonDerivedType(typeof(LookStep), LookStep.Word)]
public abstract record PlanStep(int Number, ProbePoint Black, ProbePoint? Red, Limits Limits, double Seconds, string? Circuit)
{
    /// <summary>The kind in one word, as files write it.</summary>
    [JsonIgnore]
    public abstract string Kind { get; }

    /// <summary>What must be between the two places, in a word or two: <c>joined</c>.</summary>
    [JsonIgnore]
    public abstract string MustBe { get; }

    /// <summary>The sign between the two places in a list.</summary>
    [JsonIgnore]
    public abstract string Sign { get; }

    /// <summary>Whether metal must join the two places.</summary>
    [JsonIgnore]
    public virtual bool IsJoined => true;

    /// <summary>What its readings are in.</summary>
    [JsonIgnore]
    public virtual ReadingUnit Unit => ReadingUnit.Ohm;

    /// <summary>Whether a meter on the network can take its readings; otherwise they are typed.</summary>
    [JsonIgnore]
    public virtual bool ByInstrument => true;

    /// <summary>What the bench is set up for.</summary>
    [JsonIgnore]
    public virtual StepPhase Phase => StepPhase.Bare;

    /// <summary>Whether two probes are put somewhere.</summary>
    [JsonIgnore]
    public virtual bool IsProbed => true;

    /// <summary>What is at its place, when that is more than two cavities to touch; null otherwise.</summary>
    [JsonIgnore]
    public virtual string? Subject => null;

    /// <summary>What an eye goes through, one thing after another; empty for what is measured.</summary>
    [JsonIgnore]
    public virtual ImmutableArray<string> Looks => [];

    /// <summary>Whether the two probes may be exchanged.</summary>
    [JsonIgnore]
    public virtual bool MayTurn => Red is not null;

    /// <summary>What the copper explains, ohms; null where no metal must join the places.</summary>
    [JsonIgnore]
    public virtual OhmRange? Explained => null;

    /// <summary>Smallest added resistance that is surely noticed, ohms; null for none, or where no metal must join the places.</summary>
    [JsonIgnore]
    public virtual double? Noticed => null;

    /// <summary>Where the red probe goes, in words.</summary>
    [JsonIgnore]
    public virtual string RedInWords => Red?.ToString() ?? "all other circuits";

    /// <summary>What the step is measured with.</summary>
    /// <param name="meter">The run's.</param>
    public virtual Meter MeasuredWith(Meter meter) => meter;

    /// <summary>What a value shown in the step's unit says of the pair.</summary>
    /// <param name="shown">The number; null for over range.</param>
    /// <exception cref="ArgumentOutOfRangeException">No meter shows such a value; the message says what would be right.</exception>
    public abstract Reading ReadingOf(double? shown);

    /// <summary>What a reading of the step says about the metal between its two places, ohms or over range; null when it says nothing of that kind.</summary>
    public virtual Reading? AsPair(Reading reading) => reading;

    /// <summary>The verdict on a reading.</summary>
    /// <param name="meter">The run's.</param>
    public virtual Verdict Judge(Reading reading, Meter meter) => Judgement.Of(AsPair(reading) ?? reading, Limits, MeasuredWith(meter));

    /// <summary>The whole scale cut where the verdict changes, in the step's unit.</summary>
    /// <param name="meter">The run's.</param>
    public virtual ImmutableArray<VerdictBand> Bands(Meter meter) => Judgement.Bands(Limits, MeasuredWith(meter));

    /// <summary>The stretch of a logarithmic scale on which its reading is drawn, in the step's unit.</summary>
    public virtual Ruler Ruler() => Planning.Ruler.For(Limits);

    /// <summary>What passes, in words and in the step's unit.</summary>
    public virtual string Passes() => Limits.InWords();

    /// <summary>What is surely noticed here, in words; null where that is no question.</summary>
    public virtual string? NoticedInWords() => Noticed is { } ohms ? $"This meter surely notices {Say.Ohms(ohms)} too much." : "This meter notices no added resistance here.";

    /// <summary>How the step is set up beyond touching two places, in words; null when that is all.</summary>
    public virtual string? Setup() => null;

    /// <summary>Where its limits come from, in words; null where they are the copper's.</summary>
    public virtual string? Because() => null;

    /// <summary>What a failing reading says, as the first half of a sentence.</summary>
    public virtual string Complaint() => $"{Black} to {Red} is not what the copper explains";

    /// <summary>Whether a fix could have changed what the step reads.</summary>
    public virtual bool ChangedBy(FixReach reach)
    {
        ArgumentNullException.ThrowIfNull(reach);
        return reach.InNets(Black) || (Red is { } red && reach.InNets(red));
    }

    /// <summary>Whether a step of an earlier plan asked the same of the same two places.</summary>
    public virtual bool AsksTheSameAs(PlanStep earlier) => earlier is not null && earlier.GetType() == GetType() && Pair == earlier.Pair;

    /// <summary>Where the two probes stand.</summary>
    [JsonIgnore]
    public ProbePair Probes => new(Black, Red);

    /// <summary>The two places in the order of their names, since either probe may stand on either.</summary>
    [JsonIgnore]
    internal (ProbePoint, ProbePoint?) Pair => Red is { } red && red < Black ? (red, Black) : (Black, Red);

    /// <summary>A resistance as a meter may show it.</summary>
    /// <exception cref="ArgumentOutOfRangeException">It is no number between −1 and 1e12 Ω.</exception>
    private protected static Reading Resistance(double? ohms) => ohms is null or (>= -1 and <= 1e12)
        ? new(ohms)
        : throw new ArgumentOutOfRangeException(nameof(ohms), "A resistance lies between 0 and 1,000,000 MΩ.");
}
