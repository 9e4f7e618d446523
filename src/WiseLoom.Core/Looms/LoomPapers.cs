using System.Collections.Immutable;

namespace WiseLoom.Core.Looms;

/// <summary>Why a thing is told of beside a loom.</summary>
public enum BoxKind
{
    /// <summary>Lies in the box and is new: the loom, an adapter, spare contacts, papers.</summary>
    Packed,

    /// <summary>Belongs to the customer and comes back.</summary>
    Returned,

    /// <summary>Was taken out and a new part stands in its place.</summary>
    Replaced,

    /// <summary>Was kept as it was, though not new.</summary>
    Reused,

    /// <summary>Is not in the box; the customer has to have it.</summary>
    Supply,
}

/// <summary>A thing of the packing list.</summary>
/// <param name="Count">How many; 1 and more.</param>
/// <param name="Years">How old it is, years; null where nobody says.</param>
/// <param name="Note">The reason of a part that was replaced, which end of an adapter is which, how brittle an old part is; null for nothing.</param>
public sealed record BoxItem(string Id, string Title, BoxKind Kind, int Count, double? Years, string? Note);

/// <summary>A step of fitting a loom that only the shop knows.</summary>
/// <param name="Do">What to do, in words.</param>
/// <param name="Branch">The branch it is about; null for the whole loom.</param>
public sealed record FittingStep(string Id, string Do, string? Branch);

/// <summary>A way of reading a controller's codes.</summary>
/// <param name="Socket">Ref of the connector that it is read at; null where there is none.</param>
/// <param name="Bridge">Two cavities that are bridged; empty where a tool is needed.</param>
/// <param name="How">How, in words: the tool, or how the flashes are counted.</param>
public sealed record CodeReading(string Id, string? Socket, ImmutableArray<ProbePoint> Bridge, string How);
