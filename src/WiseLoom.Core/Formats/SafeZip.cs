using System.Globalization;
using System.IO.Compression;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Formats;

/// <summary>Looks into an archive before anything in it is believed.</summary>
internal static class SafeZip
{
    /// <summary>What all files of an archive may hold together once unpacked, bytes.</summary>
    internal const long MostUnpacked = 64L * 1024 * 1024;

    private const int MostFiles = 400;

    internal static bool IsZip(ReadOnlySpan<byte> bytes) => bytes.StartsWith("PK\u0003\u0004"u8) || bytes.StartsWith("PK\u0005\u0006"u8);

    /// <summary>Unpacks into nothing and counts; the sizes that the archive states for itself are not believed.</summary>
    /// <returns>The names of its files; null when it is damaged or unpacks to too much, which is then a problem.</returns>
    internal static List<string>? Names(byte[] bytes, string source, List<Problem> problems)
    {
        try
        {
            using var zip = new ZipArchive(new MemoryStream(bytes, false), ZipArchiveMode.Read);
            if (zip.Entries.Count > MostFiles)
            {
                problems.Add(new(source, $"Holds {zip.Entries.Count} files; at most {MostFiles} are opened."));
                return null;
            }

            var buffer = new byte[81920];
            long total = 0;
            foreach (var entry in zip.Entries)
            {
                using var stream = entry.Open();
                int read;
                while ((read = stream.Read(buffer)) > 0)
                {
                    total += read;
                    if (total > MostUnpacked)
                    {
                        problems.Add(new($"{source}, {entry.FullName}", string.Create(CultureInfo.InvariantCulture, $"Unpacks to more than {MostUnpacked / 1048576} MB: this is no table of a loom.")));
                        return null;
                    }
                }
            }

            return [.. zip.Entries.Select(e => e.FullName)];
        }
        catch (Exception e) when (e is InvalidDataException or NotSupportedException or EndOfStreamException)
        {
            problems.Add(new(source, "The file is damaged: it cannot be unpacked."));
            return null;
        }
    }
}
