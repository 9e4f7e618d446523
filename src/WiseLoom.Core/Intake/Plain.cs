using System.Text;

namespace WiseLoom.Core.Intake;

/// <summary>Text without what people write differently: capitals, accents, signs between words.</summary>
internal static class Plain
{
    /// <summary>Words of a text in small letters without accents: <c>Länge (cm)</c> is <c>lange</c>, <c>cm</c>.</summary>
    internal static string[] Words(string text) => Letters(text).Split(' ', StringSplitOptions.RemoveEmptyEntries);

    /// <summary>The same as one text with a blank between words.</summary>
    internal static string Joined(string text) => string.Join(' ', Words(text));

    /// <summary>Letters with marks, and the letter without: the same without the tables of the system, which are not everywhere.</summary>
    private const string Marked = "äáàâãåëéèêïíìîöóòôõøüúùûñçýÿ", Bare = "aaaaaaeeeeiiiioooooouuuuncyy";

    /// <summary>Small letters and digits without marks, a blank for all other signs.</summary>
    private static string Letters(string text)
    {
        var plain = new StringBuilder(text.Length);
        foreach (var c in text)
        {
            var small = char.ToLowerInvariant(c);
            var at = Marked.IndexOf(small, StringComparison.Ordinal);
            plain.Append(at >= 0 ? Bare[at] : small switch { 'ß' => 's', '²' => '2', '#' or '"' => small, _ => char.IsLetterOrDigit(small) ? small : ' ' });
            if (small == 'ß')
            {
                plain.Append('s');
            }
        }

        return plain.ToString();
    }
}
