using System.Collections.Immutable;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Identity;
using Npgsql;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Sightings;
using WiseLoom.Core.Planning;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Demo;

/// <summary>A meter of the demo shop.</summary>
/// <param name="StandIn">Which stand-in it is, counted from the first stand-in's port; null for a meter that is read by eye.</param>
/// <param name="CalibratedDaysAgo">When it was calibrated, before the demo was loaded.</param>
internal sealed record DemoMeter(string Name, string Profile, int? StandIn, int CalibratedDaysAgo);

/// <summary>What was done on a demo job's bench.</summary>
/// <param name="Faults">What is wrong with its loom.</param>
/// <param name="Steps">How many steps were measured; null for all.</param>
/// <param name="Mend">Whether the faults were found, fixed and retested.</param>
internal sealed record DemoRun(string Meter, Isolation Isolation, ImmutableArray<Fault> Faults, int Seed, int? Steps, bool Mend, bool Sign, bool Looks = false)
{
    /// <summary>What was seen with power on once all was measured.</summary>
    public ImmutableArray<Sighting> Seen { get; init; } = [];

    /// <summary>File with a photo of its packed box; null when nobody took one.</summary>
    public string? Packed { get; init; }

    /// <summary>How far it was powered up; null when it was not.</summary>
    public DemoPowerUp? PowerUp { get; init; }
}

/// <summary>How far a demo job's loom was powered up, on a machine that is sound.</summary>
/// <param name="School">Where.</param>
/// <param name="Stages">How many stages were done.</param>
internal sealed record DemoPowerUp(string School, int Stages);

/// <summary>A controller of the demo shop.</summary>
/// <param name="StandIn">Which stand-in it is, counted from the first stand-in's port.</param>
internal sealed record DemoController(string Name, int StandIn);

internal sealed record DemoJob(string Customer, string Machine, int PromisedInDays, string? Assigned, string? WaitingFor, string Loom, DemoRun? Run);

internal sealed record DemoScript(ImmutableArray<DemoPersonView> People, ImmutableArray<DemoMeter> Meters, ImmutableArray<DemoController> Controllers, ImmutableArray<DemoJob> Jobs);

/// <summary>The example world, loaded once into an empty database when <c>WISELOOM_DEMO</c> names its folder.</summary>
internal sealed class DemoWorld(
    IConfiguration settings,
    NpgsqlDataSource source,
    PeopleStore people,
    MeterStore meters,
    JobStore jobs,
    LoomStore looms,
    DemoBench bench,
    DemoBook book,
    LimitStore limits,
    PackingPhotoStore packing,
    IPasswordHasher<Person> hasher,
    TimeProvider clock)
{
    private const int FirstStandInPort = 7151;

    private readonly Lazy<DemoScript?> script = new(() => settings["WISELOOM_DEMO"] is { Length: > 0 } folder
        ? JsonSerializer.Deserialize<DemoScript>(File.ReadAllBytes(Path.Combine(folder, "world.json")), CoreJson.Options)
        : null);

    /// <summary>Whether the example world is shown.</summary>
    internal bool IsShown => script.Value is not null;

    /// <summary>The people to name on the sign-in page; none outside demo mode.</summary>
    internal ImmutableArray<DemoPersonView> People => script.Value?.People ?? [];

    internal async Task LoadOnceAsync(CancellationToken cancel)
    {
        if (script.Value is not { } world)
        {
            return;
        }

        // Several processes may start at once; the first loads, the others wait. The lock ends with the transaction.
        await using var connection = await source.OpenConnectionAsync(cancel);
        await using var turn = await connection.BeginTransactionAsync(cancel);
        await using (var wait = new NpgsqlCommand("select pg_advisory_xact_lock(7111)", connection, turn))
        {
            await wait.ExecuteNonQueryAsync(cancel);
        }

        var shopMeters = await PutMetersAsync(world, cancel);
        if ((await people.AllAsync(cancel)).Find(p => p.Role == Role.Lead && p.Demo) is { } keeper)
        {
            await book.LoadOnceAsync(settings["WISELOOM_DEMO"]!, keeper.Id, cancel);
            return;
        }

        foreach (var person in world.People)
        {
            var nameless = new Person(Guid.CreateVersion7(), person.SignIn, person.Name, person.Role, null, Demo: true);
            await people.AddAsync(nameless with { PasswordHash = hasher.HashPassword(nameless, person.Password) }, cancel);
        }

        var staff = await people.AllAsync(cancel);
        await book.LoadOnceAsync(settings["WISELOOM_DEMO"]!, staff.First(p => p.Role == Role.Lead).Id, cancel);
        await PutControllersAsync(world, staff.First(p => p.Role == Role.Lead).Id, cancel);
        foreach (var job in world.Jobs)
        {
            await AddAsync(job, staff, shopMeters, cancel);
        }
    }

    private async Task<Dictionary<string, long>> PutMetersAsync(DemoScript world, CancellationToken cancel)
    {
        var ids = new Dictionary<string, long>(StringComparer.Ordinal);
        foreach (var meter in world.Meters)
        {
            var port = meter.StandIn is { } place ? settings.GetValue("WISELOOM_STANDINS", FirstStandInPort) + place : (int?)null;
            ids[meter.Name] = await meters.PutAsync(meter.Name, meter.Profile, port is null ? null : "127.0.0.1", port, cancel, DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime).AddDays(-meter.CalibratedDaysAgo));
        }

        return ids;
    }

    /// <summary>Enters the stand-in controllers, while nobody has changed the shop's limits.</summary>
    private async Task PutControllersAsync(DemoScript world, Guid lead, CancellationToken cancel)
    {
        var first = settings.GetValue("WISELOOM_STANDINS", FirstStandInPort);
        var usual = ShopLimits.Usual;
        await limits.ChangeAsync(0, usual with { PowerUp = usual.PowerUp with { Controllers = [.. world.Controllers.Select(c => new ControllerAddress(c.Name, "127.0.0.1", first + c.StandIn))] } }, lead, cancel);
    }

    private async Task AddAsync(DemoJob demo, List<Person> staff, Dictionary<string, long> shopMeters, CancellationToken cancel)
    {
        var lead = staff.First(p => p.Role == Role.Lead);
        var technician = staff.FirstOrDefault(p => p.SignIn == demo.Assigned) ?? staff.First(p => p.Role != Role.Lead);
        var promised = DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime).AddDays(demo.PromisedInDays);
        var id = await jobs.AddAsync(new(demo.Customer, demo.Machine, promised, technician.Id, demo.WaitingFor), lead.Id, cancel);
        var bytes = await File.ReadAllBytesAsync(Path.Combine(settings["WISELOOM_DEMO"]!, demo.Loom), cancel);
        var loom = LoomReader.Read(bytes).Loom ?? throw new InvalidOperationException($"{demo.Loom} has problems: run ./wise-loom check on it.");
        var stored = await looms.AddAsync(new(id, null, loom, Encoding.UTF8.GetString(bytes), lead.Id), cancel);
        if (demo.Run is { } run && stored is RevisionStored.As revision)
        {
            if (run.Packed is { } file && PhotoPress.Make(await File.ReadAllBytesAsync(Path.Combine(settings["WISELOOM_DEMO"]!, file), cancel), PackingPhotos.Side, out _) is { } photo)
            {
                await packing.KeepAsync(id, Guid.CreateVersion7(), photo, technician.Id, cancel);
            }

            var meter = (await meters.FindAsync(shopMeters[run.Meter], cancel))!;
            await bench.PlayAsync(id, revision.Id, loom, meter, run, new(technician.Id, technician.Name), new(lead.Id, lead.Name), cancel);
        }
    }
}
