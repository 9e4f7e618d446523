using System.Collections.Immutable;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Identity;
using Npgsql;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning;
using WiseLoom.Core.Practice;
using WiseLoom.Store;
using WiseLoom.Web.Bench;
using WiseLoom.Web.Handover;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Demo;

/// <summary>A meter of the demo shop.</summary>
/// <param name="StandIn">Which stand-in it is, counted from the first stand-in's port; null for a meter that is read by eye.</param>
internal sealed record DemoMeter(string Name, string Profile, int? StandIn);

/// <summary>What was done on a demo job's bench.</summary>
/// <param name="Faults">What is wrong with its loom.</param>
/// <param name="Steps">How many steps were measured; null for all.</param>
/// <param name="Mend">Whether the faults were found, fixed and retested.</param>
internal sealed record DemoRun(string Meter, Isolation Isolation, ImmutableArray<Fault> Faults, int Seed, int? Steps, bool Mend, bool Sign);

internal sealed record DemoJob(string Customer, string Machine, int PromisedInDays, string? Assigned, string? WaitingFor, string Loom, DemoRun? Run);

internal sealed record DemoScript(ImmutableArray<DemoPersonView> People, ImmutableArray<DemoMeter> Meters, ImmutableArray<DemoJob> Jobs);

/// <summary>The example world, loaded once into an empty database when <c>WISELOOM_DEMO</c> names its folder.</summary>
internal sealed class DemoWorld(
    IConfiguration settings,
    NpgsqlDataSource source,
    PeopleStore people,
    MeterStore meters,
    JobStore jobs,
    LoomStore looms,
    RunStore runs,
    FaultStore faults,
    BenchLibrary bench,
    PackMaker packs,
    DemoBook book,
    IPasswordHasher<Person> hasher,
    TimeProvider clock)
{
    private const int FirstStandInPort = 7151;

    private readonly Lazy<DemoScript?> script = new(() => settings["WISELOOM_DEMO"] is { Length: > 0 } folder
        ? JsonSerializer.Deserialize<DemoScript>(File.ReadAllBytes(Path.Combine(folder, "world.json")), PlanJson.Options)
        : null);

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
        if ((await people.AllAsync(cancel)).Find(p => p.Role == Role.Lead) is { } keeper)
        {
            await book.LoadOnceAsync(settings["WISELOOM_DEMO"]!, keeper.Id, cancel);
            return;
        }

        foreach (var person in world.People)
        {
            var nameless = new Person(Guid.CreateVersion7(), person.SignIn, person.Name, person.Role, "");
            await people.AddAsync(nameless with { PasswordHash = hasher.HashPassword(nameless, person.Password) }, cancel);
        }

        var staff = await people.AllAsync(cancel);
        await book.LoadOnceAsync(settings["WISELOOM_DEMO"]!, staff.First(p => p.Role == Role.Lead).Id, cancel);
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
            ids[meter.Name] = await meters.PutAsync(meter.Name, meter.Profile, port is null ? null : "127.0.0.1", port, cancel);
        }

        return ids;
    }

    private async Task AddAsync(DemoJob demo, List<Person> staff, Dictionary<string, long> shopMeters, CancellationToken cancel)
    {
        var lead = staff.First(p => p.Role == Role.Lead);
        var technician = staff.FirstOrDefault(p => p.SignIn == demo.Assigned) ?? staff.First(p => p.Role != Role.Lead);
        var promised = DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime).AddDays(demo.PromisedInDays);
        var id = await jobs.AddAsync(new(demo.Customer, demo.Machine, promised, technician.Id, demo.WaitingFor), lead.Id, cancel);
        var bytes = await File.ReadAllBytesAsync(Path.Combine(settings["WISELOOM_DEMO"]!, demo.Loom), cancel);
        var loom = LoomReader.Read(bytes).Loom ?? throw new InvalidOperationException($"{demo.Loom} has problems: run ./wise-loom check on it.");
        var revision = await looms.AddAsync(id, loom, Encoding.UTF8.GetString(bytes), lead.Id, cancel);
        if (demo.Run is not { } script)
        {
            return;
        }

        var meter = (await meters.FindAsync(shopMeters[script.Meter], cancel))!;
        var run = await runs.StartAsync(id, revision, meter.Id, Planner.Plan(loom, meter.Describe(), script.Isolation), technician.Id, cancel);
        var practice = new SimulatedBench(loom, meter.Describe(), script.Faults, script.Seed);
        var now = (await bench.FindAsync(run, cancel))!;
        await MeasureAsync(now, practice, now.Run.Plan.Steps.Take(script.Steps ?? int.MaxValue), technician, cancel);
        await LogFailuresAsync(run, practice, script.Mend, technician, cancel);
        if (script.Sign)
        {
            var done = (await bench.FindAsync(run, cancel))!;
            await packs.MakeAsync((await jobs.FindAsync(id, cancel))!, done, "", lead.Id, lead.Name, clock.GetUtcNow(), cancel);
        }
    }

    private async Task MeasureAsync(BenchNow now, SimulatedBench practice, IEnumerable<PlanStep> steps, Person by, CancellationToken cancel)
    {
        foreach (var step in steps)
        {
            var probes = StepProbes.Of(now.Loom, step);
            var reading = practice.Measure(probes.Red, probes.Black);
            var verdict = Judgement.Of(reading, step.Limits, now.Run.Plan.MeterFor(step));
            await runs.AddReadingAsync(now.Run.Id, now.Run.Meter.Id, new(Guid.CreateVersion7(), step.Number, reading, verdict, true, clock.GetUtcNow()), by.Id, cancel);
        }
    }

    /// <summary>Logs a fault for the first failing step, and when it is to be mended goes on until nothing fails.</summary>
    private async Task LogFailuresAsync(long run, SimulatedBench practice, bool mend, Person by, CancellationToken cancel)
    {
        for (var now = (await bench.FindAsync(run, cancel))!; FirstFailing(now) is { } failing; now = (await bench.FindAsync(run, cancel))!)
        {
            var reading = now.Readings.Last(r => r.Step == failing.Number);
            var ranked = new FirstCause(now.Loom, now.Run.Plan).Rank(failing.Number, now.Evidence());
            var seen = $"{failing.Black} to {failing.Red?.ToString() ?? "all other circuits"} reads {Say.Reading(reading.Reading)}, should be {Say.Passes(failing)}.";
            var fault = await faults.AddAsync(run, Guid.CreateVersion7(), failing.Number, seen, reading.Key, ranked, by.Id, cancel);
            if (!mend)
            {
                return;
            }

            var cause = ranked[0];
            await faults.AddCauseAsync(fault, Guid.CreateVersion7(), new(cause.Fault, Sentences.Title(now.Loom, cause.Fault)), by.Id, cancel);
            var repaired = cause.Places.Sum(practice.Repair);
            if (repaired == 0)
            {
                throw new InvalidOperationException($"The demo's fault at step {failing.Number} is not where its first cause says: {cause.Sentence}");
            }

            var retests = Retest.Of(now.Loom, now.Run.Plan, cause.Places, [failing.Number]);
            await faults.AddFixAsync(fault, Guid.CreateVersion7(), new(cause.Fault.Kind == FaultKind.Swap ? "re-pin" : "re-crimp", cause.Places, 12, null, null, retests), by.Id, cancel);
            await MeasureAsync(now, practice, retests.Select(n => now.Step(n)!), by, cancel);
        }
    }

    private static PlanStep? FirstFailing(BenchNow now) => now.Run.Plan.Steps.FirstOrDefault(s => now.State[s.Number] == StepState.Fail);
}
