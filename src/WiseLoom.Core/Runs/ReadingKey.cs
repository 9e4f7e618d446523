using System.Globalization;
using System.Security.Cryptography;
using System.Text;

namespace WiseLoom.Core.Runs;

/// <summary>Keys for readings that come from a file, whose rows have none: the same row of the same run has the same key whenever it is brought in, so that a file that
/// comes twice, or grown by some rows, adds nothing twice.</summary>
public sealed class ReadingKey(long run)
{
    private readonly Dictionary<string, int> seen = new(StringComparer.Ordinal);

    /// <summary>The key of the next row of the file.</summary>
    /// <param name="row">Its content; a row that stands twice in a file is two readings.</param>
    /// <returns>A UUID of version 8 (RFC 9562, 5.8): SHA-256 over run, content and how often that was there before.</returns>
    public Guid Of(string row)
    {
        ArgumentNullException.ThrowIfNull(row);
        var times = seen[row] = seen.GetValueOrDefault(row) + 1;
        Span<byte> hash = stackalloc byte[SHA256.HashSizeInBytes];
        SHA256.HashData(Encoding.UTF8.GetBytes(string.Create(CultureInfo.InvariantCulture, $"{run}|{times}|{row}")), hash);
        hash[6] = (byte)((hash[6] & 0x0f) | 0x80);
        hash[8] = (byte)((hash[8] & 0x3f) | 0x80);
        return new Guid(hash[..16], bigEndian: true);
    }
}
