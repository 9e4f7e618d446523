using System.Collections.Immutable;
using WiseLoom.Core.Intake;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Shop;

/// <summary>The figures that a shop judges by and may change.</summary>
public sealed record ShopLimits(CopperTolerance Copper, CableLimits Cable)
{
    private const int MostSections = 40;

    /// <summary>How long a reading must be steady before a hands-free bench takes it, seconds; 0.05 to 5.</summary>
    public double SteadySeconds { get; init; } = 0.6;

    /// <summary>Value of the link that the shop holds its meters against, ohms; 0.01 to 1,000.</summary>
    public double KnownLinkOhms { get; init; } = 1;

    /// <summary>What crimp samples must hold, and how many are pulled.</summary>
    public PullTable Pulls { get; init; } = PullTable.Usual;

    /// <summary>What it asks of every run at the bench.</summary>
    public BenchTemplate Bench { get; init; } = BenchTemplate.Usual;

    /// <summary>How its looms are powered up.</summary>
    public PowerUpTemplate PowerUp { get; init; } = PowerUpTemplate.Usual;

    /// <summary>For how many days a share link leads to its pack; 1 to 3,650.</summary>
    public int ShareDays { get; init; } = 730;

    /// <summary>What it puts into its packs.</summary>
    public PackTemplate Pack { get; init; } = PackTemplate.Usual;

    /// <summary>What it takes for wires whose length or section papers do not say.</summary>
    public UnknownFigures Papers { get; init; } = UnknownFigures.Usual;

    /// <summary>What a shop starts with, until a lead has set its own.</summary>
    public static ShopLimits Usual { get; } = new(CopperTolerance.Usual, CableLimits.Usual);

    /// <summary>What of it cannot be.</summary>
    /// <returns>Empty when all of it can; places as JSON pointers of this record.</returns>
    public ImmutableArray<Problem> Problems()
    {
        var problems = ImmutableArray.CreateBuilder<Problem>();
        void Within(string at, double value, double least, double most, string unit)
        {
            if (!(value >= least && value <= most))
            {
                problems.Add(new(at, FormattableString.Invariant($"{value:0.###}{unit} cannot be; it lies between {least:0.###} and {most:0.###}{unit}.")));
            }
        }

        Within("/copper/lengthShare", Copper.LengthShare, 0, 0.5, "");
        Within("/copper/lengthMm", Copper.LengthMm, 0, 1000, " mm");
        Within("/copper/ambientK", Copper.AmbientK, 0, 30, " K");
        Within("/copper/leastOfNominal", Copper.LeastOfNominal, 0.5, 1, "");
        Within("/cable/feedDrop", Cable.FeedDrop, 0.001, 0.5, "");
        Within("/cable/sensorGroundDrop", Cable.SensorGroundDrop, 0.001, 0.5, "");
        Within("/cable/fuseLoad", Cable.FuseLoad, 0.1, 1, "");
        Within("/bench/mostSkipped", (Bench ?? BenchTemplate.Usual).MostSkipped, 0, 0.5, "");
        Within("/shareDays", ShareDays, 1, 3650, " days");
        Within("/steadySeconds", SteadySeconds, 0.05, 5, " s");
        Within("/knownLinkOhms", KnownLinkOhms, 0.01, 1000, " Ω");
        if (Cable.InsulationC is not (85 or 105 or 125))
        {
            problems.Add(new("/cable/insulationC", "The insulation is of class 85, 105 or 125 °C."));
        }

        problems.AddRange((Pulls ?? new([], [])).Problems().Select(p => p with { At = $"/pulls{p.At}" }));
        problems.AddRange((PowerUp ?? PowerUpTemplate.Usual).Problems((host, port) => MeterRules.OfAddress(host, port, null, false)).Select(p => p with { At = $"/powerUp{p.At}" }));
        problems.AddRange((Pack ?? new(default)).Problems().Select(p => p with { At = $"/pack{p.At}" }));
        problems.AddRange((Papers ?? UnknownFigures.Usual).Problems().Select(p => p with { At = $"/papers{p.At}" }));
        Sections(problems);
        return problems.ToImmutable();
    }

    private void Sections(ImmutableArray<Problem>.Builder problems)
    {
        if (Cable.Table.IsDefault || Cable.Table.Length is < 2 or > MostSections)
        {
            problems.Add(new("/cable/table", $"The table has 2 to {MostSections} sections."));
            return;
        }

        for (var i = 0; i < Cable.Table.Length; i++)
        {
            var (mm2, amps) = Cable.Table[i];
            if (!(mm2 is > 0 and <= 500))
            {
                problems.Add(new($"/cable/table/{i}/mm2", "A section lies between 0 and 500 mm²."));
            }
            else if (!(amps is > 0 and <= 2000))
            {
                problems.Add(new($"/cable/table/{i}/amps", "A current lies between 0 and 2,000 A."));
            }
            else if (i > 0 && !(mm2 > Cable.Table[i - 1].Mm2 && amps > Cable.Table[i - 1].Amps))
            {
                problems.Add(new($"/cable/table/{i}", "Sections and currents rise from row to row."));
            }
        }
    }
}
