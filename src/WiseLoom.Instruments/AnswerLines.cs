using System.Text;
using WiseLoom.Core.Shop;

namespace WiseLoom.Instruments;

/// <summary>Lines that come from an instrument, each ended by a line feed, a carriage return, or both.</summary>
/// <param name="where">As a person knows the place.</param>
internal sealed class AnswerLines(Stream stream, string where) : IDisposable
{
    /// <summary>Longest answer, characters.</summary>
    private const int LongestAnswer = 4096;

    private readonly StreamReader reader = new(stream, Encoding.UTF8, false, 512, leaveOpen: true);
    private readonly char[] one = new char[1];
    private bool afterReturn;

    /// <summary>The next line, which may be empty.</summary>
    /// <exception cref="MeterException">It hangs up, or never ends a line.</exception>
    internal async Task<string> NextAsync(CancellationToken cancel)
    {
        var line = new StringBuilder();
        while (await reader.ReadAsync(one.AsMemory(), cancel).ConfigureAwait(false) == 1)
        {
            var (sign, wasReturn) = (one[0], afterReturn);
            afterReturn = sign == '\r';
            if (sign == '\n' && wasReturn)
            {
                continue;
            }

            if (sign is '\n' or '\r')
            {
                return line.ToString();
            }

            if (line.Append(sign).Length > LongestAnswer)
            {
                throw new MeterException($"What answers at {where} does not end its line: it is no meter.");
            }
        }

        throw new MeterException($"The meter at {where} hung up before it answered.");
    }

    public void Dispose() => reader.Dispose();
}
