using System.Globalization;

namespace WiseLoom.Core.Pinouts;

/// <summary>What to do with a wire that ends in a plug and was cut at the other end.</summary>
public enum LooseDecision
{
    /// <summary>Kept at its length, for later use.</summary>
    KeepLong,
    /// <summary>Kept, its end insulated.</summary>
    KeepInsulated,
    /// <summary>Cut short and capped.</summary>
    CutBack,

    /// <summary>Tied to ground, because its plug waits for a ground there.</summary>
    ToGround,
}

/// <summary>A proposal for a loose wire.</summary>
/// <param name="Reason">Why, in a sentence.</param>
/// <param name="Label">Text for the temporary label, at most <see cref="LooseWire.LongestLabel"/> characters.</param>
/// <param name="LengthMm">How much of the wire stays, millimetres from the plug; 0 when it is cut at the plug.</param>
public sealed record LooseAdvice(LooseDecision Decision, string Reason, string Label, double LengthMm);

/// <summary>Decides about loose wires by what the sheet says of their cavity.</summary>
public static class LooseWire
{
    /// <summary>What fits on a flag label.</summary>
    public const int LongestLabel = 28;

    /// <summary>Enough to reach a new place on any engine of this size and be crimped twice, millimetres.</summary>
    private const double Long = 1200;

    /// <summary>Enough for a sealed end that is folded back into the bundle, millimetres.</summary>
    private const double Insulated = 150;

    /// <summary>Enough to reach a ground splice behind the plug, millimetres.</summary>
    private const double ToGroundLength = 250;

    private static readonly string[] GroundedBySwitch = ["neutral", "clutch", "park", "gear"];

    /// <summary>Proposes what to do.</summary>
    /// <param name="line">What the chosen sheet says; null when it says nothing about the cavity.</param>
    /// <param name="place">The cavity, as it goes on the label: <c>P1:15</c>.</param>
    public static LooseAdvice Advise(PinoutLine? line, string place)
    {
        ArgumentNullException.ThrowIfNull(place);
        var function = line?.Function ?? "";
        var words = FunctionWords.Split(function);
        var role = function.Length == 0 && line?.Role != PinRole.Unused ? PinRole.Unknown : line!.Role;
        var (decision, reason, length) = role switch
        {
            PinRole.Unknown => (LooseDecision.KeepInsulated, "The sheet does not say what this is. Keep it long and insulated until somebody knows; put no power on it.", Long),
            _ when words.Contains("immobiliser") => (LooseDecision.KeepInsulated, "Part of an immobiliser. Leave it as it is: local law and licensed practice decide.", Long),
            PinRole.Restraint => (LooseDecision.KeepInsulated, "An airbag or tensioner circuit. Do not measure, cut or join it: a licensed shop decides.", Long),
            PinRole.Unused => (LooseDecision.CutBack, "Not used on this sheet: nothing is at the other end. Cut it at the plug, or pull the contact and plug the cavity.", 0),
            PinRole.Feed => (LooseDecision.KeepInsulated, "A feed: it may be live when the plug is on. Never leave its end bare, even for a minute.", Long),
            PinRole.Ground or PinRole.SensorGround => (LooseDecision.KeepLong, "A ground: the plug needs it. Keep it until its ground point is made.", Long),
            PinRole.Input when words.Any(GroundedBySwitch.Contains) => (LooseDecision.ToGround, "An input that waits for a ground from a switch. Where the machine has such a switch, keep the wire long for it: it guards against a start in gear. Only where there is no gearbox, tie it to ground, and say so in the papers.", ToGroundLength),
            PinRole.Network => (LooseDecision.KeepLong, "A data line: keep the pair together, twisted and equally long.", Long),
            PinRole.Shield => (LooseDecision.KeepInsulated, "A shield: it is tied to ground at one end only. Keep its end insulated.", Insulated),
            PinRole.Output => (LooseDecision.KeepInsulated, "A switched output: fold it back insulated if its load is not fitted, so that it can be taken into use.", Insulated),
            _ => (LooseDecision.KeepLong, "A signal that is in use: keep it long enough to reach its new place.", Long),
        };
        return new(decision, reason, Label(place, function), length);
    }

    /// <summary>The temporary label: place first, then as much of the function as fits.</summary>
    private static string Label(string place, string function)
    {
        var text = function.Length == 0 ? $"{place} ?" : $"{place} {function}";
        return text.Length <= LongestLabel ? text : string.Create(CultureInfo.InvariantCulture, $"{text[..(LongestLabel - 1)].TrimEnd()}…");
    }
}
