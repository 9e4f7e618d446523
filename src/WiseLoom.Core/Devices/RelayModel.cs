using System.Collections.Immutable;

namespace WiseLoom.Core.Devices;

/// <summary>A contact of a relay, by names of pins.</summary>
/// <param name="Working">Joined to <paramref name="Common"/> while the coil is pulled in; null when there is none.</param>
/// <param name="Resting">Joined to <paramref name="Common"/> while it is not; null when there is none.</param>
public sealed record RelayContact(string Common, string? Working, string? Resting);

/// <summary>A coil and the contacts it moves. It pulls in at <paramref name="PullInVolts"/> and lets go at <paramref name="DropOutVolts"/>; between them it stays as it was.</summary>
/// <param name="Contact">What a closed contact measures.</param>
/// <param name="CoilDiode">A diode lies across the coil, its cathode at <c>coil+</c>.</param>
/// <param name="CoilResistor">A resistor across the coil; null when there is none.</param>
public sealed record RelayModel(
    OhmRange Coil, double PullInVolts, double DropOutVolts, OhmRange Contact, ImmutableArray<RelayContact> Contacts, bool CoilDiode, OhmRange? CoilResistor) : DeviceModel
{
    /// <inheritdoc/>
    internal override DeviceModel Measuring(double ohm) => this with { Coil = OhmRange.Exactly(ohm) };

    /// <inheritdoc/>
    internal override DeviceModel AtCorner(Corner corner) => this with { Coil = OhmRange.Exactly(Coil.At(corner)), Contact = OhmRange.Exactly(Contact.At(corner)) };

    /// <inheritdoc/>
    internal override IEnumerable<string> OwnPins => Contacts.SelectMany(c => new[] { c.Common, c.Working, c.Resting }).OfType<string>();

    /// <inheritdoc/>
    internal override IEnumerable<RestingPart> AtRest(RestingState at) =>
    [
        new("coil+", "coil-", Coil),
        .. CoilResistor is { } beside ? [new RestingPart("coil+", "coil-", beside)] : Array.Empty<RestingPart>(),
        .. CoilDiode ? [new RestingPart("coil-", "coil+", default, DiodeModel.Usual)] : Array.Empty<RestingPart>(),
        .. Contacts.Where(c => c.Resting is not null).Select(c => new RestingPart(c.Common, c.Resting!, Contact) { NeedsBoth = true }),
    ];
}

/// <summary>Relays. The numbers of pins are the terminal numbers of DIN 72552.</summary>
internal static class RelayKind
{
    /// <summary>The kind in files.</summary>
    internal static DeviceKind Kind { get; } = new("relay", false, e => Read(e.Place, e.Pins, e.SupplyVolts),
        ["coil+", "coil +", "coil 1", "coil1", "86"], ["coil-", "coil -", "coil−", "coil 2", "coil2", "85"],
        ["contact in", "common", "in", "30"], ["contact out", "out", "normally open", "no", "87"], ["contact rest", "rest", "normally closed", "nc", "87a"]);

    private static RelayModel Read(JsonPlace place, IReadOnlyCollection<string> pins, double supplyVolts)
    {
        var pullIn = place.Number("pullInVolts", 0, 1000, unit: "volts") ?? 0.6 * supplyVolts;
        var dropOut = place.Number("dropOutVolts", 0, 1000, unit: "volts") ?? 0.1 * supplyVolts;
        if (dropOut > pullIn)
        {
            place.Wrong("dropOutVolts", "A relay lets go at a lower voltage than it pulls in at: dropOutVolts is at most pullInVolts.");
        }

        var contacts = ImmutableArray.CreateBuilder<RelayContact>();
        foreach (var contact in place.Objects("contacts"))
        {
            string? Pin(string field)
            {
                var name = contact.Text(field);
                if (name is not null && !pins.Contains(name))
                {
                    contact.Wrong(field, $"'{name}' is no pin of this relay; its pins are {string.Join(", ", pins)}.");
                    return null;
                }

                return name;
            }

            if (Pin("common") is { } common)
            {
                contacts.Add(new(common, Pin("working"), Pin("resting")));
            }
            else if (!contact.Has("common"))
            {
                contact.Wrong("common", "Missing. The pin that a contact starts from is needed here.");
            }
        }

        var coil = place.Range("coilOhm", 1, "ohms") ?? OhmRange.Exactly(90);
        if (coil.Min <= 0)
        {
            place.Wrong("coilOhm", "A coil has more than 0 Ω.");
        }

        return new(
            coil, pullIn, dropOut, place.Range("contactMilliohm", 0.001, "milliohms") ?? OhmRange.Exactly(0.02),
            contacts.Count > 0 ? contacts.ToImmutable() : [new("contact in", "contact out", "contact rest")],
            place.Flag("coilDiode") ?? false, place.Range("coilResistorOhm", 1, "ohms"));
    }
}
