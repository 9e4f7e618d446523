using WiseLoom.Core.Devices;

namespace WiseLoom.Core.Circuits;

/// <summary>A diode in a circuit, from anode to cathode.</summary>
/// <param name="From">Node of the anode.</param>
/// <param name="To">Node of the cathode.</param>
/// <param name="Label">What it is.</param>
internal sealed record Junction(int From, int To, DiodeModel Model, string Label)
{
    /// <summary>Thermal voltage, volts. Source: the design's 25.85 mV (300 K).</summary>
    private const double ThermalVolts = 0.02585;

    private double Slope => Model.Ideality * ThermalVolts;

    /// <summary>The straight line that touches the curve where the junction itself has <paramref name="volts"/>.</summary>
    /// <returns>Siemens of the line and the amperes it crosses 0 V with, both from terminal to terminal.</returns>
    internal (double Siemens, double Amps) LineAt(double volts)
    {
        var grown = Model.SaturationAmps * Math.Exp(volts / Slope);
        var amps = grown - Model.SaturationAmps;
        var inner = grown / Slope;
        var siemens = inner / (1 + (Model.SeriesOhms * inner));
        return (siemens, amps - (siemens * (volts + (amps * Model.SeriesOhms))));
    }

    /// <summary>Amperes for a junction voltage.</summary>
    internal double AmpsAt(double volts) => Model.SaturationAmps * (Math.Exp(volts / Slope) - 1);

    /// <summary>How steep the curve is at a junction voltage, siemens.</summary>
    internal double SiemensAt(double volts) => Model.SaturationAmps * Math.Exp(volts / Slope) / Slope;

    /// <summary>The junction's own voltage when terminals have <paramref name="volts"/> and carry <paramref name="amps"/>.</summary>
    internal double Inner(double volts, double amps) => volts - (amps * Model.SeriesOhms);

    /// <summary>Holds a step back where the exponential would run away (the usual limiting at a p–n junction).</summary>
    internal double Limited(double wanted, double now)
    {
        var critical = Slope * Math.Log(Slope / (Math.Sqrt(2) * Model.SaturationAmps));
        if (wanted <= critical || Math.Abs(wanted - now) <= 2 * Slope)
        {
            return wanted;
        }

        if (now > 0)
        {
            var step = 1 + ((wanted - now) / Slope);
            return step > 0 ? now + (Slope * Math.Log(step)) : critical;
        }

        return Slope * Math.Log(wanted / Slope);
    }
}
