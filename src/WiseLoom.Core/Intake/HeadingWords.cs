using System.Collections.Frozen;

namespace WiseLoom.Core.Intake;

/// <summary>What the words above a column say of it.</summary>
/// <param name="Family">What kind of thing it holds, for one end of a wire.</param>
/// <param name="Side">Which end: 1, 2, or 0 where it does not say.</param>
/// <param name="Unit">A unit that stands in the heading.</param>
/// <param name="Of">Words that name nothing known: in <c>ECU pin</c> the connector.</param>
internal sealed record Heading(Meaning? Family, int Side, string? Unit, string Of)
{
    /// <summary>Whether any of it is known.</summary>
    internal bool IsKnown => Family is not null || Side > 0;
}

/// <summary>Words of headings in English, German, French and Spanish.</summary>
internal static class HeadingWords
{
    private static readonly FrozenDictionary<string, Meaning> Kinds = new (Meaning Kind, string Words)[]
    {
        (Meaning.Pin, "pin pins pinno cavity cav terminal term contact position pos way kontakt kammer klemme anschluss broche borne via contacto patilla borna pinnummer"),
        (Meaning.Connector, "connector conn plug housing socket device component unit stecker steckverbinder gerat geraet bauteil connecteur fiche appareil conector enchufe componente dispositivo"),
        (Meaning.Colour, "colour color col farbe farben couleur insulation clr"),
        (Meaning.Section, "section awg gauge csa size mm2 qmm querschnitt calibre seccion sq area"),
        (Meaning.Length, "length len lange laenge longueur longitud largo"),
        (Meaning.Signal, "signal function circuit description net funktion benennung bezeichnung signalname fonction circuito senal funcion descripcion purpose desc schaltkreis potential designation"),
        (Meaning.Wire, "wire no nr # id number num cable line item leitung ader draht fil hilo kabel lfd numero ref"),
        (Meaning.Twisted, "twisted twist pair tp group verdrillt verdrillung torsade trenzado paar paire par"),
        (Meaning.Note, "note notes remark remarks comment comments bemerkung bemerkungen hinweis remarque nota observaciones hint"),
        (Meaning.Role, "role"),
        (Meaning.Splice, "splice spleiss epissure empalme"),
        (Meaning.Ignore, "result pass verdict read reads ohm ohms measured checked tested date qty quantity menge part partnumber"),
    }.SelectMany(k => k.Words.Split(' ').Select(w => KeyValuePair.Create(w, k.Kind))).ToFrozenDictionary(StringComparer.Ordinal);

    private static readonly FrozenDictionary<string, int> Sides = "from start source von de desde depart origin quelle anfang origen begin first left"
        .Split(' ').Select(w => KeyValuePair.Create(w, 1)).Concat("to ende destination dest target nach ziel vers hasta goes goesto connects connected other far mate mating gegen geht fin final second right destino arrivee"
        .Split(' ').Select(w => KeyValuePair.Create(w, 2))).ToFrozenDictionary(StringComparer.Ordinal);

    /// <summary>Words that only hold others together.</summary>
    private static readonly FrozenSet<string> Filling = "end side the of in name code wire point and at der die das du la le el size cut total code with zu".Split(' ').ToFrozenSet(StringComparer.Ordinal);

    /// <summary>What a heading says.</summary>
    internal static Heading Read(string heading)
    {
        var words = Plain.Words(heading);
        var unit = words.Select(w => w switch { "mm2" or "qmm" or "sqmm" => "mm2", "awg" => "awg", "mm" or "cm" or "m" or "in" or "inch" or "inches" or "zoll" or "ft" => Quantities.Unit(w), _ => null }).FirstOrDefault(u => u is not null);
        var side = words.Select(w => Sides.GetValueOrDefault(w)).FirstOrDefault(s => s > 0);
        side = side > 0 ? side : words is ["end"] ? 2 : Numbered(words);
        var kinds = words.Where(Kinds.ContainsKey).Select(w => Kinds[w]).ToList();
        Meaning? family = kinds.Contains(Meaning.Colour) ? Meaning.Colour
            : kinds.Contains(Meaning.Section) && !words.Contains("cable") ? Meaning.Section
            : kinds.Contains(Meaning.Length) ? Meaning.Length
            : kinds.Contains(Meaning.Twisted) ? Meaning.Twisted
            : kinds.Contains(Meaning.Signal) && !words.Any(w => w is "no" or "nr" or "#") ? Meaning.Signal
            : kinds.Contains(Meaning.Pin) ? words.Any(w => w is "connector" or "plug" or "stecker") && side == 0 && words.Length > 2 ? Meaning.End : Meaning.Pin
            : kinds.Contains(Meaning.Connector) ? Meaning.Connector
            : kinds.Count > 0 && side == 0 ? kinds[0]
            : unit is "mm2" or "awg" ? Meaning.Section
            : null;
        var rest = words.Where(w => !Kinds.ContainsKey(w) && !Sides.ContainsKey(w) && !Filling.Contains(w) && w is not ("a" or "b" or "1" or "2") && (unit is null || Quantities.Unit(w) is "?")).ToList();
        return new(family, side, unit, family == Meaning.Pin && rest.Count > 0 ? Named(heading, rest) : "");
    }

    /// <summary>Whether a row of cells can be headings: most are known, and no number is among them.</summary>
    internal static bool IsHead(IReadOnlyCollection<string> cells)
    {
        var filled = cells.Where(c => c.Length > 0).ToList();
        var known = filled.Count(c => c.Length <= 60 && Read(c).IsKnown);
        return filled.Count >= 2 && known >= 2 && 2 * known >= filled.Count && !filled.Exists(c => char.IsAsciiDigit(c[0]));
    }

    /// <summary>The end that a letter or a number beside a known word means: <c>Plug A</c>, <c>Pin 2</c>, <c>B end</c>.</summary>
    private static int Numbered(string[] words) =>
        !words.Any(w => w is "end" or "side" or "point" || Kinds.GetValueOrDefault(w, Meaning.Ignore) is Meaning.Connector or Meaning.Pin) ? 0
        : words.Any(w => w is "a" or "1") ? 1 : words.Any(w => w is "b" or "2") ? 2 : 0;

    /// <summary>The words as they stand in the heading, with their capitals.</summary>
    private static string Named(string heading, List<string> rest) => string.Join(' ', heading.Split(' ', StringSplitOptions.RemoveEmptyEntries).Where(w => Plain.Words(w).Any(rest.Contains))).Trim('(', ')', ':');
}
