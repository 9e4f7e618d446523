using System.Text.Json;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Runs;
using WiseLoom.Store;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Handover;

/// <summary>Makes, signs and freezes a pack.</summary>
internal sealed class PackMaker(PackStore packs, PackDrafter drafter, PdfPrinter printer, LimitStore limits)
{
    /// <summary>Makes the next version of a job's pack from a run as it was looked at, prints it, and freezes it when nothing has happened since.</summary>
    /// <returns>Its id; null when something has: what was printed is thrown away.</returns>
    internal async Task<long?> MakeAsync(Job job, OpenRun open, string changes, Hand signer, DateTimeOffset at, CancellationToken cancel)
    {
        var (run, version, key) = (open.Run, (job.PackVersion ?? 0) + 1, Guid.CreateVersion7());
        if (run.Sign(key, version, run.LastEvent) is not Decision.Accepted accepted)
        {
            return null;
        }

        var signature = new Happened(run.LastEvent + 1, key, signer, at, accepted.What);
        var model = await drafter.DraftAsync(job, open, changes, signer.Name, at, cancel);
        var html = PackHtml.Render(model, run.Loom);
        var pdf = await printer.PrintAsync(html, $"{run.Loom.Name} {run.Loom.Revision}, handover pack {version}, job {job.Id}", (await limits.LatestAsync(cancel)).Limits.Pack.Paper, cancel);
        return await packs.SignAsync(
            new(job.Id, open.Head.Id, open.Head.RevisionId, signature, run.After(signature).Summary(), version, changes, JsonSerializer.Serialize(model, CoreJson.Options), html, pdf), cancel);
    }
}
