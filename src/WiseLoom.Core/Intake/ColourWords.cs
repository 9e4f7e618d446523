using System.Collections.Frozen;
using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Intake;

/// <summary>Colours as four languages and their short forms write them.</summary>
internal static class ColourWords
{
    /// <summary>Full words of English, German, French and Spanish: they mean one colour only, whoever writes them.</summary>
    private static readonly FrozenDictionary<string, string> Everywhere = Of(
        "BK black schwarz noir negro", "BN brown braun brun marron cafe", "RD red rot rouge rojo", "OG orange naranja", "YE yellow gelb jaune amarillo",
        "GN green grun gruen vert verde", "BU blue blau bleu azul", "VT violet violett purple lila violeta morado", "GY grey gray grau gris", "WH white weiss blanc blanco",
        "PK pink rosa rose", "TQ turquoise turkis tuerkis turquesa", "GD gold dore oro", "SR silver silber argent plata", "GNYE grungelb gruengelb");

    /// <summary>Short forms, each list by itself: <c>bl</c> is blue to one and white to another.</summary>
    private static readonly FrozenDictionary<string, string>[] Short =
    [
        Of("BK bk", "BN bn", "RD rd", "OG og", "YE ye", "GN gn", "BU bu", "VT vt", "GY gy", "WH wh", "PK pk", "TQ tq", "GD gd", "SR sr", "GNYE gnye"),
        Of("BK sw schw", "BN br brn", "RD rt", "OG or", "YE ge gb", "GN gn gru", "BU bl", "VT vi li", "GY gr", "WH ws we", "PK rs ro", "TQ tk", "GD gd", "SR si", "GNYE gnge"),
        Of("BK blk bk bl k", "BN brn br bn n", "RD red rd r", "OG org orn or og o", "YE yel yl ye y", "GN grn gn gr g", "BU blu bu be b u", "VT vio vlt vi vt pur ppl pl pu p v", "GY gry gy s", "WH wht wh wt w",
            "PK pnk pk pi", "TQ tur tq", "GD gld gd", "SR sil sr"),
        Of("BK nr no n", "BN ma mr br", "RD rg ro r", "OG or og o", "YE ja jn j", "GN ve vr v", "BU be bl b", "VT vi vo", "GY gr gs g", "WH ba bc bln", "PK rs rse"),
        Of("BK ne ng n", "BN ma mr m", "RD ro rj r", "OG na nj", "YE am a", "GN ve vd v", "BU az", "VT vi mo", "GY gr gs", "WH bl bc b", "PK rs"),
    ];

    private static readonly string[] With = ["with", "mit", "avec", "con", "and", "und", "et", "y", "stripe", "tracer"];

    /// <summary>How many lists of short forms there are.</summary>
    internal static int Lists => Short.Length;

    /// <summary>The list of short forms by which most cells are colours; of several the first.</summary>
    internal static (int List, double Share) Best(IReadOnlyCollection<string> cells)
    {
        var shares = Enumerable.Range(0, Lists).Select(l => (List: l, Share: cells.Count == 0 ? 0 : (double)cells.Count(c => Read(c, l) is not null) / cells.Count));
        return shares.Aggregate((best, next) => next.Share > best.Share ? next : best);
    }

    /// <summary>The colour that a cell names; null where it names none.</summary>
    /// <param name="list">By which list its short forms are read.</param>
    /// <param name="own">Words that only this shop knows.</param>
    internal static WireColour? Read(string cell, int list, ImmutableSortedDictionary<string, string>? own = null)
    {
        var words = Plain.Words(cell).Where(w => !With.Contains(w)).ToList();
        if (words.Count is 0 or > 3)
        {
            return null;
        }

        var codes = words.SelectMany(w => own?.GetValueOrDefault(w) is { } known ? [known] : One(w, list) is { } code ? [code] : Together(w, list)).ToList();
        return codes.Count is 0 or > 3 || codes.Contains("") ? null : new([.. codes]);
    }

    /// <summary>Words of a cell that name no colour; at most three are told.</summary>
    internal static IEnumerable<string> Unknown(string cell, int list, ImmutableSortedDictionary<string, string> own) =>
        Plain.Words(cell).Where(w => !With.Contains(w) && !own.ContainsKey(w) && One(w, list) is null && Together(w, list).Contains("") && IntakeMemory.Word(w) is not null).Take(3);

    /// <summary>Whether it is a colour by any list.</summary>
    internal static bool IsAny(string cell) => Enumerable.Range(0, Lists).Any(l => Read(cell, l) is not null);

    private static string? One(string word, int list) => Everywhere.GetValueOrDefault(word) ?? Short[list].GetValueOrDefault(word);

    /// <summary>Two colours written as one word: <c>rtbl</c>, <c>BUWH</c>; one empty code where they are none.</summary>
    private static IEnumerable<string> Together(string word, int list) =>
        word.Length is 4 or 6 && word.Chunk(word.Length / 2).Select(half => One(new(half), list)).ToList() is [{ } first, { } second] ? [first, second] : [""];

    private static FrozenDictionary<string, string> Of(params string[] lines) =>
        lines.SelectMany(line => line.Split(' ') is var parts ? parts[1..].Select(word => KeyValuePair.Create(word, parts[0])) : []).ToFrozenDictionary(StringComparer.Ordinal);
}
