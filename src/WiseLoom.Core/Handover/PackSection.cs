using System.Collections.Immutable;

namespace WiseLoom.Core.Handover;

/// <summary>A part of a pack. A new one is a row here and a template of its name beside the others.</summary>
/// <param name="Id">Its anchor, and the name of its template.</param>
/// <param name="MayBeLeftOut">Whether a shop may leave it out of its packs; what was tested and found is always told.</param>
public sealed record PackSection(string Id, string Title, bool MayBeLeftOut)
{
    /// <summary>Whether a pack has something for it.</summary>
    internal Func<PackModel, bool> IsIn { get; private init; } = _ => true;

    /// <summary>All, in the order of a pack.</summary>
    public static ImmutableArray<PackSection> All { get; } =
    [
        new("questions", "Open questions", false) { IsIn = p => !p.Questions.IsDefaultOrEmpty },
        new("changes", "Changed since the last pack", true) { IsIn = p => !p.Changes.IsDefaultOrEmpty },
        new("box", "What is in the box", true) { IsIn = p => !p.Box.IsDefaultOrEmpty || p.WeightKg is not null || !p.BoxPhotos.IsDefaultOrEmpty },
        new("connect", "What you connect", true) { IsIn = p => p.Papers is { Connects.IsEmpty: false } },
        new("walk", "The walk, connector by connector", false),
        new("options", "Options: what is there and not used", true) { IsIn = p => !p.Options.IsDefaultOrEmpty },
        new("fitting", "Order of fitting", true) { IsIn = p => !p.Fitting.IsDefaultOrEmpty },
        new("first", "First start", true) { IsIn = p => p.Papers is not null },
        new("trouble", "If something does not work", true) { IsIn = p => p.Papers is not null },
        new("codes", "Reading codes", true) { IsIn = p => !p.CodeReadings.IsDefaultOrEmpty || p.Papers is { Codes.IsEmpty: false } },
        new("how", "How it works", true) { IsIn = p => p.Papers is { How.IsEmpty: false } },
        new("fuses", "Fuses and relays", true) { IsIn = p => p.Papers is { Fuses.IsEmpty: false } },
        new("mixups", "Plugs that fit into each other’s place", true) { IsIn = p => p.Papers is { MixUps.IsEmpty: false } },
        new("settings", "Settings sheet", true) { IsIn = p => !p.Settings.IsDefaultOrEmpty },
        new("minimum", "The fewest leads to run", true) { IsIn = p => p.Papers is { Minimum.Feed.IsEmpty: false } },
        new("functions", "Wires by function", true),
        new("power", "Power-up", false) { IsIn = p => p.PowerUp is not null },
        new("faults", "Faults found and fixed", false),
        new("decisions", "Let pass by the shop", false) { IsIn = p => !p.Decisions.IsDefaultOrEmpty },
        new("earlier", "Runs that were set aside", false) { IsIn = p => !p.Earlier.IsDefaultOrEmpty },
        new("record", "Test record", false),
    ];

    /// <summary>Those of one pack.</summary>
    internal static IEnumerable<PackSection> Of(PackModel pack) => All.Where(s => s.IsIn(pack) && !(s.MayBeLeftOut && pack.LeftOut.Contains(s.Id)));
}
