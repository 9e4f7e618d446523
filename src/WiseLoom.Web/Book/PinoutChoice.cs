using System.Globalization;
using WiseLoom.Store;

namespace WiseLoom.Web.Book;

/// <summary>How an address names a pinout: <c>sheet-3</c>, <c>revision-5</c>, or <c>revision-5:ECU-A,ECU-B</c> for some of its plugs.</summary>
internal static class PinoutChoice
{
    internal static MergeSide? Parse(string? text)
    {
        var (name, plugs) = (text ?? "").Split(':', 2) is [var first, var second] ? (first, second) : (text ?? "", "");
        long? Number(string prefix) =>
            name.StartsWith(prefix, StringComparison.Ordinal) && long.TryParse(name.AsSpan(prefix.Length), NumberStyles.None, CultureInfo.InvariantCulture, out var id) ? id : null;
        return Number("sheet-") is { } sheet ? new(sheet, null, [])
            : Number("revision-") is { } revision ? new(null, revision, [.. plugs.Split(',', StringSplitOptions.RemoveEmptyEntries)])
            : null;
    }
}
