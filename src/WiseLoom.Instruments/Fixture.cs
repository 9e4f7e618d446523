using System.Globalization;
using System.Text.RegularExpressions;
using WiseLoom.Core.Looms;

namespace WiseLoom.Instruments;

/// <summary>How a switch matrix is wired to a loom: its columns are the loom's probe points in order, from 1.</summary>
/// <remarks>A channel is written <c>ROW!COLUMN</c>, as SCPI writes a place in a matrix: row 1 is the red probe, row 2 the black one.</remarks>
public sealed partial class Fixture
{
    public const int RedRow = 1;

    public const int BlackRow = 2;

    private readonly List<ProbePoint> points;
    private readonly Dictionary<ProbePoint, int> columnOf;

    public Fixture(Loom loom)
    {
        points = [.. loom.ProbePoints()];
        columnOf = points.Select((p, i) => (p, i)).ToDictionary(x => x.p, x => x.i + 1);
    }

    /// <summary>The channel list that closes both probes on their points, such as <c>(@1!17,2!4)</c>.</summary>
    public string ChannelList(IEnumerable<ProbePoint> red, IEnumerable<ProbePoint> black) =>
        $"(@{string.Join(',', red.Select(p => Channel(RedRow, p)).Concat(black.Select(p => Channel(BlackRow, p))))})";

    /// <summary>Reads a channel list.</summary>
    /// <returns>Row and point of each channel; null when the list is malformed or names a column that is not there.</returns>
    public IReadOnlyList<(int Row, ProbePoint Point)>? Parse(string list)
    {
        if (!ListForm().IsMatch(list))
        {
            return null;
        }

        var channels = new List<(int, ProbePoint)>();
        foreach (var channel in list.Trim()[2..^1].Split(','))
        {
            var parts = channel.Split('!');
            if (!int.TryParse(parts[0], NumberStyles.None, CultureInfo.InvariantCulture, out var row)
                || !int.TryParse(parts[1], NumberStyles.None, CultureInfo.InvariantCulture, out var column)
                || row is not (RedRow or BlackRow) || column < 1 || column > points.Count)
            {
                return null;
            }

            channels.Add((row, points[column - 1]));
        }

        return channels;
    }

    [GeneratedRegex(@"^\s*\(@\d{1,6}!\d{1,6}(,\d{1,6}!\d{1,6})*\)\s*$", RegexOptions.CultureInvariant)]
    private static partial Regex ListForm();

    private string Channel(int row, ProbePoint point) => string.Create(CultureInfo.InvariantCulture, $"{row}!{columnOf[point]}");
}
