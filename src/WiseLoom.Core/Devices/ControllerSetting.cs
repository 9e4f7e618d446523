using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;

namespace WiseLoom.Core.Devices;

/// <summary>Something that a controller must be set to.</summary>
/// <param name="Name">With its unit, as people write it: <c>swept volume, cm³</c>.</param>
/// <param name="Number">The value, when it is a number.</param>
/// <param name="Text">The value as it is written.</param>
public sealed record ControllerSetting(string Name, double? Number, string Text)
{
    /// <summary>Numbers nearer than this share of each other are one setting.</summary>
    private const double SameShare = 1e-6;

    /// <summary>Whether another value is the same: numbers as numbers, words in any case.</summary>
    public bool IsSame(ControllerSetting other) => other is not null
        && (Number is { } a && other.Number is { } b ? Math.Abs(a - b) <= SameShare * Math.Max(Math.Abs(a), Math.Abs(b)) : string.Equals(Text.Trim(), other.Text.Trim(), StringComparison.OrdinalIgnoreCase));

    /// <summary>A setting that is a number.</summary>
    public static ControllerSetting Of(string name, double number) => new(name, number, number.ToString("0.########", CultureInfo.InvariantCulture));

    /// <summary>A setting that is a word.</summary>
    public static ControllerSetting Of(string name, string text) => new(name, null, text);

    /// <summary>Reads the settings of a controller in the file's order.</summary>
    internal static ImmutableArray<ControllerSetting> Read(JsonPlace controller)
    {
        const int Longest = 80, Most = 200;
        var all = ImmutableArray.CreateBuilder<ControllerSetting>();
        foreach (var (name, value, at) in controller.Fields("settings"))
        {
            if (name.Length is 0 or > Longest || all.Count >= Most)
            {
                controller.WrongAt(at, $"At most {Most} settings are kept, each with a name of 1 to {Longest} characters.");
            }
            else if (value.ValueKind == JsonValueKind.Number && value.TryGetDouble(out var number) && double.IsFinite(number))
            {
                all.Add(Of(name, number));
            }
            else if (value.ValueKind == JsonValueKind.String && value.GetString()!.Length <= Longest)
            {
                all.Add(Of(name, value.GetString()!));
            }
            else
            {
                controller.WrongAt(at, $"A number, or a text of at most {Longest} characters, is needed here.");
            }
        }

        return all.ToImmutable();
    }
}
