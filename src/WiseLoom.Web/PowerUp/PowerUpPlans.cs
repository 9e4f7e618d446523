using Microsoft.Extensions.Caching.Memory;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Runs;
using WiseLoom.Core.States;

namespace WiseLoom.Web.PowerUp;

/// <summary>Plans of power-ups, as long as they are asked for; only a cache.</summary>
internal sealed class PowerUpPlans : IDisposable
{
    /// <summary>Wires of all looms whose plans are kept.</summary>
    private const int Most = 24_000;

    private readonly MemoryCache known = new(new MemoryCacheOptions { SizeLimit = Most });

    /// <summary>By a run's terms.</summary>
    internal PowerUpPlan Of(long revision, Loom loom, PowerUpTerms terms) => Of(revision, loom, terms.Fit, terms.AmbientC, BenchFile.FindSchool(terms.School) ?? School.Bench);

    /// <summary>For a bench.</summary>
    internal PowerUpPlan Of(long revision, Loom loom, BenchFit fit, double ambientC, School school) => Kept($"plan {Key(revision, fit)} {ambientC:R} {school}", loom, () => PowerUpPlan.Of(loom, fit, ambientC, school));

    /// <summary>The minimum to run of a bench.</summary>
    internal MinimumToRun Minimum(long revision, Loom loom, BenchFit fit) => Kept($"minimum {Key(revision, fit)}", loom, () => MinimumToRun.ForEngine(loom, fit, loom.AmbientC));

    private static string Key(long revision, BenchFit fit) => $"{revision} {string.Join(';', fit.Changed.Select(c => $"{c.Key}={c.Value}"))}";

    private T Kept<T>(string key, Loom loom, Func<T> make) where T : class => known.GetOrCreate(key, entry =>
    {
        entry.Size = loom.Wires.Length + 1;
        return make();
    })!;

    public void Dispose() => known.Dispose();
}
