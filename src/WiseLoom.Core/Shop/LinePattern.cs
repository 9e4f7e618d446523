using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Shop;

/// <summary>What a line of a meter says.</summary>
/// <param name="Reading">Null when it says none.</param>
/// <param name="Wrong">Why not, in words; null when it does.</param>
public sealed record LineReading(Reading? Reading, string? Wrong);

/// <summary>A usual form of lines, with one of them.</summary>
public sealed record UsualForm(string Name, string Form, string Sample);

/// <summary>How the lines of a meter are read that sends one for each value.</summary>
/// <param name="Form">What a line looks like: <c>{value}</c> once, <c>{unit}</c> at most once, <c>{word}</c> for a run of letters, <c>*</c> for anything. A blank stands for
/// blanks, commas, semicolons, or nothing; all else stands for itself, in capitals or not. Without a unit the value is in ohms.</param>
/// <param name="Over">What stands in place of the value when it is over range, beside the usual signs.</param>
/// <param name="Ask">What makes the meter send a line; empty for one that sends by itself.</param>
public sealed partial record LinePattern(string Form, ImmutableArray<string> Over, string Ask = "")
{
    private const int LongestForm = 120, LongestWord = 12, MostWords = 12, LongestAsk = 60, LongestLine = 200;

    /// <summary>Signs for over range that many meters share.</summary>
    private static readonly ImmutableArray<string> UsualOver = ["OL", "O.L", ".OL", "0L", "0.L", "OVLD", "OVER", "OVERRANGE", "OPEN", "INF", "----", "---"];

    private readonly (Regex Number, Regex Over)? compiled = Compile(Form, Over);

    /// <summary>What a line looks like.</summary>
    public string Form { get; } = Form;

    /// <summary>Its own signs for over range.</summary>
    public ImmutableArray<string> Over { get; } = Over;

    /// <summary>Forms that many meters send.</summary>
    public static ImmutableArray<UsualForm> Usual { get; } =
    [
        new("A number and a unit", "{value} {unit}", "12.34 kOhm"),
        new("A number in ohms", "{value}", "+1.2340E+01"),
        new("A word, a number, a unit", "{word} {value} {unit}", "RES 12.34 kOhm"),
        new("A number, a unit, and more", "{value} {unit} *", "0.1234,OHM,NORMAL,AUTO"),
        new("More, a number, a unit, and more", "* {value} {unit} *", "14:03:22; 0,512 Ω; hold"),
    ];

    /// <inheritdoc/>
    public bool Equals(LinePattern? other) => other is not null && Form == other.Form && Ask == other.Ask && Over.AsSpan().SequenceEqual(other.Over.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Form, Ask);

    /// <summary>What of it cannot be.</summary>
    /// <returns>Empty when all can; places as JSON pointers.</returns>
    public ImmutableArray<Problem> Problems()
    {
        var problems = ImmutableArray.CreateBuilder<Problem>();
        if (string.IsNullOrWhiteSpace(Form) || Form.Length > LongestForm)
        {
            problems.Add(new("/form", $"Write what a line looks like in 1 to {LongestForm} characters, such as {{value}} {{unit}}."));
        }
        else if (FieldForm().Matches(Form).Select(m => m.Value).FirstOrDefault(f => f is not ("{value}" or "{unit}" or "{word}")) is { } unknown)
        {
            problems.Add(new("/form", $"{unknown} is no field of a line; write {{value}}, {{unit}}, {{word}} or *."));
        }
        else if (Form.Split("{value}").Length != 2 || Form.Split("{unit}").Length > 2)
        {
            problems.Add(new("/form", "A line has one {value} and at most one {unit}."));
        }

        if (Over.IsDefault || Over.Length > MostWords || Over.Any(w => string.IsNullOrWhiteSpace(w) || w.Length > LongestWord || w.Any(char.IsControl)))
        {
            problems.Add(new("/over", $"At most {MostWords} signs for over range, each of 1 to {LongestWord} characters, such as OL."));
        }

        if (Ask is null || Ask.Length > LongestAsk || Ask.Any(c => c is < ' ' or > '~'))
        {
            problems.Add(new("/ask", $"What asks for a value has at most {LongestAsk} plain characters; leave it empty for a meter that sends by itself."));
        }

        return problems.ToImmutable();
    }

    /// <summary>Reads a line.</summary>
    /// <param name="line">As it came, without its end.</param>
    public LineReading Read(string line)
    {
        ArgumentNullException.ThrowIfNull(line);
        if (compiled is not { } forms)
        {
            return new(null, "No line has this form.");
        }

        if (line.Length > LongestLine)
        {
            return new(null, $"‘{Shown(line)}’ is longer than a line of a meter.");
        }

        var match = forms.Number.Match(line);
        var (value, unit) = (match.Groups["value"].Value, match.Groups["unit"]);
        double? times = unit.Success ? Factor(unit.Value) : 1;
        if (!match.Success || times is not { } factor)
        {
            return forms.Over.IsMatch(line) ? new(Reading.OverRange, null)
                : match.Success ? new(null, $"‘{Shown(line)}’ is in {unit.Value}, which is no unit of resistance. Turn the meter to ohms.")
                : new(null, $"‘{Shown(line)}’ does not look like {Form}.");
        }

        return double.TryParse(value.Replace(',', '.'), NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && MeterNumber.Read(number * factor) is { } reading
            ? new(reading, null)
            : new(null, $"‘{Shown(line)}’ says {value}, which no meter of resistance shows.");
    }

    /// <summary>A line as a person may be shown it: cut where it is long, without characters that no screen shows.</summary>
    public static string Shown(string line)
    {
        ArgumentNullException.ThrowIfNull(line);
        var plain = string.Concat(line.Take(80).Select(c => char.IsControl(c) ? '·' : c));
        return line.Length > 80 ? plain + "…" : plain;
    }

    /// <summary>Ohms in one of a unit; null for what is no unit of resistance.</summary>
    private static double? Factor(string unit)
    {
        var name = OhmForm().Match(unit);
        return !name.Success ? null : name.Groups[1].Value switch
        {
            "" => 1,
            "u" or "µ" or "μ" => 1e-6,
            "m" => 1e-3,
            "k" or "K" => 1e3,
            "G" => 1e9,
            // A capital, and all that is longer than one letter, is mega.
            _ => 1e6,
        };
    }

    /// <summary>How a line with a number is found, and one that is over range, which may leave the unit out.</summary>
    private static (Regex Number, Regex Over)? Compile(string form, ImmutableArray<string> over)
    {
        if (string.IsNullOrWhiteSpace(form) || form.Length > LongestForm || over.IsDefault || over.Length > MostWords)
        {
            return null;
        }

        var signs = string.Join('|', over.Concat(UsualOver).Where(w => w is { Length: > 0 and <= LongestWord }).OrderByDescending(w => w.Length).Select(Whole));
        return (Compile(form, "(?<value>[+-]?(?:[0-9]+(?:[.,][0-9]*)?|[.,][0-9]+)(?:[Ee][+-]?[0-9]+)?)", "(?<unit>[A-Za-zµμΩ\u2126]+)"),
            Compile(form, $"[+-]?(?:{signs})", "(?:[A-Za-zµμΩ\u2126]+)?"));
    }

    private static Regex Compile(string form, string value, string unit)
    {
        var text = new StringBuilder("^[ \t]*");
        foreach (var part in PartForm().Matches(form.Trim()).Select(m => m.Value))
        {
            text.Append(part switch
            {
                "{value}" => value,
                "{unit}" => unit,
                "{word}" => "[A-Za-z]+",
                "*" => ".*?",
                _ when string.IsNullOrWhiteSpace(part) => "[ \t,;]*",
                _ => Regex.Escape(part),
            });
        }

        // Without going back over the line, so that no form and no line together take long.
        return new(text.Append("[ \t]*$").ToString(), RegexOptions.NonBacktracking | RegexOptions.IgnoreCase | RegexOptions.CultureInvariant);
    }

    /// <summary>A sign that is no part of a longer word.</summary>
    private static string Whole(string sign) => $"{(char.IsLetterOrDigit(sign[0]) ? @"\b" : "")}{Regex.Escape(sign)}{(char.IsLetterOrDigit(sign[^1]) ? @"\b" : "")}";

    [GeneratedRegex(@"\{[^}]*\}?|\}")]
    private static partial Regex FieldForm();

    [GeneratedRegex(@"\{value\}|\{unit\}|\{word\}|\*|[ \t]+|[^{* \t]+|\{")]
    private static partial Regex PartForm();

    [GeneratedRegex("^([uµμmkKMG]|meg|Meg|MEG)?(?:[Ω\u2126R]|[Oo][Hh][Mm][Ss]?|OHMS?)?$")]
    private static partial Regex OhmForm();
}
