using System.Security.Claims;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Diagnosis;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Revisions;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.People;
using WiseLoom.Web.Runs;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Faults;

/// <param name="Faults">The cause by which the metal is as it is; one of those that are ranked now.</param>
internal sealed record CorrectionRequest(Guid Key, IReadOnlyList<Fault> Faults);

/// <summary>The drawing that was corrected.</summary>
internal sealed record CorrectedView(long RevisionId, string Revision);

/// <summary>The metal wins: the drawing is made to say what the readings found, as a revision of its own.</summary>
internal static class CorrectionEndpoint
{
    internal static void MapCorrection(this RouteGroupBuilder api) =>
        api.MapPost("/runs/{id:long}/faults/{fault:int}/correct-drawing", CorrectAsync).IsHeavy("Correcting the drawing").WithSummary("The drawing was wrong: make it say what the readings found, as a new revision");

    private static async Task<Results<Ok<CorrectedView>, ProblemHttpResult>> CorrectAsync(
        long id, int fault, CorrectionRequest request, ClaimsPrincipal user, RunLedger ledger, JobStore jobs, LoomStore looms, DiagnosisCache diagnoses, TimeProvider clock, CancellationToken cancel)
    {
        if (await ledger.FindAsync(id, cancel) is not { } open || open.Run.Fault(fault) is not { } logged || await jobs.FindAsync(open.Head.JobId, cancel) is not { } job)
        {
            return Refusal.NotFound("fault");
        }

        if (job.PackVersion is { } pack && !user.IsInRole(Role.Lead))
        {
            return Refusal.Forbidden($"Pack {pack} of this job is signed: a lead corrects its drawing.");
        }

        if (logged.Fix is not null || (await diagnoses.OfAsync(id, open.Run, cancel)).CaseOf(logged.Step)?.Causes.FirstOrDefault(c => c.Faults.SequenceEqual(request.Faults)) is not { } cause)
        {
            return Refusal.Conflict("The readings do not say so any more. Look at the causes again.");
        }

        if (!PaperAndMetal.IsOfTheDrawing(cause))
        {
            return Refusal.Field("/faults", "A drawing says which wires end in which cavities; this cause is of another kind, and is mended at the loom.");
        }

        var document = JsonNode.Parse((await looms.DocumentAsync(open.Head.RevisionId, cancel))!)!.AsObject();
        var taken = await looms.OfJobAsync(job.Id, cancel);
        PaperAndMetal.Correct(document, open.Run.Loom, cause, RevisionName.After(open.Run.Loom.Revision, [.. taken.Select(t => t.Revision)]));
        var text = document.ToJsonString();
        var reading = LoomReader.Read(Encoding.UTF8.GetBytes(text));
        if (reading.Loom is not { } corrected || corrected.Wires.IsEmpty)
        {
            return Refusal.Because("The drawing would not be sound any more. Nothing was changed; rework it as a draft.", reading.Problems);
        }

        return await looms.AddAsync(new(job.Id, open.Head.RevisionId, corrected, text, user.Id(), open.Head.RevisionId), cancel) switch
        {
            RevisionStored.As stored => await NoteAsync(id, fault, request.Key, cause, new(stored.Id, corrected.Revision), user, ledger, clock),
            RevisionStored.Overtaken when await StoredBeforeAsync(open.Head.RevisionId, text, taken, looms, cancel) is { } before => await NoteAsync(id, fault, request.Key, cause, before, user, ledger, clock),
            _ => Refusal.Conflict("This job has a newer loom than the one on the bench. Nothing was changed; rework the newer one as a draft."),
        };
    }

    /// <summary>The same correction, when it was stored and never noted: its caller, or the server, was gone before that.</summary>
    private static async Task<CorrectedView?> StoredBeforeAsync(long before, string text, List<RevisionEntry> taken, LoomStore looms, CancellationToken cancel)
    {
        if (taken.Find(t => t.BaseRevisionId == before) is not { } entry)
        {
            return null;
        }

        var document = JsonNode.Parse(text)!.AsObject();
        document["loom"]!["revision"] = entry.Revision;
        return JsonNode.DeepEquals(document, JsonNode.Parse((await looms.DocumentAsync(entry.Id, cancel))!)) ? new(entry.Id, entry.Revision) : null;
    }

    /// <summary>What was done, in the log. The revision stands by now: a caller who has hung up does not keep it out of the log.</summary>
    private static async Task<Results<Ok<CorrectedView>, ProblemHttpResult>> NoteAsync(
        long id, int fault, Guid key, Cause cause, CorrectedView made, ClaimsPrincipal user, RunLedger ledger, TimeProvider clock)
    {
        var (by, now, named) = (user.Hand(), clock.GetUtcNow(), Guid.CreateVersion7());
        await ledger.AskAsync(
            id,
            [
                new(named, by, now, run => run.NameCause(named, fault, new(cause.Faults, $"The drawing was wrong: {cause.Title(run.Loom)}"))),
                new(key, by, now, run => run.CorrectDrawing(key, fault, made.Revision, cause.Places)),
            ],
            CancellationToken.None);
        return TypedResults.Ok(made);
    }
}
