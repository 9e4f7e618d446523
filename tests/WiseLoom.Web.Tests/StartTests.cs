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
}
