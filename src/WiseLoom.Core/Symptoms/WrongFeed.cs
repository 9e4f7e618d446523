using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Symptoms;

/// <summary>A feed that is taken from another terminal of the key than drawn.</summary>
/// <param name="Key">Ref of the key switch.</param>
/// <param name="Pin">Its terminal that the feed should come from: joined to the battery with the key on and while cranking.</param>
/// <param name="Always">Whether the terminal it is taken from has supply always; else it has none while cranking.</param>
public sealed record WrongFeed(string Key, string Pin, bool Always) : Break
{
    /// <inheritdoc/>
    public override string Id => $"{(Always ? "always" : "drops")} {Key}.{Pin}";

    internal override double Weight => 3;

    internal override double Minutes(Loom loom) => 4;

    /// <inheritdoc/>
    public override string Title(Loom loom) => Always
        ? Words.Of($"the feed at {At(loom)} is taken from a terminal that is never off")
        : Words.Of($"the feed at {At(loom)} is taken from a terminal that drops while cranking");

    /// <inheritdoc/>
    public override string? Look(Loom loom) => null;

    /// <inheritdoc/>
    public override IEnumerable<string> Places => [Key];

    internal override IEnumerable<WireEnd> Ends(Loom loom) => Pins(loom).Select(WireEnd.At);

    internal override IReadOnlyCollection<string> Parts(Loom loom) => Always
        // What has supply where nothing had any may move anything.
        ? [.. loom.Wires.Select(w => w.Id)]
        : [.. Pins(loom).SelectMany(loom.WiresAt).Select(w => w.Id)];

    internal override AsBuilt In(AsBuilt sound) => sound with { Drawn = sound.Drawn with { Devices = [.. sound.Drawn.Devices.Select(d => d.Ref == Key && d.Model is KeyModel key ? d with { Model = Turned(key) } : d)] } };

    /// <summary>All that a customer can bring about at the keys of a loom.</summary>
    /// <param name="off">The loom with the key off: what has supply then is no feed of the key.</param>
    internal static IEnumerable<WrongFeed> OfKeys(Loom loom, BareState? off) =>
        from device in loom.Devices
        let key = device.Model as KeyModel
        where key is not null
        from pin in device.Pins.Keys
        let point = device.Pins[pin]
        where Source(key, pin) is not null && loom.WiresAt(point).Any() && off is not null && Math.Abs(off.Volts(point.ToString())) < 0.5 * loom.SupplyVolts
        from feed in ImmutableArray.Create(new WrongFeed(device.Ref, pin, false), new WrongFeed(device.Ref, pin, true))
        select feed;

    /// <summary>The terminal by which another gets its supply with the key on and while cranking; null where it does not, or has it at off.</summary>
    private static string? Source(KeyModel key, string pin)
    {
        ImmutableArray<string> At(KeyPosition position) => [.. key.Joins.GetValueOrDefault(position, []).Where(g => g.Contains(pin)).SelectMany(g => g).Where(p => p != pin)];
        return At(KeyPosition.Off).IsEmpty
            ? At(KeyPosition.On).Intersect(At(KeyPosition.Start)).FirstOrDefault(p => key.Joins.Values.SelectMany(g => g).All(g => g.Length < 2 || g.Contains(p)))
            : null;
    }

    private KeyModel Turned(KeyModel key) => key with
    {
        Joins = Always
            ? key.Joins.SetItem(KeyPosition.Off, Feeding(key, KeyPosition.Off)).SetItem(KeyPosition.Accessory, Feeding(key, KeyPosition.Accessory))
            : key.Joins.SetItem(KeyPosition.Start, [.. key.Joins[KeyPosition.Start].Select(g => g.Remove(Pin))]),
    };

    private ImmutableArray<ImmutableArray<string>> Feeding(KeyModel key, KeyPosition position) => [.. key.Joins.GetValueOrDefault(position, []), [Source(key, Pin)!, Pin]];

    private IEnumerable<ProbePoint> Pins(Loom loom) => loom.Devices.Where(d => d.Ref == Key).SelectMany(d => d.Pins.Where(p => p.Key == Pin).Select(p => p.Value));

    private string At(Loom loom) => string.Join(", ", Pins(loom));
}
