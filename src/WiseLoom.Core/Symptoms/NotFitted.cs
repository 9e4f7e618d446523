using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.States;

namespace WiseLoom.Core.Symptoms;

/// <summary>A relay that is not in its socket, or does nothing in it.</summary>
public sealed record NotFitted(string Device) : Break
{
    /// <inheritdoc/>
    public override string Id => $"without {Device}";

    internal override double Weight => 3;

    internal override double Minutes(Loom loom) => 1;

    /// <inheritdoc/>
    public override string Title(Loom loom) => Words.Of($"{Relay(loom).Title} is not in its socket, or does nothing");

    /// <inheritdoc/>
    public override string? Look(Loom loom) => Words.Of($"Key off. Push {Relay(loom).Title} home; then put one of the same kind in its place.");

    /// <inheritdoc/>
    public override IEnumerable<string> Places => [Device];

    // Coil and contacts are parts of their own: whatever flows may be theirs.
    internal override IReadOnlyCollection<string> Parts(Loom loom) => [.. loom.Wires.Select(w => w.Id)];

    internal override AsBuilt In(AsBuilt sound) => sound.Without(Device);

    /// <summary>Every relay of a loom.</summary>
    internal static IEnumerable<NotFitted> OfRelays(Loom loom) => loom.Devices.Where(d => d.Model is RelayModel && d.IsFitted).Select(d => new NotFitted(d.Ref));

    private Device Relay(Loom loom) => loom.Devices.First(d => d.Ref == Device);
}
