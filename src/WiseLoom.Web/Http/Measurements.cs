using Npgsql;
using OpenTelemetry.Metrics;
using OpenTelemetry.Trace;

namespace WiseLoom.Web.Http;

/// <summary>What a request and each statement cost, told to a collector when one is named.</summary>
internal static class Measurements
{
    /// <summary>Where the collector listens, as OpenTelemetry's own variable names it.</summary>
    private const string Collector = "OTEL_EXPORTER_OTLP_ENDPOINT";

    /// <summary>Sends traces and measures by OTLP; without a collector nothing is measured and nothing costs.</summary>
    internal static void AddMeasurements(this WebApplicationBuilder builder)
    {
        if (string.IsNullOrEmpty(builder.Configuration[Collector]))
        {
            // The host begins a trace for each request as soon as its own diagnostics may log at all.
            builder.Logging.AddFilter("Microsoft.AspNetCore.Hosting.Diagnostics", LogLevel.None);
            return;
        }

        builder.Services.AddOpenTelemetry()
            .WithTracing(t => t.AddSource("Microsoft.AspNetCore").AddNpgsql().AddOtlpExporter())
            .WithMetrics(m => m.AddMeter("Microsoft.AspNetCore.Hosting", "Microsoft.AspNetCore.Server.Kestrel", "Npgsql").AddOtlpExporter());
    }
}
