using System.Text;
using WiseLoom.Core.Devices;
using WiseLoom.Core.States;

namespace WiseLoom.Cli;

/// <summary><c>needs LOOM [--markdown]</c>: what each function of a loom needs.</summary>
internal static class NeedsCommand
{
    internal static int Run(string[] args)
    {
        var line = CommandLine.Parse(args, "--markdown!", "--ambient");
        var ambient = line.Ambient();
        if (line.Wrong is not null || line.File is null)
        {
            return Usage.Print(line.Wrong ?? "needs needs a loom file.");
        }

        if (CommandLine.FindLoom(line.File) is not { } loom)
        {
            return 1;
        }

        var needs = FunctionNeeds.Of(LoomStates.For(loom, ambient ?? loom.AmbientC));
        if (line.Has("--markdown"))
        {
            Console.OutputEncoding = new UTF8Encoding(false);
            Console.Write(Markdown(needs));
            return 0;
        }

        CommandLine.Write(json =>
        {
            json.WriteStartArray();
            foreach (var need in needs)
            {
                json.WriteStartObject();
                json.WriteString("name", need.Name);
                json.WriteStartArray("positions");
                foreach (var position in need.Positions)
                {
                    json.WriteStringValue(KeyPositions.Word(position));
                }

                json.WriteEndArray();
                json.WriteString("condition", need.Condition);
                json.WriteString("output", need.Output);
                json.WriteStartArray("devices");
                foreach (var device in need.Devices)
                {
                    json.WriteStringValue(device);
                }

                json.WriteEndArray();
                json.WriteEndObject();
            }

            json.WriteEndArray();
        });
        return 0;
    }

    private static string Markdown(IEnumerable<FunctionNeeds> needs)
    {
        var text = new StringBuilder("| function | key | besides | at its moment | not without |\n| --- | --- | --- | --- | --- |\n");
        foreach (var need in needs)
        {
            var key = need.Positions.IsEmpty ? "—" : string.Join(", ", need.Positions.Select(KeyPositions.Word));
            text.Append(System.Globalization.CultureInfo.InvariantCulture, $"| {need.Name} | {key} | {need.Condition} | {need.Output} | {string.Join(", ", need.Devices)} |\n");
        }

        return text.ToString();
    }
}
