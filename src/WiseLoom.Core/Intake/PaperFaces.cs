using System.Collections.Immutable;
using System.Text.Json.Nodes;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>A connector that comes out of papers.</summary>
/// <param name="Title">As the papers call it.</param>
/// <param name="Pins">Those that occur.</param>
/// <param name="Family">Id of the family it has in the loom.</param>
/// <param name="IsConfirmed">Whether a person chose its face.</param>
/// <param name="Fits">Ids of the shop's families that have all its pins, the smallest first.</param>
public sealed record FoundConnector(string Ref, string Title, ImmutableArray<string> Pins, string Family, bool IsConfirmed, ImmutableArray<string> Fits);

/// <summary>Gives each connector of papers a face: the one that a person chose, or one made from the pins that occur.</summary>
internal sealed class PaperFaces(IntakeSaid said, IntakeMemory memory)
{
    /// <summary>So many families of the shop are offered for one connector.</summary>
    private const int MostOffered = 12;

    private readonly Dictionary<string, JsonObject> families = new(StringComparer.Ordinal);
    private readonly Dictionary<string, ImmutableArray<string>> cavitiesOf = new(StringComparer.Ordinal);

    internal IEnumerable<JsonNode> Families => families.Values;

    /// <summary>How many faces nobody has confirmed.</summary>
    internal int Unconfirmed => families.Values.Count(f => f["confirmed"] is { } confirmed && !confirmed.GetValue<bool>());

    internal FoundConnector For(string reference, string title, ImmutableArray<string> pins)
    {
        ImmutableArray<string> fits = [.. memory.Families.Where(f => pins.All(f.Family.HasCavity)).OrderBy(f => f.Family.Cavities.Length).ThenBy(f => f.Family.Title, NaturalOrder.Comparer).Take(MostOffered).Select(f => f.Family.Id)];
        var chosen = said.Faces?.GetValueOrDefault(reference);
        if (chosen is { Length: > 0 } && memory.Families.FirstOrDefault(f => f.Family.Id == chosen && pins.All(f.Family.HasCavity)) is { } own)
        {
            families[own.Family.Id] = own.Body.DeepClone().AsObject();
            cavitiesOf[own.Family.Id] = own.Family.Cavities;
            return new(reference, title, pins, own.Family.Id, true, fits);
        }

        var cavities = MadeFamily.Cavities(pins);
        var confirmed = chosen is "" || cavities.Length == 1;
        var first = $"{MadeFamily.Id(cavities)}{(confirmed && cavities.Length > 1 ? "-seen" : "")}";
        var id = first;
        for (var n = 2; cavitiesOf.TryGetValue(id, out var there) && !there.SequenceEqual(cavities); n++)
        {
            id = $"{first}-{n}";
        }

        if (cavitiesOf.TryAdd(id, cavities))
        {
            families[id] = MadeFamily.Write(id, cavities, confirmed);
        }

        return new(reference, title, pins, id, confirmed, fits);
    }
}
