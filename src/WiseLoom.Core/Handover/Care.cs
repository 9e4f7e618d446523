using System.Collections.Immutable;

namespace WiseLoom.Core.Handover;

/// <summary>Cautions that stand before the work.</summary>
public static class Care
{
    /// <summary>For the person who installs the loom.</summary>
    public static ImmutableArray<string> BeforeInstalling =>
    [
        Words.Text("Disconnect the battery before you plug in, unplug or repair anything, and keep it off until every connector of the walk is in its place."),
        Words.Text("First power goes through a fuse, and through a current-limited supply if you have one. A dead short through a wire is a fire."),
        Words.Text("Never apply power to a pin whose kind you do not know."),
        Words.Text("Unplug all controllers before any insulation test. Measure nothing on airbag or seat-belt tensioner circuits."),
        Words.Text("Coils and injector drivers carry voltages that can injure: key off before you touch their connectors."),
        Words.Text("Fuel under rail pressure can pierce skin. Check that fuel lines are tight and that an extinguisher is at hand before the pump runs."),
        Words.Text("Keep hair and sleeves away from belts and fans; protect eyes and ears; lead exhaust gas outside."),
        Words.Text("Where local rules or a licensed person must decide, they decide."),
    ];

    /// <summary>For the technician, before a run at the bench.</summary>
    public static ImmutableArray<string> BeforeBench { get; } =
    [
        "The loom is on the bench with nothing plugged in and no supply connected.",
        "Controllers are unplugged before anything is measured for isolation.",
        "No resistance or insulation test on airbag or seat-belt tensioner circuits.",
    ];

    /// <summary>For the technician, before a current is sent through a pair.</summary>
    public static ImmutableArray<string> BeforeLoad { get; } =
    [
        "Nothing plugged in: never through a controller.",
        "Fuse of 10 A or less.",
        "The load gets hot: let it hang free.",
        "Clips beside the probes, not under them.",
    ];
}
