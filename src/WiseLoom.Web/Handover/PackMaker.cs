using System.Text.Json;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Planning;
using WiseLoom.Store;
using WiseLoom.Web.Bench;

namespace WiseLoom.Web.Handover;

/// <summary>Makes, signs and freezes a pack.</summary>
internal sealed class PackMaker(PackStore packs, PdfPrinter printer)
{
    /// <summary>Freezes the next version of a job's pack.</summary>
    /// <returns>Its id; null when somebody else froze one at the same moment.</returns>
    internal async Task<long?> MakeAsync(Job job, BenchNow bench, string changes, Guid signer, string signerName, DateTimeOffset at, CancellationToken cancel)
    {
        var version = (job.PackVersion ?? 0) + 1;
        var head = new PackHead(job.Id, job.Customer, job.Machine, bench.Loom.Name, bench.Loom.Revision, version, changes, signerName, at, bench.Run.Meter.Name);
        var model = PackModel.Of(head, bench.Loom, bench.State, bench.Record(), bench.Faults);
        var html = PackHtml.Render(model, bench.Loom);
        var pdf = await printer.PrintAsync(html, $"{bench.Loom.Name} {bench.Loom.Revision}, handover pack {version}, job {job.Id}", cancel);
        return await packs.AddAsync(new(job.Id, bench.Run.Id, version, changes, JsonSerializer.Serialize(model, PlanJson.Options), html, pdf, signer, at), cancel);
    }
}
