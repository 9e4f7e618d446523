namespace WiseLoom.Cli;

/// <summary><c>check LOOM</c>: every problem of a loom file.</summary>
internal static class CheckCommand
{
    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse(args);
        if (line.Wrong is not null || line.File is null)
        {
            return Usage.Print(line.Wrong ?? "check needs a loom file.");
        }

        var reading = CommandLine.ReadLoom(line.File);
        CommandLine.Write(json => CommandLine.WriteProblems(json, reading));
        return reading.Problems.IsEmpty ? 0 : 1;
    }
}
