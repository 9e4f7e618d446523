using System.Globalization;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Shop;

namespace WiseLoom.Instruments;

/// <summary>A meter that speaks SCPI, with a switch matrix or with probes in somebody's hands.</summary>
/// <param name="line">The way to it.</param>
/// <param name="fourWire">Whether it is asked for a reading with four leads.</param>
/// <param name="matrix">Whether it closes the way to both places itself.</param>
public sealed class ScpiMeter(ScpiLine line, bool fourWire, bool matrix) : IBenchMeter
{
    /// <inheritdoc/>
    public async Task<Reading> MeasureAsync(Loom loom, StepProbes probes, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(probes);

        // Hands plug devices in at a real bench; a stand-in has to be told.
        string[] fit = probes.Fitted.IsEmpty || await LoomAsync(cancel).ConfigureAwait(false) is null ? [] : [$"SIM:FIT {string.Join(',', probes.Fitted)}"];
        return await ReadAsync(fit, () => new Fixture(loom).ChannelList(probes.Red, probes.Black), cancel).ConfigureAwait(false);
    }

    /// <inheritdoc/>
    public Task<Reading> CheckAsync(Loom loom, CheckKind check, CancellationToken cancel) => ReadAsync([], () => new Fixture(loom).ChannelList(check), cancel);

    /// <inheritdoc/>
    public async Task<string> IdentityAsync(CancellationToken cancel)
    {
        var (answer, errors) = await line.ExchangeAsync([], "*IDN?", cancel).ConfigureAwait(false);
        return errors.Count == 0 && answer.Length > 0 ? LinePattern.Shown(answer) : throw new MeterException($"What answers there does not say what it is: it answered '{LinePattern.Shown(answer)}'.");
    }

    /// <inheritdoc/>
    public async Task<int> RepairAsync(string place, CancellationToken cancel)
    {
        var answer = await AskAsync([], $"LOOM:REP? \"{place.Replace("\"", "", StringComparison.Ordinal).ReplaceLineEndings("")}\"", cancel).ConfigureAwait(false);
        return int.TryParse(answer, NumberStyles.Integer, CultureInfo.InvariantCulture, out var count)
            ? count
            : throw new MeterException("This meter is not a practice stand-in: repair the loom itself.");
    }

    /// <inheritdoc/>
    public async Task<string?> LoomAsync(CancellationToken cancel)
    {
        var (answer, errors) = await line.ExchangeAsync([], "LOOM:NAME?", cancel).ConfigureAwait(false);
        return errors.Count == 0 && answer.Length > 0 ? answer : null;
    }

    /// <inheritdoc/>
    public Task MoveAsync(bool moved, CancellationToken cancel) => line.ExchangeAsync([$"SIM:MOVE {(moved ? "ON" : "OFF")}"], "*IDN?", cancel);

    private async Task<Reading> ReadAsync(string[] before, Func<string> channels, CancellationToken cancel)
    {
        var answer = await AskAsync(matrix ? [.. before, "ROUT:OPEN:ALL", $"ROUT:CLOS {channels()}"] : before, fourWire ? "MEAS:FRES?" : "MEAS:RES?", cancel).ConfigureAwait(false);
        if (!double.TryParse(answer, NumberStyles.Float, CultureInfo.InvariantCulture, out var ohms) || !double.IsFinite(ohms))
        {
            throw new MeterException($"The meter answered '{LinePattern.Shown(answer)}', which is not a number.");
        }

        return MeterNumber.Read(ohms) ?? throw new MeterException($"The meter answered {LinePattern.Shown(answer)} Ω, which no meter of resistance shows.");
    }

    private async Task<string> AskAsync(string[] commands, string query, CancellationToken cancel)
    {
        var (answer, errors) = await line.ExchangeAsync(commands, query, cancel).ConfigureAwait(false);
        return errors.Count == 0 ? answer : throw new MeterException($"The meter reports: {string.Join("; ", errors.Select(LinePattern.Shown))}.");
    }
}
