using System.Globalization;
using System.Text.Json;
using WiseLoom.Core.Looms;

namespace WiseLoom.Cli;

/// <summary>Arguments after the command: plain words, <c>--name value</c> pairs that may stand more than once, and names alone (known as <c>--name!</c>). <c>--json</c> is the only output there is and is taken as read.</summary>
internal sealed class CommandLine
{
    private readonly Dictionary<string, List<string>> options = new(StringComparer.Ordinal);
    private readonly HashSet<string> flags = new(StringComparer.Ordinal);

    private CommandLine(string? file) => File = file;

    internal string? File { get; private set; }

    internal string? Wrong { get; private set; }

    internal static CommandLine Parse(string[] args, params string[] known)
    {
        var line = new CommandLine(null);
        for (var i = 0; i < args.Length && line.Wrong is null; i++)
        {
            if (args[i] == "--json")
            {
                continue;
            }

            if (known.Contains(args[i] + "!"))
            {
                line.flags.Add(args[i]);
                continue;
            }

            if (!args[i].StartsWith("--", StringComparison.Ordinal))
            {
                line.Wrong = line.File is null ? null : $"One file only: '{args[i]}' is one too many.";
                line.File ??= args[i];
            }
            else if (!known.Contains(args[i]))
            {
                line.Wrong = $"'{args[i]}' is not known here.";
            }
            else if (i + 1 == args.Length)
            {
                line.Wrong = $"'{args[i]}' needs a value.";
            }
            else
            {
                line.Add(args[i], args[++i]);
            }
        }

        return line;
    }

    /// <summary>The last value given to an option; null when it is not there.</summary>
    internal string? Text(string name) => options.GetValueOrDefault(name)?[^1];

    /// <summary>All values given to an option, in their order.</summary>
    internal IReadOnlyList<string> All(string name) => options.GetValueOrDefault(name) ?? [];

    /// <summary>Whether an option without a value is there.</summary>
    internal bool Has(string name) => flags.Contains(name);

    /// <summary>The temperature asked for; null for the loom's own.</summary>
    internal double? Ambient()
    {
        var ambient = Number("--ambient");
        if (ambient is < -60 or > 200)
        {
            Wrong = "--ambient lies between -60 and 200 degrees Celsius.";
        }

        return ambient;
    }

    private void Add(string name, string value)
    {
        if (!options.TryGetValue(name, out var values))
        {
            options.Add(name, values = []);
        }

        values.Add(value);
    }

    internal double? Number(string name)
    {
        if (Text(name) is not { } text)
        {
            return null;
        }

        if (double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number))
        {
            return number;
        }

        Wrong = $"{name} needs a number, not '{text}'.";
        return null;
    }

    /// <summary>Reads a loom file from disk; a file that cannot be opened is a problem like any other.</summary>
    internal static LoomReading ReadLoom(string path)
    {
        try
        {
            return new FileInfo(path).Length > LoomReader.LargestFile
                ? new(null, [new("", $"The file is larger than {LoomReader.LargestFile / 1048576} MB.")], [])
                : LoomReader.Read(System.IO.File.ReadAllBytes(path));
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return new(null, [new("", $"'{path}' cannot be read: {e.Message}")], []);
        }
    }

    /// <summary>The loom of a file; null when it has problems, which are written then.</summary>
    internal static Loom? FindLoom(string path)
    {
        var reading = ReadLoom(path);
        if (reading.Loom is null)
        {
            Write(json => WriteProblems(json, reading));
        }

        return reading.Loom;
    }

    /// <summary>How answers are written: signs of all languages as they are.</summary>
    internal static JsonWriterOptions Json { get; } = new() { Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping, SkipValidation = true };

    internal static void Write(Action<Utf8JsonWriter> write) => Write((json, _) => write(json));

    /// <param name="write">Writes the answer; may write to what lies below the writer when that has been flushed.</param>
    internal static void Write(Action<Utf8JsonWriter, Stream> write)
    {
        using var output = new BufferedStream(Console.OpenStandardOutput(), 1 << 16);
        using (var json = new Utf8JsonWriter(output, Json))
        {
            write(json, output);
        }

        output.WriteByte((byte)'\n');
    }

    internal static void WriteProblems(Utf8JsonWriter json, LoomReading reading)
    {
        json.WriteStartObject();
        foreach (var (name, list) in new[] { ("problems", reading.Problems), ("warnings", reading.Warnings) })
        {
            WriteProblems(json, name, list);
        }

        json.WriteEndObject();
    }

    /// <summary>A list of problems, each with its place.</summary>
    internal static void WriteProblems(Utf8JsonWriter json, string name, IEnumerable<Problem> problems)
    {
        json.WriteStartArray(name);
        foreach (var problem in problems)
        {
            json.WriteStartObject();
            json.WriteString("at", problem.At);
            json.WriteString("message", problem.Message);
            json.WriteEndObject();
        }

        json.WriteEndArray();
    }

    /// <summary>A list of texts.</summary>
    internal static void WriteList(Utf8JsonWriter json, string name, IEnumerable<string> items)
    {
        json.WriteStartArray(name);
        foreach (var item in items)
        {
            json.WriteStringValue(item);
        }

        json.WriteEndArray();
    }
}
