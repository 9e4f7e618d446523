using System.Collections.Immutable;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>Where along two wires metal joins them, from readings through it at both ends (the loop method).</summary>
/// <remarks>
/// With t the share of the way along a wire of ρ ohms between nodes u and v of a net, a point x of the net reads
/// (1−t)·R(x,u) + t·R(x,v) + t(1−t)·(ρ − R(u,v)) to that place. A reading through the bridge is such a way on either side and the bridge between them; places and
/// bridge are fitted to all of them by least squares, on a grid that is halved around its best.
/// </remarks>
internal sealed class AlongTheWay(DrawnLoom drawn, Evidence evidence)
{
    /// <summary>Without a value through the bridge nothing says where it is; three place it, since two places and the bridge itself are asked for.</summary>
    private const int LeastValues = 1;

    /// <summary>Pairs of wires that are tried, and that are told.</summary>
    private const int MostTried = 1500, MostTold = 6;

    private const int Grid = 10, Halvings = 6;

    /// <summary>For two nets, each pair of their wires; worked out once.</summary>
    private readonly Dictionary<(int A, int B), List<Placed>> fits = [];

    /// <summary>What the copper on a way is off by, squared ohms: half a milliohm.</summary>
    private const double CopperVariance = 2.5e-7;

    /// <summary>Best places along the wires of two nets; none where the readings cannot say.</summary>
    /// <returns>Each with the logarithm of what finding the places costs: how narrow the fit is, as a share of both wires and of all pairs of wires. The few that are told stand for all that fit.</returns>
    internal IEnumerable<(ShortFault Fault, double LogWidth)> Between(int a, int b)
    {
        var all = Fits(a, b);
        if (all.Count == 0)
        {
            return [];
        }

        double Mass(Placed fit) => fit.Width * Math.Exp(-0.5 * (fit.Misfit - all[0].Misfit));
        var stand = Math.Log(all.Sum(Mass) / all.Take(MostTold).Sum(Mass) / all.Count);
        return all.Take(MostTold).Select(f => (f.Fault, Math.Log(f.Width) + stand));
    }

    /// <summary>Each pair of wires of the nets of a bridge, with the place along them that fits best; the best first.</summary>
    internal IEnumerable<ShortFault> Elsewhere(ShortFault bridge)
    {
        var nets = drawn.NetsOf([bridge]).Order().ToList();
        return nets is [var a, var b] ? Fits(a, b).Select(f => f.Fault) : [];
    }

    private List<Placed> Fits(int a, int b)
    {
        if (!fits.TryGetValue((a, b), out var known))
        {
            fits.Add((a, b), known = AllFits(a, b));
        }

        return known;
    }

    private List<Placed> AllFits(int a, int b)
    {
        var values = evidence.Touching([a, b], []).Select(o => Through(o, a, b)).OfType<Value>().ToList();
        var pairs = from one in drawn.WiresOf(a) from other in drawn.WiresOf(b) orderby IsBeside(one, other) ? 0 : 1 select (one, other);
        return values.Count < LeastValues ? [] : [.. pairs.Take(MostTried).Select(p => Fit(p.one, p.other, values)).OrderBy(f => f.Misfit)];
    }

    /// <summary>How well the places of a bridge between two wires are known, millimetres: one standard deviation along either.</summary>
    internal (double A, double B)? Spread(ShortFault bridge)
    {
        if (drawn.Loom.FindWire(bridge.A) is not { } one || drawn.Loom.FindWire(bridge.B) is not { } other)
        {
            return null;
        }

        var (a, b) = (drawn.NetOfWire(one), drawn.NetOfWire(other));
        var fit = Fit(one, other, [.. evidence.Touching([a, b], []).Select(o => Through(o, a, b)).OfType<Value>()]);
        return (fit.SdA * one.LengthMm, fit.SdB * other.LengthMm);
    }

    private static bool IsBeside(Wire one, Wire other)
    {
        static string At(WireEnd end) => end.IsSplice ? end.Text : end.Point.Connector;
        return new[] { At(one.From), At(one.To) }.Intersect([At(other.From), At(other.To)]).Any();
    }

    /// <summary>A reading between a point of the first net and one of the second.</summary>
    private Value? Through(Observation seen, int a, int b)
    {
        if (seen is not { Moved: false, A: [var x] } || seen.B is { Length: > 1 } || !Evidence.IsJoined(seen))
        {
            return null;
        }

        var (y, on) = (seen.B is [var point] ? point : (ProbePoint?)null, drawn.NetOf(x));
        var far = y is { } other ? drawn.NetOf(other) : on == a ? b : a;
        return (on == a && far == b) || (on == b && far == a)
            ? new(on == a ? x : y, on == a ? y : x, seen.Ohm!.Value - evidence.LeadsOf(seen), 1 / (Math.Pow(evidence.Noise(seen), 2) + CopperVariance))
            : null;
    }

    private Placed Fit(Wire one, Wire other, List<Value> values)
    {
        var (wayA, wayB) = (Ways(one, values.ConvertAll(v => v.A)), Ways(other, values.ConvertAll(v => v.B)));
        (double Misfit, double Ohm) At(double t, double s)
        {
            var (weights, sum, squares) = (0.0, 0.0, 0.0);
            for (var i = 0; i < values.Count; i++)
            {
                var rest = values[i].Ohm - wayA[i](t) - wayB[i](s);
                (weights, sum, squares) = (weights + values[i].Weight, sum + (values[i].Weight * rest), squares + (values[i].Weight * rest * rest));
            }

            var ohm = Math.Max(0, sum / weights);
            return (squares - (2 * ohm * sum) + (ohm * ohm * weights), ohm);
        }

        var (best, step) = ((T: 0.5, S: 0.5, Misfit: double.PositiveInfinity), 1.0 / Grid);
        var grid = new List<double>();
        for (var round = 0; round <= Halvings; round++)
        {
            var (from, reach) = (best, round == 0 ? Grid / 2 : 2);
            for (var i = -reach; i <= reach; i++)
            {
                for (var j = -reach; j <= reach; j++)
                {
                    var (t, s) = (Math.Clamp(from.T + (i * step), 0, 1), Math.Clamp(from.S + (j * step), 0, 1));
                    var misfit = At(t, s).Misfit;
                    if (round == 0)
                    {
                        grid.Add(misfit);
                    }

                    if (misfit < best.Misfit)
                    {
                        best = (t, s, misfit);
                    }
                }
            }

            step /= 2;
        }

        // One standard deviation is where the misfit has grown by one.
        const double little = 0.02;
        double Sd(double low, double high) => little / Math.Sqrt(Math.Max(1e-9, (low + high - (2 * best.Misfit)) / 2));
        var fault = new ShortFault(one.Id, other.Id, At(best.T, best.S).Ohm) { AlongMm = [Math.Round(best.T * one.LengthMm), Math.Round(best.S * other.LengthMm)] };
        var (sdA, sdB) = (Sd(At(best.T - little, best.S).Misfit, At(best.T + little, best.S).Misfit), Sd(At(best.T, best.S - little).Misfit, At(best.T, best.S + little).Misfit));

        // Where a valley of places fits, the share of the grid that does; where one place does, its own width.
        var valley = grid.Average(m => Math.Exp(-0.5 * Math.Min(1000, m - best.Misfit)));
        return new(fault, best.Misfit, sdA, sdB, Math.Clamp(Math.Max(valley, 2 * Math.PI * Math.Clamp(sdA, 0, 0.4) * Math.Clamp(sdB, 0, 0.4)), 1e-6, 1));
    }

    /// <summary>For each point: ohms from it to a place along the wire.</summary>
    private List<Func<double, double>> Ways(Wire wire, List<ProbePoint?> points)
    {
        var net = drawn.AsDrawn(drawn.NetOfWire(wire));
        var (from, to, whole) = (wire.From.Text, wire.To.Text, drawn.PartOf(drawn.PlaceOf(wire.Id)).Mean);
        var across = net.Ohms(from, to) ?? whole;
        var scale = Measured(wire) is { } measured && drawn.WiresOf(drawn.NetOfWire(wire)).Length == 1 ? measured / across : 1;
        var number = drawn.NetOfWire(wire);
        var joined = points.Contains(null) ? net.WithPointsJoined(number) : null;
        return points.ConvertAll<Func<double, double>>(p =>
        {
            var at = (p ?? drawn.SkeletonOf(number).Points[0].Point).ToString();
            double Ohms(string a, string b) => p is null ? joined!(a, b) : net.Ohms(a, b) ?? 0;
            var (near, far, own) = (Ohms(at, from), Ohms(at, to), p is null ? joined!(from, to) : across);
            return t => scale * (((1 - t) * near) + (t * far) + (t * (1 - t) * (whole - own)));
        });
    }

    /// <summary>What a wire read from end to end; null when it did not. A bridge to another circuit does not change that.</summary>
    private double? Measured(Wire wire) => wire.From.IsSplice || wire.To.IsSplice ? null
        : evidence.Touching([drawn.NetOfWire(wire)], []).FirstOrDefault(o => !o.Moved && Evidence.IsJoined(o) && o is { A: [var a], B: [var b] } && ((a == wire.From.Point && b == wire.To.Point) || (b == wire.From.Point && a == wire.To.Point))) is { } seen
            ? seen.Ohm!.Value - evidence.LeadsOf(seen) : null;

    /// <summary>The best places along two wires.</summary>
    /// <param name="SdA">One standard deviation along the first, as a share of it.</param>
    /// <param name="Width">What share of both wires fits as well.</param>
    private sealed record Placed(ShortFault Fault, double Misfit, double SdA, double SdB, double Width);

    /// <param name="A">On the first net; null for all its points, joined.</param>
    /// <param name="B">On the second, likewise.</param>
    /// <param name="Weight">One over the meter's noise squared.</param>
    private sealed record Value(ProbePoint? A, ProbePoint? B, double Ohm, double Weight);
}
