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
    /// <param name="connectionString">As the role that owns the tables; it makes the database when it is not there.</param>
    /// <param name="application">The role of the application, which gets the rows of the tables and nothing else; null, or the owner itself, for one role for all.</param>
    /// <exception cref="InvalidOperationException">A script failed; the database stays as it was before that script.</exception>
    /// <exception cref="NewerSchemaException">A newer build has changed the database; nothing is done to it.</exception>
    public static void Migrate(string connectionString, string? application = null)
    {
        Ensure(connectionString);
        // Unpooled: the lock goes with the connection.
        using var one = new NpgsqlConnection(new NpgsqlConnectionStringBuilder(connectionString) { Pooling = false }.ConnectionString);
        one.Open();
        using (var wait = new NpgsqlCommand("select pg_advisory_lock(7110)", one))
        {
            wait.ExecuteNonQuery();
        }

        RefuseNewer(one);
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

        if (application is not null && application != new NpgsqlConnectionStringBuilder(connectionString).Username)
        {
            Grant(one, application);
        }
    }

    /// <summary>A build that does not know what was changed would write rows that the newer one takes for its own.</summary>
    private static void RefuseNewer(NpgsqlConnection connection)
    {
        using var journal = new NpgsqlCommand("select to_regclass('public.schemaversions') is not null", connection);
        if (!(bool)journal.ExecuteScalar()!)
        {
            return;
        }

        var known = Assembly.GetExecutingAssembly().GetManifestResourceNames().ToHashSet(StringComparer.Ordinal);
        using var ask = new NpgsqlCommand("select scriptname from schemaversions order by schemaversionsid", connection);
        using var rows = ask.ExecuteReader();
        while (rows.Read())
        {
            if (!known.Contains(rows.GetString(0)))
            {
                throw new NewerSchemaException(rows.GetString(0));
            }
        }
    }

    private static void Grant(NpgsqlConnection connection, string role)
    {
        using var ask = new NpgsqlCommand("""
            select format('revoke all on database %1$I from public; grant connect on database %1$I to %2$I; revoke all on schema public from public; grant usage on schema public to %2$I;
                           grant select, insert, update, delete on all tables in schema public to %2$I; grant usage on all sequences in schema public to %2$I; revoke all on schemaversions from %2$I;', current_database(), @role)
            """, connection);
        ask.Parameters.AddWithValue("role", role);
        using var grant = new NpgsqlCommand((string)ask.ExecuteScalar()!, connection);
        grant.ExecuteNonQuery();
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

/// <summary>The database was changed by a newer build than this one.</summary>
/// <param name="script">The first change that this build does not know.</param>
public sealed class NewerSchemaException(string script)
    : Exception($"This database was changed by a newer Wise Loom ({script}), which this one does not know. Nothing was done to it. Start the newer program, or restore a backup from before the upgrade into another database.")
{
    /// <summary>With what the application ends then: its surroundings are not as they must be.</summary>
    public const int ExitCode = 78;
}
