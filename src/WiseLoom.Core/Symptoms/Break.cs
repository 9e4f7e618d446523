using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Symptoms;

/// <summary>Something that a customer can meet: one part of a loom that is off, out or broken while all else is as drawn.</summary>
public abstract record Break
{
    /// <summary>Stable name, unique among the breaks of a loom: <c>open W12</c>.</summary>
    public abstract string Id { get; }

    /// <summary>How often it is met beside other breaks: a plug that was left off far oftener than a wire that broke.</summary>
    internal abstract double Weight { get; }

    /// <summary>What looking at it takes, minutes.</summary>
    internal abstract double Minutes(Loom loom);

    /// <summary>What it is, in words: <c>plug INJ3 is off</c>.</summary>
    public abstract string Title(Loom loom);

    /// <summary>Where to look for it without a meter; null where looking tells nothing.</summary>
    public abstract string? Look(Loom loom);

    /// <summary>Places that it touches: refs of connectors and devices, ids of wires.</summary>
    public abstract IEnumerable<string> Places { get; }

    /// <summary>Where a meter is held for it, when looking tells nothing.</summary>
    internal virtual IEnumerable<WireEnd> Ends(Loom loom) => [];

    /// <summary>Ids of wires and refs of devices through which it lets nothing flow.</summary>
    internal abstract IReadOnlyCollection<string> Parts(Loom loom);

    /// <summary>The loom with it.</summary>
    internal abstract AsBuilt In(AsBuilt sound);

    /// <summary>Every single break of a loom: each wire open, each connector off, each fuse blown.</summary>
    public static ImmutableArray<Break> All(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        return
        [
            .. loom.Connectors.Where(c => c.Family.Cavities.Any(cavity => loom.WiresAt(new(c.Ref, cavity)).Any())).Select(c => new Unplugged(c.Ref)),
            .. loom.Devices.Where(d => d.Model is FuseModel).Select(d => new Blown(d.Ref)),
            .. loom.Wires.Select(w => new OpenWire(w.Id)),
        ];
    }
}

/// <summary>A wire that conducts no longer.</summary>
public sealed record OpenWire(string Wire) : Break
{
    /// <inheritdoc/>
    public override string Id => $"open {Wire}";

    internal override double Weight => 1;

    internal override double Minutes(Loom loom) => 6;

    /// <inheritdoc/>
    public override string Title(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        var wire = loom.FindWire(Wire)!;
        return Words.Of($"wire {Wire} ({wire.From.Text} to {wire.To.Text}{(wire.Circuit is { } circuit ? $", {circuit}" : "")}) is broken");
    }

    /// <inheritdoc/>
    public override string? Look(Loom loom) => null;

    /// <inheritdoc/>
    public override IEnumerable<string> Places => [Wire];

    internal override IEnumerable<WireEnd> Ends(Loom loom) => loom.FindWire(Wire) is { } wire ? [wire.From, wire.To] : [];

    internal override IReadOnlyCollection<string> Parts(Loom loom) => [Wire];

    internal override AsBuilt In(AsBuilt sound) => sound with { Conductors = [.. sound.Conductors.Where(c => c.Label != Wire)] };
}

/// <summary>A fuse that is blown, or not in its holder.</summary>
public sealed record Blown(string Device) : Break
{
    /// <inheritdoc/>
    public override string Id => $"blown {Device}";

    internal override double Weight => 6;

    internal override double Minutes(Loom loom) => 1;

    /// <inheritdoc/>
    public override string Title(Loom loom) => Words.Of($"{Fuse(loom).Title} is blown, or not in its holder");

    /// <inheritdoc/>
    public override string? Look(Loom loom) =>
        Words.Of($"Key off. Pull {Fuse(loom).Title}{(Fuse(loom).Model is FuseModel { Amps: var amps } ? $" ({Words.Figure(amps, "0.##")} A)" : "")} and look through it: is its bridge whole? Push it back, or one of the same rating.");

    /// <inheritdoc/>
    public override IEnumerable<string> Places => [Device];

    internal override IReadOnlyCollection<string> Parts(Loom loom) => [Device];

    internal override AsBuilt In(AsBuilt sound) => sound.Without(Device);

    private Device Fuse(Loom loom) => loom.Devices.First(d => d.Ref == Device);
}

/// <summary>A plug that is off, a ring that is loose, a tail that is not joined.</summary>
public sealed record Unplugged(string Connector) : Break
{
    /// <inheritdoc/>
    public override string Id => $"unplugged {Connector}";

    internal override double Weight => 8;

    internal override double Minutes(Loom loom) => loom.Connector(Connector).Family.Kind == HousingKind.Ring ? 2 : 1;

    /// <inheritdoc/>
    public override string Title(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        var connector = loom.Connector(Connector);
        return connector.Family.Kind switch
        {
            HousingKind.Ring => Words.Of($"ring {Connector} ({connector.Title}) is off or loose"),
            HousingKind.Tail => Words.Of($"tail {Connector} ({connector.Title}) is not joined"),
            HousingKind.Inline => Words.Of($"the halves of {Connector} ({connector.Title}) are apart"),
            _ => Words.Of($"plug {Connector} ({connector.Title}) is off, or not home"),
        };
    }

    /// <inheritdoc/>
    public override string? Look(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        var connector = loom.Connector(Connector);
        var where = connector.Place is { } place ? $" ({place.TrimEnd('.')})" : "";
        return connector.Family.Kind switch
        {
            HousingKind.Ring => Words.Of($"Key off. Is ring {Connector}{where} bolted to bare metal, and tight?"),
            HousingKind.Tail => Words.Of($"Key off. Is tail {Connector}{where} joined, and does the joint hold when it is pulled?"),
            HousingKind.Inline => Words.Of($"Key off. Are the halves of {Connector}{where} home and latched?"),
            _ => Words.Of($"Key off. Is plug {Connector}{where} home and latched? Pull at it: it must not come off."),
        };
    }

    /// <inheritdoc/>
    public override IEnumerable<string> Places => [Connector];

    internal override IReadOnlyCollection<string> Parts(Loom loom) =>
        [.. loom.Connector(Connector).Family.Cavities.SelectMany(c => loom.WiresAt(new(Connector, c))).Select(w => w.Id).Distinct(StringComparer.Ordinal)];

    internal override AsBuilt In(AsBuilt sound)
    {
        // What lies in one cavity stays joined; only the halves of an inline pair part from each other.
        var apart = sound.Drawn.Connector(Connector).Family.Kind == HousingKind.Inline;
        string End(string end, string label, string side) => ProbePoint.TryParse(end, out var point) && point.Connector == Connector ? $"{end}~off{(apart ? $"~{label}{side}" : "")}" : end;
        return sound with { Conductors = [.. sound.Conductors.Select(c => c with { From = End(c.From, c.Label, "<"), To = End(c.To, c.Label, ">") })] };
    }
}
