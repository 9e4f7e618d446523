using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Symptoms;

/// <summary>Two plugs of the same housing, each pushed into the other's place.</summary>
public sealed record Exchanged(string One, string Other) : Break
{
    /// <inheritdoc/>
    public override string Id => $"exchanged {One} {Other}";

    internal override double Weight => 2;

    internal override double Minutes(Loom loom) => 1;

    /// <inheritdoc/>
    public override string Title(Loom loom) => Words.Of($"plugs {One} and {Other} are exchanged");

    /// <inheritdoc/>
    public override string? Look(Loom loom) => Words.Of($"Read the labels of {One} and {Other}, and follow each to its place.");

    /// <inheritdoc/>
    public override IEnumerable<string> Places => [One, Other];

    internal override IReadOnlyCollection<string> Parts(Loom loom) => [.. new Unplugged(One).Parts(loom), .. new Unplugged(Other).Parts(loom)];

    internal override AsBuilt In(AsBuilt sound)
    {
        string End(string end) => !ProbePoint.TryParse(end, out var point) ? end
            : point.Connector == One ? new ProbePoint(Other, point.Cavity).ToString()
            : point.Connector == Other ? new ProbePoint(One, point.Cavity).ToString() : end;
        return sound with { Conductors = [.. sound.Conductors.Select(c => c with { From = End(c.From), To = End(c.To) })] };
    }
}
