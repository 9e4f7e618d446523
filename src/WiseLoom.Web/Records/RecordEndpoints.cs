using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Handover;
using WiseLoom.Store;
using WiseLoom.Web.Handover;
using WiseLoom.Web.Http;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Records;

/// <summary>A run's record as files.</summary>
internal static class RecordEndpoints
{
    internal static void MapRecords(this RouteGroupBuilder api)
    {
        api.MapGet("/runs/{id:long}/readings.csv", ReadingsAsync).IsHeavy("Writing the readings").ExcludeFromDescription();
        api.MapGet("/runs/{id:long}/faults.csv", FaultsAsync).IsHeavy("Writing the faults").ExcludeFromDescription();
        api.MapGet("/runs/{id:long}/record.json", JsonAsync).IsHeavy("Writing the record").ExcludeFromDescription();
        api.MapGet("/runs/{id:long}/record.pdf", PdfAsync).IsHeavy("Writing the record").ExcludeFromDescription();
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> ReadingsAsync(long id, RunLedger ledger, CancellationToken cancel) =>
        await ledger.FindAsync(id, cancel) is { } open ? Csv(BenchTables.Readings(await ledger.RecordAsync(open, cancel)), $"run-{id}-readings") : Refusal.NotFound("run");

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> FaultsAsync(long id, RunLedger ledger, CancellationToken cancel) =>
        await ledger.FindAsync(id, cancel) is { } open ? Csv(BenchTables.Faults(open.Run), $"run-{id}-faults") : Refusal.NotFound("run");

    private static async Task<Results<Ok<RunSheet>, ProblemHttpResult>> JsonAsync(long id, RunLedger ledger, RunStore runs, JobStore jobs, CancellationToken cancel) =>
        await SheetAsync(id, ledger, runs, jobs, cancel) is { } sheet ? TypedResults.Ok(sheet) : Refusal.NotFound("run");

    private static async Task<IResult> PdfAsync(long id, RunLedger ledger, RunStore runs, JobStore jobs, PdfPrinter printer, LimitStore limits, CancellationToken cancel)
    {
        if (await SheetAsync(id, ledger, runs, jobs, cancel) is not { } sheet)
        {
            return Refusal.NotFound("run");
        }

        return await printer.PrintAsync(RunSheetHtml.Render(sheet), string.Create(CultureInfo.InvariantCulture, $"{sheet.Loom} {sheet.Revision} · record of run {id}"), (await limits.LatestAsync(cancel)).Limits.Pack.Paper, cancel) is { } pdf
            ? TypedResults.File(pdf, "application/pdf", $"run-{id}-record.pdf")
            : TypedResults.Problem(title: "The record could not be printed here: no Chromium, or it took too long. The same stands in record.json.", statusCode: StatusCodes.Status503ServiceUnavailable);
    }

    private static async Task<RunSheet?> SheetAsync(long id, RunLedger ledger, RunStore runs, JobStore jobs, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open || await jobs.FindAsync(open.Head.JobId, cancel) is not { } job)
        {
            return null;
        }

        var events = (await runs.EventsAsync(id, 0, cancel)).FindAll(e => e.Number <= open.Run.LastEvent);
        return RunSheet.Of(new(job.Id, job.Customer, job.Machine, id, open.Run.LastEvent, open.Head.Meter.Name, open.Head.StartedBy, open.Head.StartedAt), open.Run, events);
    }

    private static FileContentHttpResult Csv(TextTable table, string name) => TypedResults.File(Encoding.UTF8.GetBytes(CsvText.Write(table)), "text/csv; charset=utf-8", $"{name}.csv");
}
