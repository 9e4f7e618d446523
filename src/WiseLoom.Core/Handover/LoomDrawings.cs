using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Handover;

/// <summary>Drawings that stand on their own: SVG files for papers and other programs.</summary>
public static class LoomDrawings
{
    private const string Style = """
        <style>text{font-family:Verdana,sans-serif;text-anchor:middle;fill:#221e19;font-size:11px}.trunk{stroke:#96441a;stroke-width:8}.branch{fill:none;stroke:#8a7c64;stroke-width:1.5}
        .tag{fill:#fbf6ea;stroke:#8a7c64;stroke-width:1.5}.number{font-size:10px;fill:#5b5144}.mark rect{fill:#221e19}.shell{fill:#e6dac0;stroke:#221e19;stroke-width:1.5}
        .cavity{fill:#fbf6ea;stroke:#8a7c64}.unwired{fill:none;stroke-dasharray:3 2}.band{fill:none;stroke:#221e19;stroke-width:.6}</style>
        """;

    /// <summary>The trunk to scale with every connector, as an SVG file.</summary>
    public static string Stem(Loom loom) => Alone(StemSvg.Draw(StemLayout.Of(loom)));

    /// <summary>One face of a connector, as an SVG file.</summary>
    /// <exception cref="KeyNotFoundException">The loom has no such connector.</exception>
    public static string Face(Loom loom, string connector, FaceSide side)
    {
        var stop = WalkStop.Of(loom, loom.AmbientC, CopperTolerance.Usual, withReadings: false).FirstOrDefault(s => s.Connector.Ref == connector)
            ?? throw new KeyNotFoundException($"The loom has no connector '{connector}'.");
        return Alone(FaceSvg.Draw(stop, side == FaceSide.MatingFace ? stop.MatingFace : stop.WireSide));
    }

    /// <summary>Part of a page made into a file: with its name space and its style.</summary>
    private static string Alone(string svg) =>
        svg.Insert(svg.IndexOf('>', StringComparison.Ordinal) + 1, Style).Insert("<svg".Length, " xmlns=\"http://www.w3.org/2000/svg\"");
}
