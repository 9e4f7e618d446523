using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Planning;

/// <summary>Time for getting from one touch to the next, seconds.</summary>
/// <param name="Touch">Each touch.</param>
/// <param name="Connector">Moving a probe to another connector.</param>
/// <param name="ShortingPlug">Taking one net off the shorting plug and putting the last one back.</param>
/// <param name="Clips">Clipping supply and load to another pair.</param>
public sealed record TouchCost(double Touch = 2.5, double Connector = 8, double ShortingPlug = 5, double Clips = 20)
{
    /// <summary>Seconds for a step that follows another.</summary>
    /// <param name="from">Where the probes were; null for the first step.</param>
    public double Between((ProbePoint Black, ProbePoint? Red)? from, (ProbePoint Black, ProbePoint? Red) to)
    {
        var seconds = Touch;
        if (from?.Black.Connector != to.Black.Connector)
        {
            seconds += Connector;
        }

        if (to.Red is not { } red)
        {
            return seconds + ShortingPlug;
        }

        return from?.Red?.Connector != red.Connector ? seconds + Connector : seconds;
    }
}
