using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json;
using Npgsql;

namespace WiseLoom.Bench;

/// <summary>Eight benches that measure into one run for a minute, through the application over HTTP, and the shop's list with 2,000 jobs.
/// Each reading is sent at its own time, whether or not the one before has been answered.</summary>
internal static class BenchLoad
{
    private const int Benches = 8, PerSecond = 20, Seconds = 60, Warm = 1000, Before = 400, Edge = 400, Jobs = 2000;

    internal static async Task<int> RunAsync()
    {
        var server = Environment.GetEnvironmentVariable("WISELOOM_TEST_DB") ?? throw new InvalidOperationException("WISELOOM_TEST_DB is not set: run ./wise-loom bench.");
        var database = new NpgsqlConnectionStringBuilder(server) { Database = $"load_{Environment.ProcessId}" }.ConnectionString;
        var root = Environment.GetEnvironmentVariable("WISELOOM_ROOT") ?? Directory.GetCurrentDirectory();
        var address = new Uri($"http://127.0.0.1:{FreePort()}");
        using var app = Start(root, address, database);
        try
        {
            await AnswersAsync(address);
            // One after the other: the same name at eight doors at once would be braked.
            var people = new BenchPerson[Benches];
            for (var i = 0; i < Benches; i++)
            {
                people[i] = await BenchPerson.AtAsync(address);
            }

            await WarmAsync(people);
            var (job, run, steps) = await RunOfAsync(people[0]);
            await MeasureAsync(app, people, run, steps);
            Report("  the database's own rate: one row a commit, eight writers", null, "a second", await InsertRateAsync(database));
            await ListAsync(people[0], database, job);
            await BesideMatrixAsync(people, run, steps);
        }
        finally
        {
            app.Kill();
            await app.WaitForExitAsync();
        }

        return 0;
    }

    /// <summary>Another run, so that the application is measured as it is after a morning's work and not while it compiles itself.</summary>
    private static async Task WarmAsync(BenchPerson[] people)
    {
        var (_, run, steps) = await RunOfAsync(people[0]);
        await Task.WhenAll(people.Select(async person =>
        {
            for (var i = 0; i < Warm; i++)
            {
                await person.TakeAsync(run, 1 + (i % steps), i);
            }
        }));
    }

    private static async Task MeasureAsync(Process app, BenchPerson[] people, long run, int steps)
    {
        for (var i = 0; i < Before; i++)
        {
            await people[i % Benches].TakeAsync(run, 1 + (i % steps), i);
        }

        app.Refresh();
        var processor = app.TotalProcessorTime;
        var clock = Stopwatch.StartNew();
        var late = new List<double>[Benches];
        var every = TimeSpan.FromSeconds(1.0 / PerSecond);
        await Task.WhenAll(people.Select((person, b) => Task.Run(async () =>
        {
            var answers = new List<Task<double>>();
            for (var i = 0; i < Seconds * PerSecond; i++)
            {
                var due = (every * i) + (every * b / Benches);
                if (due > clock.Elapsed)
                {
                    await Task.Delay(due - clock.Elapsed);
                }

                var step = 1 + (((i * Benches) + b) % steps);
                var sent = Before + i;
                answers.Add(Task.Run(async () =>
                {
                    await person.TakeAsync(run, step, sent);
                    return (clock.Elapsed - due).TotalMilliseconds;
                }));
            }

            late[b] = [.. await Task.WhenAll(answers)];
        })));
        app.Refresh();
        var all = late.SelectMany(l => l).Order().ToList();
        var took = clock.Elapsed.TotalSeconds;
        var stored = Before + all.Count;
        var first = late.SelectMany(l => l.Take(Edge / Benches)).Order().ToList();
        var last = late.SelectMany(l => l.TakeLast(Edge / Benches)).Order().ToList();
        Report($"8 benches at 20 readings/s for 60 s, one run of {steps} steps", null, "a second", all.Count / took);
        Report("  from its time to its acknowledgement, 99 of 100", 50, "ms", all[(int)(0.99 * (all.Count - 1))]);
        Report("  the median; the slowest of all", null, "ms", all[all.Count / 2]);
        Report("", null, "ms", all[^1]);
        Report($"  the median of the first {Edge}", null, "ms", first[first.Count / 2]);
        Report($"  the median of the last {Edge}, of {stored:#,0}", null, "ms", last[last.Count / 2]);
        Report("  processor of the application for each reading", 1.5, "ms", (app.TotalProcessorTime - processor).TotalMilliseconds / all.Count);
    }

    /// <summary>One bench measures while two others lay out the matrix of a large loom again and again.</summary>
    private static async Task BesideMatrixAsync(BenchPerson[] people, long run, int steps)
    {
        var (_, large, _) = await RunOfAsync(people[1], GeneratedLoom.File(2000, 3000, 1));
        using var enough = new CancellationTokenSource();
        var laid = 0;
        var others = people[1..3].Select(person => Task.Run(async () =>
        {
            while (!enough.IsCancellationRequested)
            {
                await person.ReadAsync($"/api/runs/{large}/matrix");
                Interlocked.Increment(ref laid);
            }
        })).ToArray();
        var times = new List<double>();
        var clock = Stopwatch.StartNew();
        for (var i = 0; i < 400; i++)
        {
            var due = TimeSpan.FromSeconds((double)i / PerSecond);
            await Task.Delay(due > clock.Elapsed ? due - clock.Elapsed : TimeSpan.Zero);
            var sent = clock.Elapsed;
            await people[0].TakeAsync(run, 1 + (i % steps), i);
            times.Add((clock.Elapsed - sent).TotalMilliseconds);
        }

        await enough.CancelAsync();
        await Task.WhenAll(others);
        Report($"a reading beside {laid} matrices of 3,000 wires, 95 of 100", 100, "ms", times.Order().ElementAt(379));
        Report("  the slowest of all", null, "ms", times.Max());
    }

    /// <summary>The same disk, the same server: how many rows it can make durable, one at a time, from eight connections.</summary>
    private static async Task<double> InsertRateAsync(string database)
    {
        await using var source = NpgsqlDataSource.Create(database);
        await using (var make = source.CreateCommand("create table scratch (id bigint generated always as identity primary key, body text not null)"))
        {
            await make.ExecuteNonQueryAsync();
        }

        var clock = Stopwatch.StartNew();
        var counts = await Task.WhenAll(Enumerable.Range(0, Benches).Select(async _ =>
        {
            await using var connection = await source.OpenConnectionAsync();
            await using var insert = new NpgsqlCommand("insert into scratch (body) values (repeat('x', 250))", connection);
            var count = 0;
            for (; clock.Elapsed.TotalSeconds < 5; count++)
            {
                await insert.ExecuteNonQueryAsync();
            }

            return count;
        }));
        return counts.Sum() / clock.Elapsed.TotalSeconds;
    }

    private static async Task ListAsync(BenchPerson person, string database, long job)
    {
        await using var source = NpgsqlDataSource.Create(database);
        await using (var fill = source.CreateCommand($"""
            insert into jobs (customer, machine, made_by) select customer, machine || ' ' || n, made_by from jobs, generate_series(1, {Jobs}) n where id = {job};
            insert into loom_revisions (job_id, name, revision, document, imported_by)
                select j.id, v.name, v.revision, v.document, v.imported_by from jobs j, loom_revisions v where j.id > {job} and v.job_id = {job};
            insert into runs (job_id, revision_id, meter_id, plan_hash, started_by, summary)
                select v.job_id, v.id, r.meter_id, r.plan_hash, r.started_by, r.summary from loom_revisions v, runs r where v.job_id > {job} and r.job_id = {job};
            analyze;
            """))
        {
            await fill.ExecuteNonQueryAsync();
        }

        var times = new List<double>();
        for (var i = 0; i < 30; i++)
        {
            var clock = Stopwatch.StartNew();
            await person.ReadAsync("/api/jobs");
            times.Add(clock.Elapsed.TotalMilliseconds);
        }

        Report($"job list of {Jobs:#,0} jobs: the page that opens, 29 of 30", 150, "ms", times.Order().ElementAt(28));
        var whole = Stopwatch.StartNew();
        var (seen, next) = (0, "");
        do
        {
            var page = await person.ReadAsync($"/api/jobs{next}");
            seen += page.GetProperty("jobs").GetArrayLength();
            next = page.GetProperty("next") is { ValueKind: JsonValueKind.Number } cursor ? $"?before={cursor.GetInt64()}" : null;
        }
        while (next is not null);
        Report($"  all {seen:#,0} of them, page by page", null, "ms", whole.Elapsed.TotalMilliseconds);
    }

    /// <summary>A job with a loom, and its run; without a file one whose plan has some 200 steps.</summary>
    private static async Task<(long Job, long Run, int Steps)> RunOfAsync(BenchPerson person, byte[]? file = null)
    {
        var job = (await person.PostAsync("/api/jobs", new { customer = "Hollow Lane Orchards", machine = "Tower fan", promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null })).GetProperty("id").GetInt64();
        await person.PostAsync($"/api/jobs/{job}/loom?after=0", JsonSerializer.Deserialize<JsonElement>(file ?? GeneratedLoom.File(120, 140, 1)));
        var run = await person.PostAsync($"/api/jobs/{job}/runs", new { meterId = 1, isolation = "neighbours", carryOver = false });
        return (job, run.GetProperty("id").GetInt64(), run.GetProperty("steps").GetInt32());
    }

    private static Process Start(string root, Uri address, string database)
    {
        var start = new ProcessStartInfo("dotnet", [Path.Combine(root, "src/WiseLoom.Web/bin/Release/net10.0/WiseLoom.Web.dll")]) { WorkingDirectory = root };
        start.Environment["WISELOOM_DB"] = database;
        start.Environment["WISELOOM_SECRET"] = new string('7', 64);
        start.Environment["WISELOOM_DEMO"] = Path.Combine(root, "demo");
        start.Environment["WISELOOM_CHROMIUM"] = "/nonexistent";
        start.Environment["ASPNETCORE_URLS"] = address.ToString();
        start.Environment["Logging__LogLevel__Default"] = "Error";
        return Process.Start(start)!;
    }

    private static async Task AnswersAsync(Uri address)
    {
        using var client = new HttpClient { BaseAddress = address };
        for (var tries = 0; tries < 600; tries++)
        {
            try
            {
                if ((await client.GetAsync(new Uri("/health", UriKind.Relative))).IsSuccessStatusCode)
                {
                    return;
                }
            }
            catch (HttpRequestException)
            {
                await Task.Delay(100);
            }
        }

        throw new TimeoutException("The application does not answer.");
    }

    private static int FreePort()
    {
        using var listener = new TcpListener(System.Net.IPAddress.Loopback, 0);
        listener.Start();
        return ((System.Net.IPEndPoint)listener.LocalEndpoint).Port;
    }

    private static void Report(string what, double? must, string unit, double got) => Console.WriteLine(string.Create(
        CultureInfo.InvariantCulture,
        $"{what,-62} {(must is { } m ? $"< {m:0.#} {unit}" : "-"),12} {$"{got:0.##} {unit}",12}{(must is { } limit && got >= limit ? "   MISSED" : "")}"));
}
