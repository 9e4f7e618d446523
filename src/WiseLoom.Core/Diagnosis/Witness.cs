using System.Collections.Immutable;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Diagnosis;

/// <summary>What was seen beside resistances of the bare loom, held against looms with faults in them.</summary>
internal sealed class Witness
{
    private readonly Loom loom;
    private readonly double ambientC;
    private readonly Meter meter;
    private readonly ProbedPlaces probed;
    private readonly ImmutableArray<double> asDrawn;

    internal Witness(Loom loom, double ambientC, Meter meter, ImmutableArray<Sighting> sightings)
    {
        (this.loom, this.ambientC, this.meter, Sightings) = (loom, ambientC, meter, sightings);
        probed = ProbedPlaces.By(sightings);
        Sound = With([]);
        asDrawn = [.. sightings.Select(s => s.LogLikelihood(Sound))];
        Odd = [.. sightings.Where(s => !s.Fits(Sound))];
    }

    internal ImmutableArray<Sighting> Sightings { get; }

    /// <summary>Those that the loom as drawn would not show.</summary>
    internal ImmutableArray<Sighting> Odd { get; }

    /// <summary>The loom as drawn.</summary>
    internal SuspectLoom Sound { get; }

    /// <summary>The loom with some faults.</summary>
    internal SuspectLoom With(ImmutableArray<Fault> faults) => new(loom, ambientC, meter, faults, probed);

    /// <summary>The loom with some faults, with meters and lamps held at other places.</summary>
    internal SuspectLoom With(ImmutableArray<Fault> faults, ProbedPlaces at) => new(loom, ambientC, meter, faults, at);

    /// <summary>How much more likely all of it is on a loom than on the loom as drawn; a logarithm.</summary>
    internal double Gain(SuspectLoom of) => Sightings.Select((s, i) => s.LogLikelihood(of) - asDrawn[i]).Sum();

    /// <summary>Whether a loom would show all of it.</summary>
    internal bool FitsAll(SuspectLoom of) => Sightings.All(s => s.Fits(of));
}
