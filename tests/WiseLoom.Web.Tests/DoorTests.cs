using System.Diagnostics;
using Npgsql;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests;

/// <summary>The doors of the database: what the application's role may do, and what lies in it to be read.</summary>
public sealed class DoorTests(Shop shop)
{
    private static readonly string Server = Environment.GetEnvironmentVariable("WISELOOM_TEST_DB")!;

    private static readonly string AppServer = Environment.GetEnvironmentVariable("WISELOOM_TEST_APP_DB")!;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static string In(string server, string database) => new NpgsqlConnectionStringBuilder(server) { Database = database, Pooling = false }.ConnectionString;

    private static async Task<object?> AskAsync(string connection, string sql)
    {
        await using var open = new NpgsqlConnection(connection);
        await open.OpenAsync(Cancel);
        await using var command = new NpgsqlCommand(sql, open);
        return await command.ExecuteScalarAsync(Cancel);
    }

    [Theory]
    [InlineData("create table mine (id int)")]
    [InlineData("drop table people")]
    [InlineData("alter table people add column mine int")]
    [InlineData("truncate people cascade")]
    [InlineData("create role mine")]
    [InlineData("alter role wiseloom_schema password 'mine'")]
    [InlineData("copy people to program 'id'")]
    [InlineData("select pg_read_file('pg_hba.conf')")]
    [InlineData("drop trigger run_events_append_only on run_events")]
    [InlineData("select * from schemaversions")]
    [InlineData("set role wiseloom_schema")]
    public async Task The_applications_role_reads_and_writes_rows_and_nothing_else(string sql)
    {
        var name = $"door_{Guid.NewGuid():n}";
        Database.Migrate(In(Server, name), new NpgsqlConnectionStringBuilder(AppServer).Username);
        (await AskAsync(In(AppServer, name), "insert into people (id, sign_in, name, role, password_hash) values (gen_random_uuid(), 'mira', 'Mira', 'technician', 'x') returning name")).ShouldBe("Mira");
        (await Should.ThrowAsync<PostgresException>(() => AskAsync(In(AppServer, name), sql))).SqlState.ShouldBe(PostgresErrorCodes.InsufficientPrivilege);
    }

    [Theory]
    [InlineData("wiseloom", "")]
    [InlineData("wiseloom_schema", "")]
    [InlineData("wiseloom_schema", "wrong")]
    [InlineData("wiseloom_app", "")]
    [InlineData("postgres", "")]
    public async Task Nobody_comes_in_without_a_password(string role, string password) =>
        (await Should.ThrowAsync<NpgsqlException>(() => AskAsync(new NpgsqlConnectionStringBuilder(Server) { Username = role, Password = password, Pooling = false }.ConnectionString, "select 1"))).ShouldNotBeNull();

    [Fact]
    public async Task The_keys_of_cookies_lie_sealed()
    {
        await shop.TechnicianAsync();
        (await shop.CountAsync("select count(*) from cookie_keys where @run = 0", 0)).ShouldBeGreaterThan(0);
        (await shop.CountAsync("select count(*) from cookie_keys where (xml like '%masterKey%' or xml not like '%<encryptedSecret %') and @run = 0", 0)).ShouldBe(0);
    }

    [Theory]
    [InlineData(null, "WISELOOM_SECRET is not set")]
    [InlineData("short", "not of this form")]
    [InlineData("zz", "not of this form")]
    public void A_secret_that_is_none_keeps_the_application_from_starting(string? secret, string words) =>
        Should.Throw<InvalidOperationException>(() => People.KeySeal.Read(secret)).Message.ShouldContain(words);

    [Fact]
    public void What_was_sealed_opens_with_the_same_secret_only()
    {
        var key = System.Xml.Linq.XElement.Parse("<masterKey>copper</masterKey>");
        var seal = People.KeySeal.Read(new string('a', 64));
        var hidden = seal.Encrypt(key).EncryptedElement;
        hidden.ToString().ShouldNotContain("copper");
        seal.Open(hidden).ToString().ShouldBe(key.ToString());
        Should.Throw<System.Security.Cryptography.CryptographicException>(() => People.KeySeal.Read(new string('b', 64)).Open(hidden));
        seal.Encrypt(key).EncryptedElement.Value.ShouldNotBe(hidden.Value, "a nonce of its own each time");
    }

    [Fact]
    public async Task A_data_folder_from_before_there_were_passwords_is_moved_over_with_what_is_in_it()
    {
        var folder = Directory.CreateTempSubdirectory("wise-loom-old-");
        var root = Root();
        var script = $$"""
            set -euo pipefail
            cd '{{root}}'
            . scripts/machine.sh; . scripts/postgres.sh
            folder='{{folder.FullName}}/pg'; chmod 755 '{{folder.FullName}}'; mkdir -p "$folder"; [ "$(id -u)" != 0 ] || chown postgres: "$folder"
            port=$(free_port); bin=$(postgres_bin)
            trap 'stop_postgres "$folder"' EXIT
            (cd "$folder" && as_postgres "$bin/initdb" -D "$folder" -U wiseloom --auth=trust -E UTF8 --locale=C.UTF-8 >/dev/null)
            (cd "$folder" && as_postgres "$bin/pg_ctl" -D "$folder" -l "$folder/server.log" -w -o "-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories='$folder'" start >/dev/null)
            psql -h 127.0.0.1 -p "$port" -U wiseloom -d postgres -qc 'create database wiseloom'
            psql -h 127.0.0.1 -p "$port" -U wiseloom -d wiseloom -qc 'create table kept (id bigint generated always as identity primary key, word text); insert into kept (word) values ($$copper$$); create sequence order_of_all; create view seen as select word from kept; create function told() returns trigger language plpgsql as $$ begin return null; end $$; create trigger tell after insert on kept for each row execute function told()'
            stop_postgres "$folder"
            start_postgres "$folder" "$port"
            ! psql -h 127.0.0.1 -p "$port" -U wiseloom -d wiseloom -Atc 'select 1' 2>/dev/null
            PGPASSWORD=${schema_login##*Password=} psql -h 127.0.0.1 -p "$port" -U wiseloom_schema -d wiseloom -qAtc "insert into kept (word) values ('crimp'); alter table kept add column more int; alter sequence order_of_all restart with 7; drop function told cascade; select string_agg(word, ' ' order by id) from kept"
            stat -c %a "$folder.secrets"
            stop_postgres "$folder"
            before=$schema_login; start_postgres "$folder" "$port"; [ "$before" = "$schema_login" ] && echo same
            """;
        using var bash = Process.Start(new ProcessStartInfo("bash", ["-c", script]) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        var (said, wrong) = (bash.StandardOutput.ReadToEndAsync(Cancel), bash.StandardError.ReadToEndAsync(Cancel));
        await bash.WaitForExitAsync(Cancel);
        bash.ExitCode.ShouldBe(0, await wrong);
        (await said).Split('\n', StringSplitOptions.RemoveEmptyEntries).ShouldBe(["copper crimp", "600", "same"]);
        folder.Delete(recursive: true);
    }

    private static string Root()
    {
        var at = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(at, "wise-loom")))
        {
            at = Path.GetDirectoryName(at)!;
        }

        return at;
    }
}
