using System.Collections.Immutable;
using System.Text.RegularExpressions;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Shop;

/// <summary>What a meter of the shop may be entered as.</summary>
public static partial class MeterRules
{
    /// <summary>The profiles that are known by name; <c>own</c> brings its own figures.</summary>
    public static ImmutableArray<string> Profiles { get; } = ["bench-four-wire", "hand-two-wire", "own"];

    private const int MostRanges = 12;

    /// <summary>What of an address cannot be.</summary>
    /// <returns>Empty when it can.</returns>
    public static ImmutableArray<Problem> OfAddress(string? host, int? port, SerialWay? serial, bool matrix)
    {
        var problems = ImmutableArray.CreateBuilder<Problem>();
        if (host is null != port is null)
        {
            problems.Add(new(host is null ? "/host" : "/port", "An address is a host and a port; a meter that is read by eye has neither."));
        }

        if (host is not null && !HostForm().IsMatch(host))
        {
            problems.Add(new("/host", "Write a name such as bench-meter, or an address such as 192.168.4.20, without port or path."));
        }

        if (port is < 1 or > 65535)
        {
            problems.Add(new("/port", "A port lies between 1 and 65535; many meters answer at 5025."));
        }

        if (host is not null && serial is not null)
        {
            problems.Add(new("/serial", "A meter answers at one place: at an address, or at a serial port."));
        }

        if (matrix && ((host is null && serial is null) || serial?.Lines is not null))
        {
            problems.Add(new("/matrix", "A switch matrix takes SCPI commands: give the address or the serial port at which it does."));
        }

        return problems.ToImmutable();
    }

    /// <summary>What of a meter's own figures cannot be.</summary>
    /// <returns>Empty when they can; places as JSON pointers below <c>/figures</c>.</returns>
    public static ImmutableArray<Problem> OfFigures(Meter figures)
    {
        ArgumentNullException.ThrowIfNull(figures);
        var problems = ImmutableArray.CreateBuilder<Problem>();
        void Within(string at, double value, double least, double most, string unit)
        {
            if (!(value >= least && value <= most))
            {
                problems.Add(new("/figures" + at, FormattableString.Invariant($"{value:0.######}{unit} cannot be; it lies between {least:0.######} and {most:0.######}{unit}.")));
            }
        }

        Within("/touchOhms", figures.TouchOhms, 0, 10, " Ω");
        Within("/leadOhms", figures.LeadOhms, 0, 10, " Ω");
        if (figures.Ranges.IsDefaultOrEmpty || figures.Ranges.Length > MostRanges)
        {
            problems.Add(new("/figures/ranges", $"A meter has 1 to {MostRanges} ranges."));
            return problems.ToImmutable();
        }

        for (var i = 0; i < figures.Ranges.Length; i++)
        {
            var range = figures.Ranges[i];
            Within($"/ranges/{i}/percent", range.Percent, 0, 20, " %");
            Within($"/ranges/{i}/counts", range.Counts, 0, 1000, "");
            Within($"/ranges/{i}/upToOhms", range.UpToOhms, 0.1, 1e12, " Ω");
            if (!(range.ResolutionOhms > 0 && range.ResolutionOhms <= range.UpToOhms))
            {
                problems.Add(new($"/figures/ranges/{i}/resolutionOhms", "A step of the last digit is more than 0 and no more than the range."));
            }

            if (i > 0 && !(range.UpToOhms > figures.Ranges[i - 1].UpToOhms))
            {
                problems.Add(new($"/figures/ranges/{i}/upToOhms", "Ranges rise from row to row."));
            }
        }

        return problems.ToImmutable();
    }

    [GeneratedRegex(@"^[A-Za-z0-9]([A-Za-z0-9.:-]{0,251}[A-Za-z0-9])?$", RegexOptions.CultureInvariant)]
    private static partial Regex HostForm();
}
