namespace WiseLoom.Core.PowerUp;

/// <summary>What a limited supply is set to for the first power.</summary>
/// <param name="Amps">The limit, amperes.</param>
/// <param name="Standing">What the loom draws with controller and loads off and the key off, amperes.</param>
/// <param name="Why">How it comes to that.</param>
public sealed record CurrentLimit(double Amps, double Standing, string Why)
{
    /// <summary>The least that a usual bench supply is set to, amperes; and how far above what flows the limit stands.</summary>
    private const double LeastAmps = 0.5, Times = 2, Steps = 0.5;

    /// <summary>Proposes a limit.</summary>
    /// <param name="standing">Amperes.</param>
    /// <param name="smallestFuse">Amperes; null without fuses.</param>
    internal static CurrentLimit For(double standing, double? smallestFuse)
    {
        var amps = Math.Max(LeastAmps, Math.Ceiling(Times * standing / Steps) * Steps);
        var fuse = smallestFuse is { } smallest ? amps < smallest ? $" It is below the smallest fuse ({Say.Amps(smallest)}), so that no fuse has to blow to show a short." : $" It is not below the smallest fuse ({Say.Amps(smallest)}): that fuse may blow first." : "";
        return new(amps, standing, $"{(standing < 1e-6 ? "Nothing draws current" : $"{Say.Amps(standing)} flow")} with controller and loads off and the key off; the limit stands at {(amps <= LeastAmps ? "the least of a usual supply" : "twice that, rounded up")}.{fuse} A dead short pulls the supply down to almost 0 V and holds it at {Say.Amps(amps)}.");
    }
}
