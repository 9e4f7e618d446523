using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Sightings;
using WiseLoom.Instruments;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.PowerUp;

/// <summary>What a controller said to a check.</summary>
/// <param name="Answer">Null when it said nothing.</param>
/// <param name="Wrong">Why not, in words.</param>
internal sealed record SaidByController(Answer? Answer, ImmutableArray<string> Findings, ImmutableArray<Sighting> Besides, string? Wrong);

/// <summary>The way to the shop's controllers.</summary>
internal static class ControllerDesk
{
    /// <summary>How long triggers are logged for a check, milliseconds.</summary>
    private const int LogMs = 3000;

    /// <summary>A controller by its name; null when the shop has none of that name, or none that may answer where it is entered.</summary>
    internal static async Task<IController?> FindAsync(InstrumentNetworks networks, PowerUpTemplate template, string? name, CancellationToken cancel) =>
        template.Controllers.FirstOrDefault(c => c.Name == name) is { } entered && await networks.FindAsync(entered.Host, entered.Port, cancel) is (null, var address) ? new ControllerLine(address, entered.Port) : null;

    /// <summary>Asks a controller for a check; where an engine is simulated behind it, the check is done there by hand.</summary>
    internal static async Task<SaidByController> DoAsync(InstrumentNetworks networks, PowerUpTemplate template, string? name, Loom loom, PowerUpPlan plan, double ambientC, PowerUpCheck check, CancellationToken cancel)
    {
        if (await FindAsync(networks, template, name, cancel) is not { } controller)
        {
            return new(null, [], [], name is null ? "Say what was seen, or choose the controller that is asked." : $"The shop has no controller ‘{name}’ any more.");
        }

        try
        {
            var practice = await controller.PracticeAsync(cancel);
            if (practice is not null && check.Asks == Asked.Nothing)
            {
                var found = await practice.DoAsync(check, cancel);
                return new(found.Answer, found.Findings, [], null);
            }

            if (check.Asks == Asked.Nothing)
            {
                return new(null, [], [], "A meter, eye or ear answers this check, not the controller.");
            }

            if (practice is not null)
            {
                await practice.PutAsync(check, cancel);
            }

            var report = await ReportAsync(controller, check.Asks, cancel);
            return report.For(loom, plan.Fit, ambientC, check) is { } told
                ? new(told.Answer, told.Findings, told.Besides, null)
                : new(null, [], [], "The controller does not tell this. Look, and answer by hand.");
        }
        catch (ControllerException e)
        {
            return check.Asks == Asked.Identity ? new(new SeenAnswer(Outcome.StaysSilent), [e.Message], [], null) : new(null, [], [], e.Message);
        }
    }

    /// <summary>What a check asks for.</summary>
    private static async Task<ControllerReport> ReportAsync(IController controller, Asked asks, CancellationToken cancel)
    {
        var silent = ControllerReport.Silent;
        if (asks is Asked.Log or Asked.Sync or Asked.Compressions)
        {
            return silent with { Log = await controller.LogAsync(LogMs, cancel) };
        }

        var named = silent with { Identity = await controller.IdentityAsync(cancel) };
        switch (asks)
        {
            case Asked.Settings:
                return named with { Settings = Named(await controller.SettingsAsync(cancel)) };
            case Asked.Codes:
                await controller.ClearAsync(cancel);
                return named with { Codes = [.. (await controller.CodesAsync(cancel)).Select(c => c.Code)] };
            case Asked.Live or Asked.Temperatures:
                var live = await controller.LiveAsync(cancel);
                return named with
                {
                    Volts = live.DistinctBy(v => v.Pin).ToImmutableDictionary(v => v.Pin, v => v.Volts, StringComparer.Ordinal),
                    Values = live.Where(v => v.Value is not null).DistinctBy(v => v.Channel).ToImmutableDictionary(v => v.Channel, v => v.Value!.Value, StringComparer.Ordinal),
                };
            default:
                return named;
        }
    }

    /// <summary>Settings by name; of two of one name the first.</summary>
    internal static ImmutableDictionary<string, ControllerSetting> Named(ImmutableArray<ControllerSetting> settings) => settings.DistinctBy(s => s.Name).ToImmutableDictionary(s => s.Name, StringComparer.Ordinal);
}
