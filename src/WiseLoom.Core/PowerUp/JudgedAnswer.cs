using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.PowerUp;

/// <summary>What an answer to a check comes to.</summary>
/// <param name="Passed">Whether what was seen is as expected.</param>
/// <param name="Said">What was seen, in words.</param>
/// <param name="Sightings">What it tells of the loom, for the diagnosis; empty where it tells nothing.</param>
public sealed record JudgedAnswer(bool Passed, string Said, ImmutableArray<Sighting> Sightings)
{
    private const int MostOthers = 40;

    /// <summary>Judges an answer.</summary>
    /// <param name="loom">The loom with what is fitted on the bench.</param>
    /// <returns>The answer judged, or what is wrong with it.</returns>
    public static (JudgedAnswer? Judged, string? Wrong) Of(Loom loom, PowerUpCheck check, Answer answer)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(check);
        ArgumentNullException.ThrowIfNull(answer);
        if (check.Expect.Wrong(answer) is { } wrong)
        {
            return (null, wrong);
        }

        if (answer is OthersAnswer others)
        {
            if (check.Output is null)
            {
                return (null, "Only an output that is driven has others that may move.");
            }

            if (others.Devices.IsDefaultOrEmpty || others.Devices.Length > MostOthers || others.Devices.FirstOrDefault(d => loom.Devices.All(x => x.Ref != d)) is { } stranger && stranger.Length >= 0)
            {
                return (null, $"Name 1 to {MostOthers} devices that are fitted on this bench.");
            }

            if (others.Devices is [var only] && only == check.Device)
            {
                return (null, "That is the one that should move: answer with what it did.");
            }
        }

        return (new(check.Expect.Holds(answer), InWords(loom, check, answer), [.. TellsOf(loom, check, answer)]), null);
    }

    private static string InWords(Loom loom, PowerUpCheck check, Answer answer) => answer is OthersAnswer others
        ? $"instead {string.Join(" and ", others.Devices.Select(d => loom.Devices.First(x => x.Ref == d).Title))}"
        : check.Expect.Said(answer);

    private static IEnumerable<Sighting> TellsOf(Loom loom, PowerUpCheck check, Answer answer)
    {
        var (key, set, without) = (check.Meanwhile.Key, check.Meanwhile.Conditions.Order(StringComparer.Ordinal).ToImmutableArray(), check.Meanwhile.Without.Order(StringComparer.Ordinal).ToImmutableArray());
        switch (check.Expect, answer)
        {
            // The diagnosis knows levers where they rest.
            case (VoltsExpected, MeasuredAnswer) when check.Levers != Levers.Rest:
                return [];
            case (VoltsExpected, MeasuredAnswer { Value: { } volts }):
                return [new VoltsSeen(key, set, without, check.At[0], volts)];
            case (AmpsExpected, MeasuredAnswer { Value: { } amps }):
                return [new CurrentSeen(key, set, without, check.At[0], amps)];
            // What lies in a controller has no resistance that a table knows.
            case (OhmExpected, MeasuredAnswer read) when loom.Devices.All(d => d.Model is not ControllerModel || !check.Plugged.Contains(d.Ref)):
                return [new FittedSeen(check.At[0], check.At[1], read.Value, check.Plugged) { Set = set }];
            case (OutcomeExpected, OthersAnswer others):
                return [.. check.Device is { } meant ? new[] { new WorksSeen(key, set, without, meant, others.Devices.Contains(meant)) } : [], .. others.Devices.Where(d => d != check.Device && IsWorker(loom, d)).Select(d => new WorksSeen(key, set, without, d, true))];
            case (OutcomeExpected expected, SeenAnswer seen) when check.Device is { } device && expected.Outcome is not (Outcome.AsSaid or Outcome.NotAsSaid) && IsWorker(loom, device):
                return [new WorksSeen(key, set, without, device, seen.Outcome.IsAtWork())];
            default:
                return [];
        }
    }

    private static bool IsWorker(Loom loom, string device) => loom.Devices.Any(d => d.Ref == device && d.Model is LoadModel or RelayModel or ControllerModel);
}
