using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Practice;
using WiseLoom.Core.States;
using WiseLoom.Instruments;

namespace WiseLoom.Cli;

/// <summary><c>stand-in controller</c>: an engine's controller on loopback, and the engine behind it, with hidden faults and settings of its own.</summary>
internal static class StandInControllerCommand
{
    internal static async Task<int> RunAsync(string[] args)
    {
        var line = CommandLine.Parse(args, "--loom", "--faults", "--bench", "--port", "--seed");
        var (port, seed) = (line.Number("--port") ?? 0, line.Number("--seed") ?? 1);
        if (line.Wrong is not null || line.Text("--loom") is not { } path || port is < 0 or > 65535)
        {
            return Usage.Print(line.Wrong ?? "stand-in controller needs --loom FILE and a port from 0 to 65535.");
        }

        if (CommandLine.FindLoom(path) is not { } loom)
        {
            return 1;
        }

        var (hidden, wrong) = line.Text("--faults") is { } file ? HiddenMachine.Read(await File.ReadAllTextAsync(file).ConfigureAwait(false), loom) : (HiddenMachine.Nothing, null);
        if (hidden is null)
        {
            await Console.Error.WriteLineAsync(wrong).ConfigureAwait(false);
            return 1;
        }

        var (bench, problems) = line.Text("--bench") is { } fitted ? BenchFile.Read(await File.ReadAllBytesAsync(fitted).ConfigureAwait(false), loom) : (new BenchFile(BenchFit.AsDrawn, School.Vehicle), []);
        if (bench is null)
        {
            await Console.Error.WriteLineAsync(string.Join('\n', problems.Select(p => $"{p.At}: {p.Message}"))).ConfigureAwait(false);
            return 1;
        }

        var controller = new SimulatedController(new SimulatedMachine(loom, bench.Fit, hidden, loom.AmbientC, (int)seed), PowerUpPlan.Of(loom, bench.Fit, loom.AmbientC, bench.School), loom.AmbientC);
        return await UntilStopped.RunAsync(cancel => controller.ServeAsync((int)port, p => Console.WriteLine($"controller stand-in on 127.0.0.1:{p}, loom {loom.Name}"), cancel)).ConfigureAwait(false);
    }
}
