using System.Text.RegularExpressions;

namespace WiseLoom.Core.Intake;

/// <summary>An end of a wire as a paper writes it.</summary>
/// <param name="Connector">The connector, or the splice where there is no pin.</param>
/// <param name="Pin">The cavity; empty for a splice.</param>
internal readonly record struct PaperEnd(string Connector, string Pin)
{
    /// <summary>As a loom file writes it.</summary>
    public override string ToString() => Pin.Length == 0 ? Connector : $"{Connector}:{Pin}";
}

/// <summary>Reads connector and pin out of one cell: <c>ECU:17</c>, <c>ECU-17</c>, <c>ECU.17</c>, <c>ECU 17</c>, <c>ECU pin 17</c>, <c>ECU (17)</c>, <c>17 (ECU)</c>, <c>pin 17 of ECU</c>.</summary>
internal static partial class EndForms
{
    private const string PinWord = @"(?:pin|cavity|cav|terminal|term|contact|way|pos|position|kontakt|kammer|klemme|broche|borne|via|patilla|terminale)\.?";
    private const string Pin = @"(?<p>[A-Za-z]{1,2}\d{0,3}|\d{1,3}[A-Za-z]?)";

    [GeneratedRegex($@"^(?<c>.+?)[\s,;:/.-]+{PinWord}\s*(?:no\.?|nr\.?|\#)?\s*[:.]?\s*{Pin}$", RegexOptions.IgnoreCase)]
    private static partial Regex WithWord();

    [GeneratedRegex($@"^{PinWord}\s*{Pin}\s+(?:of|on|at|von|an|de|du|del)\s+(?<c>.+)$", RegexOptions.IgnoreCase)]
    private static partial Regex PinOf();

    [GeneratedRegex($@"^(?:{PinWord}\s*)?{Pin}\s*(?:\((?<c>[^()]+)\)|\[(?<c>[^\[\]]+)\]|@\s*(?<c>.+))$", RegexOptions.IgnoreCase)]
    private static partial Regex PinFirst();

    [GeneratedRegex($@"^(?<c>[^()\[\]]*\p{{L}}[^()\[\]]*?)\s*[(\[]\s*(?:{PinWord}\s*)?{Pin}\s*[)\]]$", RegexOptions.IgnoreCase)]
    private static partial Regex InBrackets();

    [GeneratedRegex($@"^(?<c>.*\p{{L}}.*?)\s*:\s*{Pin}$")]
    private static partial Regex Colon();

    [GeneratedRegex($@"^(?<c>.*\p{{L}}.*?)\s*[-./_,|]\s*{Pin}$")]
    private static partial Regex Sign();

    [GeneratedRegex($@"^(?<c>.*\p{{L}}.*?)\s+{Pin}$")]
    private static partial Regex Blank();

    [GeneratedRegex(@"^(?:spl(?:ice)?|splei(?:ss|ß)|sp|epissure|empalme|joint|s)\s*[-_.#]?\s*[A-Z]?\d+[a-z]?$", RegexOptions.IgnoreCase)]
    private static partial Regex Splice();

    /// <summary>A pin's name as cells of a column of pins have it.</summary>
    [GeneratedRegex(@"^(?:[A-Za-z]{1,2}\d{0,3}|\d{1,3}[A-Za-z]?)$")]
    private static partial Regex PinName();

    /// <summary>Whether a text is named as splices are.</summary>
    internal static bool IsSplice(string text) => Splice().IsMatch(text.Trim());

    /// <summary>Whether a text can be the name of a pin.</summary>
    internal static bool IsPin(string text) => text.Trim() is { Length: > 0 } t && PinName().IsMatch(t);

    /// <summary>Connector and pin; null where the cell has not both.</summary>
    internal static PaperEnd? Read(string cell)
    {
        var text = cell.Trim();
        if (text.Length is 0 or > 120)
        {
            return null;
        }

        foreach (var form in (Regex[])[Colon(), WithWord(), PinOf(), InBrackets(), PinFirst(), Sign(), Blank()])
        {
            if (form.Match(text) is { Success: true } m && m.Groups["p"].Value.Length > 0 && m.Groups["c"].Value.Trim() is { Length: > 0 } connector)
            {
                return new(connector, m.Groups["p"].Value);
            }
        }

        return null;
    }
}
