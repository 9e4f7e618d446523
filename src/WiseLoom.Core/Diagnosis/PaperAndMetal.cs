using System.Collections.Immutable;
using System.Text.Json.Nodes;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Diagnosis;

/// <summary>A wire that does not run as it is drawn.</summary>
/// <param name="Wire">Its id.</param>
/// <param name="Colour">As drawn, what an eye finds.</param>
/// <param name="Paper">Its two ends in the drawing.</param>
/// <param name="Metal">Its two ends as the readings have it; null when it is not there at all.</param>
public sealed record WireDisputed(string Wire, string Colour, string Paper, string? Metal);

/// <summary>Where a drawing and the readings disagree about which cavities wires end in: either the loom is wrong or the paper is.</summary>
public static class PaperAndMetal
{
    /// <summary>Whether a cause could as well be the drawing's: contacts that stand elsewhere, or wires that are not there.</summary>
    public static bool IsOfTheDrawing(Cause cause) => cause is { Faults.IsEmpty: false } && cause.Faults.All(f => f is CavityFault or MissingFault or OpenFault);

    /// <summary>Each wire that they disagree about.</summary>
    public static ImmutableArray<WireDisputed> Of(Loom loom, Cause cause)
    {
        ArgumentNullException.ThrowIfNull(loom);
        return !IsOfTheDrawing(cause) ? [] :
        [
            .. new BuiltLoom(loom, cause.Faults).Wires.Where(w => w.Open || w.From != w.Drawn.From.Text || w.To != w.Drawn.To.Text)
                .Select(w => new WireDisputed(w.Drawn.Id, w.Drawn.Colour.Spoken, $"{w.Drawn.From} to {w.Drawn.To}", w.Open ? null : $"{w.From} to {w.To}")),
        ];
    }

    /// <summary>What settles which of the two is right, in a sentence.</summary>
    public static string Settles(ImmutableArray<WireDisputed> wires) =>
        wires.IsDefaultOrEmpty ? ""
        : wires[0] is { Metal: null } gone ? $"Look in both cavities of {gone.Wire}: where no contact was ever put in, and the machine works without it, the paper is wrong; a contact that is pushed back, or a cut end, is a fault of the loom."
        : $"The readings settle where the wires run. Which was meant is settled at the other end: follow {wires[0].Wire} ({wires[0].Colour}) to the device there, and see which cavity that device has to reach. If the machine needs it as the metal has it, the paper is wrong.";

    /// <summary>A loom file with the wires as the metal has them.</summary>
    /// <param name="document">The file; it is changed.</param>
    /// <param name="revision">What the corrected drawing is called.</param>
    public static void Correct(JsonObject document, Loom loom, Cause cause, string revision)
    {
        ArgumentNullException.ThrowIfNull(document);
        ArgumentNullException.ThrowIfNull(cause);
        var built = new BuiltLoom(loom, cause.Faults).Wires.ToDictionary(w => w.Drawn.Id, StringComparer.Ordinal);
        document["loom"]!["revision"] = revision;
        var wires = document["wires"]!.AsArray();
        for (var i = wires.Count - 1; i >= 0; i--)
        {
            var wire = built[wires[i]!["id"]!.GetValue<string>()];
            if (wire.Open)
            {
                wires.RemoveAt(i);
            }
            else
            {
                (wires[i]!["from"], wires[i]!["to"]) = (wire.From, wire.To);
            }
        }
    }
}
