using System.Collections.Immutable;

namespace WiseLoom.Core.Looms;

/// <summary>The colours of a wire's insulation: base first, then tracers.</summary>
/// <param name="Codes">IEC 60757 letter codes; empty when the file names no colour.</param>
public readonly record struct WireColour(ImmutableArray<string> Codes)
{
    private static readonly ImmutableSortedDictionary<string, (string Name, string Hex)> Known =
        new Dictionary<string, (string, string)>
        {
            ["BK"] = ("black", "#1d1c1a"),
            ["BN"] = ("brown", "#7a4522"),
            ["RD"] = ("red", "#c8201f"),
            ["OG"] = ("orange", "#ee7a12"),
            ["YE"] = ("yellow", "#f3cf1d"),
            ["GN"] = ("green", "#1f8a3b"),
            ["BU"] = ("blue", "#1c57b5"),
            ["VT"] = ("violet", "#7a3fa0"),
            ["GY"] = ("grey", "#8b8d8f"),
            ["WH"] = ("white", "#fbfaf5"),
            ["PK"] = ("pink", "#ee8fae"),
            ["TQ"] = ("turquoise", "#2bb3b0"),
            ["GD"] = ("gold", "#c99b35"),
            ["SR"] = ("silver", "#c4c8cc"),
            ["GNYE"] = ("green-and-yellow", "#8fb52a"),
        }.ToImmutableSortedDictionary(StringComparer.Ordinal);

    /// <summary>No colour named.</summary>
    public static WireColour None => new([]);

    /// <summary>All codes that can be written, in alphabetical order.</summary>
    public static IEnumerable<string> AllCodes => Known.Keys;

    /// <summary>Every code with its name and what it looks like on a screen, <c>#rrggbb</c>.</summary>
    public static IEnumerable<(string Code, string Name, string Hex)> Palette => Known.Select(k => (k.Key, k.Value.Name, k.Value.Hex));

    /// <summary>As written in files: <c>YE/BK</c>; empty when no colour is named.</summary>
    public string Text => string.Join('/', Codes);

    /// <summary>Said in words: <c>yellow with black</c>; <c>no colour given</c> when empty.</summary>
    public string Spoken => Codes.IsDefaultOrEmpty
        ? Words.Text("no colour given")
        : string.Join(Words.Text(" with "), Codes.Select(c => Words.Text(Known[c].Name)));

    /// <summary>Colour of each stripe for a screen, <c>#rrggbb</c>, base first.</summary>
    public IEnumerable<string> Stripes => Codes.Select(c => Known[c].Hex);

    /// <summary>What is seen across a wire, from its upper edge to its lower, in bands of one height: the base with each tracer running along in it.</summary>
    public IEnumerable<string> Bands
    {
        get
        {
            var (stripes, last) = (Stripes.ToList(), Codes.IsDefault ? 0 : Codes.Length - 1);
            return last < 1 ? stripes : stripes.Skip(1).SelectMany(tracer => new[] { stripes[0], tracer }).Append(stripes[0]);
        }
    }

    /// <summary>Reads <c>BU</c> or <c>BU/WH</c> (one to three colours); small letters are taken as capitals.</summary>
    /// <param name="text">The text; null or empty gives <see cref="None"/>.</param>
    /// <param name="wrong">The part that is no colour code, when the answer is false.</param>
    public static bool TryParse(string? text, out WireColour colour, out string wrong)
    {
        colour = None;
        wrong = "";
        if (string.IsNullOrWhiteSpace(text))
        {
            return true;
        }

        var codes = text.Split('/').Select(c => c.Trim().ToUpperInvariant()).ToImmutableArray();
        if (codes.Length > 3)
        {
            wrong = text;
            return false;
        }

        foreach (var code in codes)
        {
            if (!Known.ContainsKey(code))
            {
                wrong = code;
                return false;
            }
        }

        colour = new(codes);
        return true;
    }

    /// <inheritdoc/>
    public bool Equals(WireColour other) => string.Equals(Text, other.Text, StringComparison.Ordinal);

    /// <inheritdoc/>
    public override int GetHashCode() => Text.GetHashCode(StringComparison.Ordinal);
}
