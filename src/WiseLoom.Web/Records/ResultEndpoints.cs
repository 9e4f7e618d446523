using System.Globalization;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Intake;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Looms;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Records;

/// <summary>A run's results in tables of other people's shape.</summary>
internal static class ResultEndpoints
{
    private const string Xlsx = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

    internal static void MapResults(this RouteGroupBuilder api)
    {
        api.MapGet("/runs/{id:long}/results.xlsx", async (long id, long? mapping, RunLedger ledger, IntakeStore papers, CancellationToken cancel) =>
            await TablesAsync(id, mapping, "xlsx", Xlsx, ledger, papers, cancel)).IsHeavy("Writing the tables").ExcludeFromDescription();
        api.MapGet("/runs/{id:long}/results.zip", async (long id, long? mapping, RunLedger ledger, IntakeStore papers, CancellationToken cancel) =>
            await TablesAsync(id, mapping, "zip", "application/zip", ledger, papers, cancel)).IsHeavy("Writing the tables").ExcludeFromDescription();
        api.MapPost("/runs/{id:long}/fill-in", FillAsync).WithMetadata(new ChangesNothing()).Accepts<object>("application/octet-stream", "multipart/form-data").WithMetadata(new TakesFile())
            .IsHeavy("Filling the list in").WithSummary("Somebody's own list back with what each row reads and its verdict; nothing is stored");
    }

    /// <param name="mapping">Whose headings and order the list of wires has; null for the usual.</param>
    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> TablesAsync(long id, long? mapping, string ending, string type, RunLedger ledger, IntakeStore papers, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        IntakeMapping? shape = null;
        if (mapping is { } asked && (shape = await ShopPapers.FindAsync(asked, papers, cancel)) is null)
        {
            return Refusal.NotFound("mapping");
        }

        var tables = ResultTables.Of(open.Run.Loom, new(open.Run.Loom, open.Run), shape);
        return TypedResults.File(
            ending == "xlsx" ? Workbook.Write(tables, coloured: true) : LoomTableWriter.CsvSet(tables), type, string.Create(CultureInfo.InvariantCulture, $"run-{id}-results.{ending}"));
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> FillAsync(
        long id, string? name, HttpContext context, RunLedger ledger, IntakeStore papers, LibraryStore library, LimitStore limits, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open)
        {
            return Refusal.NotFound("run");
        }

        if (await PaperUpload.ReadAsync(context, cancel) is var upload && upload.Paper is not { } paper)
        {
            return upload.Refused!;
        }

        var called = string.IsNullOrWhiteSpace(name) ? "list.csv" : name;
        var filled = FilledPapers.Fill(paper.File, called, new(open.Run.Loom, open.Run), paper.Said, await ShopPapers.MemoryAsync(papers, library, limits, cancel));
        return filled.Bytes is { } file
            ? TypedResults.File(file, filled.IsWorkbook ? Xlsx : "text/csv; charset=utf-8", $"{Path.GetFileNameWithoutExtension(called)} with results{(filled.IsWorkbook ? ".xlsx" : Path.GetExtension(called) is { Length: > 0 } own ? own : ".csv")}")
            : Refusal.Because("Nothing could be filled in.", filled.Problems);
    }
}
