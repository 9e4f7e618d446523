using System.Globalization;

namespace WiseLoom.Core.Handover;

/// <summary>A fuse's rating as it is printed on it.</summary>
internal static class Rating
{
    internal static string InWords(double amps) => $"{Words.Figure(amps, "0.##")} A";
}
