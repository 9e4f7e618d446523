using CsCheck;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;

namespace WiseLoom.Core.Tests;

/// <summary>A reading whose only way passes nothing that is wrong is not solved anew: it must be what solving the whole loom with its faults gives.</summary>
public sealed class KeptReadingTests
{
    private static readonly Dictionary<string, (Loom Loom, DrawnLoom Drawn)> Demos = new[] { Looms.WorkLaunch, Looms.FrostFan }
        .ToDictionary(l => l.Name, l => (l, new DrawnLoom(l, l.AmbientC, CopperTolerance.Usual).Leaning(null)), StringComparer.Ordinal);

    public static TheoryData<string, int> Cases => new(Demos.Keys.SelectMany(d => new[] { (d, 1), (d, 2) }));

    [Theory]
    [MemberData(nameof(Cases))]
    public void What_is_kept_reads_as_the_loom_with_its_faults_does(string demo, int faults)
    {
        var (loom, drawn) = Demos[demo];
        var kept = 0;
        Gen.Int[1, 1_000_000].Sample(
            seed =>
            {
                List<Fault> hidden = [.. new HiddenFaults(loom, seed).Some(faults)];
                var altered = new Altered(drawn, hidden, drawn.NetsOf(hidden));
                var (sound, built) = (new BuiltLoom(loom, []).Graph(loom.AmbientC, CopperTolerance.Usual), new BuiltLoom(loom, hidden).Graph(loom.AmbientC, CopperTolerance.Usual));
                foreach (var net in altered.Nets)
                {
                    foreach (var (a, b) in drawn.SkeletonOf(net).Points.Select(p => p.Point).ToList() is var points ? points.Zip(points.Skip(1)) : [])
                    {
                        if (!altered.Keeps(Located.Of(drawn, Observation.Of(a, b, null))))
                        {
                            continue;
                        }

                        kept++;
                        var before = sound.NetOf(a)!.Between(a, b, Corner.Nominal);
                        if (built.NetOf(a) is not { } with || !with.Points.Contains(b) || Math.Abs(with.Between(a, b, Corner.Nominal) - before) > 1e-9)
                        {
                            return false;
                        }
                    }
                }

                return true;
            },
            iter: 150);
        kept.ShouldBeGreaterThan(100);
    }
}
