using System.Collections.Immutable;
using WiseLoom.Core;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Runs;

namespace WiseLoom.Cli;

/// <summary>Readings that were taken elsewhere, put through a run.</summary>
internal static class ReplayedRun
{
    private static readonly Hand Terminal = new(Guid.Empty, "terminal");

    internal static (BenchRun Run, List<Happened> Events, List<Problem> Problems) Of(BenchRun run, string path)
    {
        var problems = new List<Problem>();
        var events = new List<Happened>();
        var now = DateTimeOffset.UtcNow;
        foreach (var reading in Rows(path, run, problems))
        {
            var key = Guid.CreateVersion7();
            switch (run.Take(new(key, reading.Step, reading.Shown, true, run.Plan.Meter.Name, now, run.LastEvent), Terminal, now))
            {
                case Decision.Accepted accepted:
                    events.Add(new(run.LastEvent + 1, key, Terminal, now, accepted.What));
                    run = run.After(events[^1]);
                    break;
                case Decision.Wrong wrong:
                    problems.Add(new(reading.At, wrong.Words));
                    break;
            }
        }

        return (run, events, problems);
    }

    private static ImmutableArray<TabledReading> Rows(string path, BenchRun run, List<Problem> problems)
    {
        try
        {
            if (new FileInfo(path).Length > LoomReader.LargestFile)
            {
                problems.Add(new("", $"'{path}' is larger than {LoomReader.LargestFile / 1048576} MB."));
                return [];
            }

            return CsvText.Read(File.ReadAllBytes(path), "readings", Path.GetFileName(path), problems) is { } table ? ReadingTable.Read(table, run.Loom, run.Plan, problems) : [];
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            problems.Add(new("", $"'{path}' cannot be read: {e.Message}"));
            return [];
        }
    }
}
