using System.Diagnostics;
using Npgsql;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests;

public sealed class StartTests(Shop shop)
{
    [Fact]
    public async Task Several_processes_that_start_at_once_on_an_empty_server_share_one_database()
    {
        var fresh = new NpgsqlConnectionStringBuilder(shop.Database) { Database = $"start_{Guid.NewGuid():n}" }.ConnectionString;
        await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Task.Run(() => Database.Migrate(fresh), TestContext.Current.CancellationToken)));

        await using var connection = new NpgsqlConnection(fresh);
        await connection.OpenAsync(TestContext.Current.CancellationToken);
        await using var count = new NpgsqlCommand("select count(*) from schemaversions where scriptname like '%.sql'", connection);
        ((long)(await count.ExecuteScalarAsync(TestContext.Current.CancellationToken))!).ShouldBe(typeof(Database).Assembly.GetManifestResourceNames().Count(n => n.EndsWith(".sql", StringComparison.Ordinal)), "each script ran once");
    }

    [Fact]
    public async Task An_application_refuses_a_schema_that_is_newer_than_itself_in_words_and_leaves_it_as_it_is()
    {
        var newer = new NpgsqlConnectionStringBuilder(shop.Database) { Database = $"newer_{Guid.NewGuid():n}" }.ConnectionString;
        Database.Migrate(newer);
        await using (var connection = new NpgsqlConnection(newer))
        {
            await connection.OpenAsync(TestContext.Current.CancellationToken);
            await using var change = new NpgsqlCommand("insert into schemaversions (scriptname, applied) values ('WiseLoom.Store.Migrations.9999_from_the_future.sql', now())", connection);
            await change.ExecuteNonQueryAsync(TestContext.Current.CancellationToken);
        }

        Should.Throw<NewerSchemaException>(() => Database.Migrate(newer)).Message.ShouldContain("9999_from_the_future.sql), which this one does not know. Nothing was done to it. Start the newer program");

        var start = new ProcessStartInfo("dotnet", [typeof(Program).Assembly.Location]) { RedirectStandardError = true, RedirectStandardOutput = true };
        (start.Environment["WISELOOM_DB"], start.Environment["WISELOOM_SECRET"], start.Environment["ASPNETCORE_URLS"]) = (newer, new string('7', 64), "http://127.0.0.1:0");
        using var process = Process.Start(start)!;
        var said = await process.StandardError.ReadToEndAsync(TestContext.Current.CancellationToken);
        await process.WaitForExitAsync(TestContext.Current.CancellationToken);
        process.ExitCode.ShouldBe(NewerSchemaException.ExitCode);
        said.ShouldStartWith("This database was changed by a newer Wise Loom");
        said.ShouldNotContain(" at WiseLoom");
    }
}
