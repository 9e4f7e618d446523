using System.Globalization;
using System.Text.RegularExpressions;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Instruments;

/// <summary>How a switch matrix is wired to a loom: its columns are the loom's probe points in order, from 1, after them the two ends of a known link, and then the cavities without a wire.</summary>
/// <remarks>A channel is written <c>ROW!COLUMN</c>, as SCPI writes a place in a matrix: row 1 is the red probe, row 2 the black one.</remarks>
public sealed partial class Fixture
{
    public const int RedRow = 1;

    public const int BlackRow = 2;

    private readonly List<ProbePoint> points;
    private readonly List<ProbePoint> empty;
    private readonly Dictionary<ProbePoint, int> columnOf;

    public Fixture(Loom loom)
    {
        points = [.. loom.ProbePoints()];
        empty = [.. loom.Connectors.SelectMany(c => c.Family.Cavities.Select(x => new ProbePoint(c.Ref, x))).Except(points)];
        columnOf = points.Select((p, i) => (p, Column: i + 1)).Concat(empty.Select((p, i) => (p, Column: points.Count + 3 + i))).ToDictionary(x => x.p, x => x.Column);
    }

    /// <summary>The channel list that closes both probes on their points, such as <c>(@1!17,2!4)</c>.</summary>
    public string ChannelList(IEnumerable<ProbePoint> red, IEnumerable<ProbePoint> black) =>
        $"(@{string.Join(',', red.Select(p => Channel(RedRow, p)).Concat(black.Select(p => Channel(BlackRow, p))))})";

    /// <summary>The channel list that sets up a check: both probes on the first column, only one on it, or each on an end of the known link.</summary>
    public string ChannelList(CheckKind check) => string.Create(
        CultureInfo.InvariantCulture,
        $"(@{check switch { CheckKind.LeadZero => $"{RedRow}!1,{BlackRow}!1", CheckKind.Range => $"{RedRow}!1", _ => $"{RedRow}!{points.Count + 1},{BlackRow}!{points.Count + 2}" }})");

    /// <summary>The loom's point at a column; null for an end of the known link.</summary>
    public ProbePoint? PointAt(int column) => column <= points.Count ? points[column - 1] : column > points.Count + 2 ? empty[column - points.Count - 3] : null;

    /// <summary>Reads a channel list.</summary>
    /// <returns>Row and column of each channel; null when the list is malformed or names a column that is not there.</returns>
    public IReadOnlyList<(int Row, int Column)>? Parse(string list)
    {
        if (!ListForm().IsMatch(list))
        {
            return null;
        }

        var channels = new List<(int, int)>();
        foreach (var channel in list.Trim()[2..^1].Split(','))
        {
            var parts = channel.Split('!');
            if (!int.TryParse(parts[0], NumberStyles.None, CultureInfo.InvariantCulture, out var row)
                || !int.TryParse(parts[1], NumberStyles.None, CultureInfo.InvariantCulture, out var column)
                || row is not (RedRow or BlackRow) || column < 1 || column > points.Count + 2 + empty.Count)
            {
                return null;
            }

            channels.Add((row, column));
        }

        return channels;
    }

    [GeneratedRegex(@"^\s*\(@\d{1,6}!\d{1,6}(,\d{1,6}!\d{1,6})*\)\s*$", RegexOptions.CultureInvariant)]
    private static partial Regex ListForm();

    private string Channel(int row, ProbePoint point) => string.Create(CultureInfo.InvariantCulture, $"{row}!{columnOf[point]}");
}
