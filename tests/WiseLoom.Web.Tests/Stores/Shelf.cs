using Npgsql;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Runs;
using WiseLoom.Store;

namespace WiseLoom.Web.Tests.Stores;

/// <summary>A database without an application: two people, a meter, a small loom and what a store needs to begin.</summary>
public sealed class Shelf : IAsyncLifetime
{
    private readonly string server = Environment.GetEnvironmentVariable("WISELOOM_TEST_DB")
        ?? throw new InvalidOperationException("WISELOOM_TEST_DB is not set: run ./wise-loom test, which starts a PostgreSQL for the tests.");

    private readonly string name = $"shelf_{Guid.NewGuid():n}";

    /// <summary>When everything here happens.</summary>
    public static DateTimeOffset Noon { get; } = new(2031, 3, 4, 12, 0, 0, TimeSpan.Zero);

    /// <summary>The database.</summary>
    public NpgsqlDataSource Source { get; private set; } = null!;

    /// <summary>A technician.</summary>
    public Hand Mira { get; } = new(Guid.CreateVersion7(), "Mira Solstad");

    /// <summary>A lead.</summary>
    public Hand Ada { get; } = new(Guid.CreateVersion7(), "Ada Quill");

    /// <summary>Number of the meter.</summary>
    public long Meter { get; private set; }

    /// <summary>A loom of three wires.</summary>
    public static Loom Loom { get; } = LoomReader.Read(ImportTests.Small).Loom!;

    /// <summary>Its file.</summary>
    public static string Document { get; } = System.Text.Encoding.UTF8.GetString(ImportTests.Small);

    /// <summary>Its plan.</summary>
    public static TestPlan Plan { get; } = Planner.Plan(Loom, PlanTerms.Usual(Core.Electrical.Meter.BenchFourWire, Isolation.Neighbours, 20, CopperTolerance.Usual));

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        var connection = new NpgsqlConnectionStringBuilder(server) { Database = name }.ConnectionString;
        Database.Migrate(connection);
        Source = NpgsqlDataSource.Create(connection);
        var people = new PeopleStore(Source);
        await people.AddAsync(new(Mira.Id, "mira", Mira.Name, "technician", "x"), Cancel);
        await people.AddAsync(new(Ada.Id, "ada", Ada.Name, "lead", "x"), Cancel);
        Meter = await new MeterStore(Source).PutAsync("Bench meter", "bench-four-wire", null, null, Cancel);
    }

    // The server goes with the tests, and the database with it.
    public ValueTask DisposeAsync() => Source.DisposeAsync();

    /// <summary>A new job without a loom.</summary>
    public Task<long> JobAsync(string machine = "Tower fan") => new JobStore(Source).AddAsync(new("Hollow Lane Orchards", machine, null, null, null), Mira.Id, Cancel);

    /// <summary>A new job with the small loom as revision A.</summary>
    public async Task<(long Job, long Revision)> JobWithLoomAsync()
    {
        var job = await JobAsync();
        return (job, (await new LoomStore(Source).AddAsync(new(job, null, Loom, Document, Mira.Id), Cancel)).ShouldBeOfType<RevisionStored.As>().Id);
    }

    /// <summary>A new job with a run on its only revision.</summary>
    public async Task<(long Job, long Revision, long Run)> JobWithRunAsync()
    {
        var (job, revision) = await JobWithLoomAsync();
        return (job, revision, (await new RunStore(Source).StartAsync(Start(job, revision, null), Cancel)).ShouldNotBeNull());
    }

    /// <summary>A run to be started, in place of another.</summary>
    public NewRun Start(long job, long revision, long? replaces, long last = 0) =>
        new(job, revision, Meter, Plan, Mira, Noon, replaces is { } old ? new(old, last) : null, [], BenchRun.Begin(Loom, Plan).Summary());

    /// <summary>A passing reading as it is kept.</summary>
    public Happened Reading(long number, int step, Guid? key = null) =>
        new(number, key ?? Guid.CreateVersion7(), Mira, Noon, new ReadingTaken(step, new(0.042), Verdict.Pass, true, "Bench meter", number - 1, Bearing.Stands));

    /// <summary>What the run comes to with these events.</summary>
    public static RunSummary Summary(params Happened[] events) => BenchRun.Begin(Loom, Plan).After(events).Summary();
}
