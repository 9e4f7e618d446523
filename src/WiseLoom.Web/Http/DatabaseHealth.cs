using Microsoft.Extensions.Diagnostics.HealthChecks;
using Npgsql;

namespace WiseLoom.Web.Http;

/// <summary>The application is well when its database answers.</summary>
internal sealed class DatabaseHealth(NpgsqlDataSource source) : IHealthCheck
{
    public async Task<HealthCheckResult> CheckHealthAsync(HealthCheckContext context, CancellationToken cancellationToken = default)
    {
        try
        {
            await using var ask = source.CreateCommand("select 1");
            await ask.ExecuteScalarAsync(cancellationToken);
            return HealthCheckResult.Healthy();
        }
        catch (NpgsqlException e)
        {
            return new HealthCheckResult(context.Registration.FailureStatus, "The database does not answer.", e);
        }
    }
}
