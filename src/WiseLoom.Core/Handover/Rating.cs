using System.Globalization;

namespace WiseLoom.Core.Handover;

/// <summary>A fuse's rating as it is printed on it.</summary>
internal static class Rating
{
    internal static string InWords(double amps) => string.Create(CultureInfo.InvariantCulture, $"{amps:0.##} A");
}
