using System.Collections.Immutable;
using System.Text.Json;
using WiseLoom.Core.Electrical;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Practice;
using WiseLoom.Instruments;

namespace WiseLoom.Cli;

/// <summary><c>stand-in meter</c>: a bench meter on loopback that reads a loom with hidden faults.</summary>
internal static class StandInMeterCommand
{
    internal static async Task<int> RunAsync(string[] args)
    {
        var line = CommandLine.Parse(args, "--loom", "--faults", "--port", "--seed", "--lead", "--settle", "--drift", "--drift-rate");
        var (port, seed) = (line.Number("--port") ?? 0, line.Number("--seed") ?? 1);
        if (line.Wrong is not null || line.Text("--loom") is not { } path || port is < 0 or > 65535)
        {
            return Usage.Print(line.Wrong ?? "stand-in meter needs --loom FILE and a port from 0 to 65535.");
        }

        var habits = new MeterHabits(line.Number("--lead") ?? 0, line.Number("--settle") ?? 0, line.Number("--drift") ?? 0, line.Number("--drift-rate") ?? 0);
        if (!habits.ArePossible)
        {
            return Usage.Print("--lead and --settle lie between 0 and 10, --drift and --drift-rate between -50 and 50.");
        }

        if (CommandLine.FindLoom(path) is not { } loom)
        {
            return 1;
        }

        ImmutableArray<Fault> faults = line.Text("--faults") is { } file ? ReadFaults(file) : [];
        var meter = new SimulatedMeter(loom, new SimulatedBench(loom, Meter.BenchFourWire, faults, (int)seed)) { Habits = habits };
        return await UntilStopped.RunAsync(cancel => meter.ServeAsync((int)port, p => Console.WriteLine($"bench meter stand-in on 127.0.0.1:{p}, loom {loom.Name}"), cancel)).ConfigureAwait(false);
    }

    private static ImmutableArray<Fault> ReadFaults(string file) =>
        JsonSerializer.Deserialize<ImmutableArray<Fault>>(File.ReadAllBytes(file), JsonSerializerOptions.Web);
}
