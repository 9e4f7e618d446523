using System.Collections.Immutable;
using System.Text.Json;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;

namespace WiseLoom.Core.Formats;

/// <summary>A case for the diagnosis, as one line of JSON.</summary>
/// <param name="Readings">Of the bare loom.</param>
/// <param name="Seen">What was seen besides.</param>
/// <param name="Meter">What resistances were read with.</param>
public sealed record CaseLine(ImmutableArray<Observation> Readings, ImmutableArray<Sighting> Seen, Meter Meter)
{
    /// <summary>No more readings are taken in one case, no more points joined on one side, no more ranges of a meter.</summary>
    public const int MostReadings = 20_000, MostJoined = 5_000, MostRanges = 40;

    /// <summary>Reads a line: <c>{"readings":[{"a","b","ohm","moved"}],"seen":[{"kind",…}],"meter"}</c>.</summary>
    /// <param name="usual">The meter of lines that name none.</param>
    /// <param name="problems">What is wrong, each with its place as a JSON pointer.</param>
    /// <returns>Null when anything is wrong.</returns>
    public static CaseLine? Read(string line, Loom loom, Meter usual, List<Problem> problems)
    {
        ArgumentNullException.ThrowIfNull(loom);
        ArgumentNullException.ThrowIfNull(problems);
        try
        {
            using var json = JsonDocument.Parse(line);
            return Read(json.RootElement, loom, usual, problems);
        }
        catch (JsonException e)
        {
            problems.Add(new("", $"This line is no JSON: {e.Message}"));
            return null;
        }
    }

    /// <summary>A meter by its name, or by its figures.</summary>
    /// <param name="at">Where it stands, for problems.</param>
    /// <returns>Null when anything is wrong.</returns>
    public static Meter? MeterOf(JsonElement meter, string at, List<Problem> problems)
    {
        ArgumentNullException.ThrowIfNull(problems);
        if (meter.ValueKind == JsonValueKind.String)
        {
            Meter? known = meter.GetString() switch { "bench-four-wire" => Meter.BenchFourWire, "hand-two-wire" => Meter.HandTwoWire, _ => null };
            if (known is null)
            {
                problems.Add(new(at, $"'{meter.GetString()}' is no meter; write bench-four-wire, hand-two-wire, or its figures."));
            }

            return known;
        }

        var before = problems.Count;
        if (meter.ValueKind != JsonValueKind.Object || !meter.TryGetProperty("ranges", out var list) || list.ValueKind != JsonValueKind.Array || list.GetArrayLength() is 0 or > MostRanges)
        {
            problems.Add(new(at, $"A meter has a name and 1 to {MostRanges} ranges, each with upToOhm, percent, counts and resolutionOhm."));
            return null;
        }

        var ranges = ImmutableArray.CreateBuilder<MeterRange>();
        foreach (var (range, i) in list.EnumerateArray().Select((r, i) => (r, i)))
        {
            double Of(string name, double least, double most) => Number(range, name, least, most, null, $"{at}/ranges/{i}", problems);
            ranges.Add(new(Of("upToOhm", 1e-6, 1e12), Of("percent", 0, 50), Of("counts", 0, 1e5), Of("resolutionOhm", 1e-9, 1e9)));
        }

        if (ranges.Zip(ranges.Skip(1)).Any(r => r.First.UpToOhms >= r.Second.UpToOhms))
        {
            problems.Add(new($"{at}/ranges", "Ranges rise from one to the next."));
        }

        var made = new Meter(
            meter.TryGetProperty("name", out var name) && name.ValueKind == JsonValueKind.String ? name.GetString()! : "Meter",
            ranges.ToImmutable(),
            meter.TryGetProperty("fourWire", out var four) && four.ValueKind == JsonValueKind.True,
            Number(meter, "touchOhm", 0, 100, 0, at, problems),
            Number(meter, "leadOhm", 0, 100, 0, at, problems));
        return problems.Count == before ? made : null;
    }

    private static CaseLine? Read(JsonElement root, Loom loom, Meter usual, List<Problem> problems)
    {
        if (root.ValueKind != JsonValueKind.Object || !root.TryGetProperty("readings", out var list) || list.ValueKind != JsonValueKind.Array)
        {
            problems.Add(new("/readings", "A case has readings: a list of {\"a\", \"b\", \"ohm\"}."));
            return null;
        }

        if (list.GetArrayLength() > MostReadings)
        {
            problems.Add(new("/readings", $"A case has at most {MostReadings} readings."));
            return null;
        }

        var meter = root.TryGetProperty("meter", out var named) && named.ValueKind != JsonValueKind.Null ? MeterOf(named, "/meter", problems) : usual;
        var readings = ImmutableArray.CreateBuilder<Observation>(list.GetArrayLength());
        foreach (var (one, i) in list.EnumerateArray().Select((r, i) => (r, i)))
        {
            if (Reading(one, $"/readings/{i}", loom, problems) is { } seen)
            {
                readings.Add(seen);
            }
        }

        var besides = SeenOf(root, loom, problems);
        return problems.Count == 0 && meter is not null ? new(readings.ToImmutable(), besides, meter) : null;
    }

    /// <summary>What was seen besides resistances of the bare loom; a case need not have any.</summary>
    private static ImmutableArray<Sighting> SeenOf(JsonElement root, Loom loom, List<Problem> problems)
    {
        if (!root.TryGetProperty("seen", out var list) || list.ValueKind == JsonValueKind.Null)
        {
            return [];
        }

        if (list.ValueKind != JsonValueKind.Array || list.GetArrayLength() > Diagnostician.MostSightings)
        {
            problems.Add(new("/seen", $"What was seen is a list of at most {Diagnostician.MostSightings}."));
            return [];
        }

        var seen = ImmutableArray.CreateBuilder<Sighting>();
        foreach (var (one, i) in list.EnumerateArray().Select((s, i) => (s, i)))
        {
            try
            {
                if (one.Deserialize<Sighting>(CoreJson.Options) is { } sighting)
                {
                    problems.AddRange(sighting.Problems(loom).Select(p => new Problem($"/seen/{i}{p.At}", p.Message)));
                    seen.Add(sighting);
                    continue;
                }
            }
            catch (Exception e) when (e is JsonException or NotSupportedException or FormatException)
            {
                // Told below, with what would be right.
            }

            problems.Add(new($"/seen/{i}", $"What was seen has a kind, one of {string.Join(", ", Sighting.Kinds)}, and that kind's fields with values of their types."));
        }

        return seen.ToImmutable();
    }

    private static Observation? Reading(JsonElement one, string at, Loom loom, List<Problem> problems)
    {
        var before = problems.Count;
        if (one.ValueKind != JsonValueKind.Object || !one.TryGetProperty("a", out var a))
        {
            problems.Add(new(at, "A reading has a, b and ohm."));
            return null;
        }

        var first = Points(a, $"{at}/a", loom, problems);
        var second = one.TryGetProperty("b", out var b) && b.ValueKind != JsonValueKind.Null ? Points(b, $"{at}/b", loom, problems) : (ImmutableArray<ProbePoint>?)null;
        double? ohm = null;
        if (one.TryGetProperty("ohm", out var shown) && shown.ValueKind != JsonValueKind.Null)
        {
            ohm = Number(one, "ohm", -1e3, 1e13, null, at, problems);
        }

        var moved = one.TryGetProperty("moved", out var flexed) && flexed.ValueKind == JsonValueKind.True;
        return problems.Count == before ? new(first, second, ohm, moved) : null;
    }

    private static ImmutableArray<ProbePoint> Points(JsonElement place, string at, Loom loom, List<Problem> problems)
    {
        if (place.ValueKind == JsonValueKind.Array && place.GetArrayLength() is > 0 and <= MostJoined)
        {
            return [.. place.EnumerateArray().SelectMany((p, i) => Points(p, $"{at}/{i}", loom, problems))];
        }

        if (place.ValueKind == JsonValueKind.String && ProbePoint.TryParse(place.GetString(), out var point) && loom.HasPlace(point.ToString()))
        {
            return [point];
        }

        problems.Add(new(at, place.ValueKind == JsonValueKind.String ? $"This loom has no cavity '{place.GetString()}'." : "A place is written CONNECTOR:CAVITY, or is a list of such."));
        return [];
    }

    private static double Number(JsonElement of, string name, double least, double most, double? without, string at, List<Problem> problems)
    {
        if (!of.TryGetProperty(name, out var value) && without is { } usual)
        {
            return usual;
        }

        if (value.ValueKind == JsonValueKind.Number && value.TryGetDouble(out var number) && number >= least && number <= most)
        {
            return number;
        }

        problems.Add(new($"{at}/{name}", FormattableString.Invariant($"{name} is a number between {least:G6} and {most:G6}.")));
        return least;
    }
}
