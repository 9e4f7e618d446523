using System.Reflection;
using DbUp;
using DbUp.Engine;
using Npgsql;

namespace WiseLoom.Store;

/// <summary>Brings a database to the schema this build needs.</summary>
public static class Database
{
    /// <summary>Channel on which the database tells which job has changed; the payload is the job's number.</summary>
    public const string JobChannel = "wise_loom_job";

    /// <summary>Runs the numbered scripts that this database has not seen yet, each in its own transaction, one process at a time.</summary>
    /// <exception cref="InvalidOperationException">A script failed; the database stays as it was before that script.</exception>
    public static void Migrate(string connectionString)
    {
        Ensure(connectionString);
        // Unpooled: the lock goes with the connection.
        using var one = new NpgsqlConnection(new NpgsqlConnectionStringBuilder(connectionString) { Pooling = false }.ConnectionString);
        one.Open();
        using (var wait = new NpgsqlCommand("select pg_advisory_lock(7110)", one))
        {
            wait.ExecuteNonQuery();
        }

        DatabaseUpgradeResult result = DeployChanges.To
            .PostgresqlDatabase(connectionString)
            .WithScriptsEmbeddedInAssembly(Assembly.GetExecutingAssembly())
            .WithTransactionPerScript()
            .LogToNowhere()
            .Build()
            .PerformUpgrade();
        if (!result.Successful)
        {
            throw new InvalidOperationException($"Migration {result.ErrorScript?.Name} failed: {result.Error.Message}", result.Error);
        }
    }

    private static void Ensure(string connectionString)
    {
        try
        {
            EnsureDatabase.For.PostgresqlDatabase(connectionString, new DbUp.Engine.Output.NoOpUpgradeLog());
        }
        catch (PostgresException e) when (e.SqlState is PostgresErrorCodes.UniqueViolation or PostgresErrorCodes.DuplicateDatabase)
        {
            // Another process that starts at the same moment has just made it.
        }
    }
}
