using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Pinouts;
using WiseLoom.Core.Planning;
using WiseLoom.Store;

namespace WiseLoom.Web.Demo;

/// <summary>A sheet of the demo book; its lines stand in a CSV file beside it.</summary>
/// <param name="Confirm">How its lines were confirmed, plug by plug; none when nobody did.</param>
internal sealed record DemoSheet(string Title, string Source, string SourceNote, ImmutableArray<SheetConnector> Plugs, string Lines, ImmutableDictionary<string, string>? Confirm);

internal sealed record DemoShelf(ImmutableArray<JsonElement> Families, ImmutableArray<JsonElement> DeviceTypes, ImmutableArray<ImmutableArray<string>> Synonyms, ImmutableArray<DemoSheet> Sheets);

/// <summary>The example shop's library and pinout book, from <c>library.json</c> and its CSV files.</summary>
internal sealed class DemoBook(LibraryStore library, SheetStore sheets)
{
    /// <summary>Fills an empty library; a shop that has one keeps it as it is.</summary>
    internal async Task LoadOnceAsync(string folder, Guid by, CancellationToken cancel)
    {
        if ((await library.FamiliesAsync(cancel)).Count > 0)
        {
            return;
        }

        var shelf = JsonSerializer.Deserialize<DemoShelf>(await File.ReadAllBytesAsync(Path.Combine(folder, "library.json"), cancel), CoreJson.Options)!;
        foreach (var family in shelf.Families)
        {
            var read = FamilyLibrary.Read(JsonObject.Create(family)!);
            var id = (read.Family ?? throw new InvalidOperationException($"library.json: {read.Problems[0]}")).Id;
            await library.AddFamilyAsync(id, family.GetRawText(), by, cancel);
        }

        foreach (var type in shelf.DeviceTypes)
        {
            await library.AddDeviceTypeAsync(type.GetProperty("id").GetString()!, type.GetRawText(), cancel);
        }

        await library.ChangeSynonymsAsync(1, JsonSerializer.Serialize(shelf.Synonyms), cancel);
        foreach (var sheet in shelf.Sheets)
        {
            await AddAsync(folder, sheet, by, cancel);
        }
    }

    private async Task AddAsync(string folder, DemoSheet sheet, Guid by, CancellationToken cancel)
    {
        var problems = new List<Problem>();
        var table = CsvText.Read(await File.ReadAllBytesAsync(Path.Combine(folder, sheet.Lines), cancel), sheet.Lines, sheet.Lines, problems);
        var lines = table is null ? [] : Sheet.ReadLines(table, "", problems);
        if (problems.Count > 0)
        {
            throw new InvalidOperationException(problems[0].ToString());
        }

        var id = await sheets.AddAsync(new(sheet.Title, sheet.Plugs, lines), sheet.Source, sheet.SourceNote, by, cancel);
        foreach (var line in lines)
        {
            if (sheet.Confirm?.GetValueOrDefault(line.Connector) is { } how)
            {
                await sheets.ConfirmAsync(id, Guid.CreateVersion7(), line, how, by, cancel);
            }
        }
    }
}
