using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using WiseLoom.Core.Handover;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Planning.Steps;
using WiseLoom.Core.Revisions;
using WiseLoom.Core.Units;
using WiseLoom.Store;
using WiseLoom.Web.Runs;

namespace WiseLoom.Web.Handover;

/// <summary>Brings together what a pack says, from the run, the loom, the customer's answers and the pack before.</summary>
internal sealed class PackDrafter(PackStore packs, RunLedger ledger, PaperShelf papers, LimitStore limits, ReviewStore reviews, LoomStore looms, PhotoStore photos, PackingPhotoStore packing)
{
    /// <summary>More changes are counted and not told one by one.</summary>
    private const int MostChanges = 120;

    /// <summary>So many photos of plugs are put into a pack, and so many bytes of these and of its box all together: a phone reads it from a memory stick.</summary>
    private const int MostPhotos = 24, MostBytes = 240_000;

    /// <summary>The next version of a job's pack as it would be now.</summary>
    /// <param name="changes">What the lead tells of it in their own words.</param>
    internal async Task<PackModel> DraftAsync(Job job, OpenRun open, string changes, string signer, DateTimeOffset at, CancellationToken cancel)
    {
        var loom = open.Run.Loom;
        var head = new PackHead(job.Id, job.Customer, job.Machine, loom.Name, loom.Revision, (job.PackVersion ?? 0) + 1, changes, signer, at, open.Head.Meter.Name) { Language = job.Language };
        var box = await BoxAsync(job.Id, cancel);
        return PackModel.Of(head, open.Run, await ledger.RecordAsync(open, cancel), await papers.OfAsync(open.Head.RevisionId, loom, Language.Of(job.Language), cancel)) with
        {
            LeftOut = (await limits.LatestAsync(cancel)).Limits.Pack.LeftOut,
            Questions = await QuestionsAsync(job.Id, cancel),
            BoxPhotos = [.. box.Select(Convert.ToBase64String)],
            Photos = await PhotosAsync(open, MostBytes - box.Sum(p => p.Length), cancel),
            Changes = await ChangesAsync(job.Id, open.Head.RevisionId, cancel),
        };
    }

    /// <summary>What a draft depends on, as a key: as long as it is the same, so is the draft.</summary>
    internal async Task<string> StandsAtAsync(Job job, OpenRun open, CancellationToken cancel)
    {
        var (said, asked, box) = ((await reviews.SaidAsync(job.Id, cancel)).Count, (await reviews.QuestionsAsync(job.Id, cancel)).Count, await packing.OfJobAsync(job.Id, cancel));
        return $"{open.Head.Id} {open.Run.LastEvent} {job.Version} {job.PackVersion} {said} {asked} {string.Join(' ', (await limits.LatestAsync(cancel)).Limits.Pack.LeftOut)} {string.Join(' ', box.Select(p => p.Key))}";
    }

    /// <summary>The photos of the packed box, as far as there is room.</summary>
    private async Task<List<byte[]>> BoxAsync(long job, CancellationToken cancel)
    {
        var (found, bytes) = (new List<byte[]>(), 0);
        foreach (var photo in await packing.OfJobAsync(job, cancel))
        {
            if (await packing.FindAsync(job, photo.Key, true, cancel) is { } small && (bytes += small.Length) <= MostBytes)
            {
                found.Add(small);
            }
        }

        return found;
    }

    /// <summary>The newest photo of each connector that somebody looked at, in walking order as far as there is room.</summary>
    private async Task<ImmutableSortedDictionary<string, string>> PhotosAsync(OpenRun open, int most, CancellationToken cancel)
    {
        var keys = open.Run.Plan.Steps.OfType<LookStep>().Select(s => (s.Black.Connector, Photos: open.Run[s.Number].Photos)).Where(s => !s.Photos.IsEmpty)
            .GroupBy(s => s.Connector, StringComparer.Ordinal).ToDictionary(g => g.Key, g => g.Last().Photos[^1], StringComparer.Ordinal);
        var found = ImmutableSortedDictionary.CreateBuilder<string, string>(StringComparer.Ordinal);
        var bytes = 0;
        foreach (var connector in new TrunkTree(open.Run.Loom).WalkingOrder().Select(c => c.Ref).Where(keys.ContainsKey).Take(MostPhotos))
        {
            if (await photos.FindAsync(keys[connector], open.Head.Id, true, cancel) is { } small && (bytes += small.Length) <= most)
            {
                found[connector] = Convert.ToBase64String(small);
            }
        }

        return found.ToImmutable();
    }

    private async Task<ImmutableArray<PackQuestion>> QuestionsAsync(long job, CancellationToken cancel)
    {
        var answers = (await reviews.SaidAsync(job, cancel)).Where(s => s.Word.Kind == "answer").ToLookup(s => s.Word.Subject, StringComparer.Ordinal);
        return [.. (await reviews.QuestionsAsync(job, cancel)).Select(q => new PackQuestion(q.Asks, [.. q.Choices], answers[q.Id.ToString(CultureInfo.InvariantCulture)].LastOrDefault() is { Word: var said } ? $"{said.Words} ({said.Name})" : null))];
    }

    /// <summary>What is otherwise in the loom's file than in the one that the pack before was made from.</summary>
    private async Task<ImmutableArray<string>> ChangesAsync(long job, long revision, CancellationToken cancel)
    {
        if (await packs.NewestRevisionAsync(job, cancel) is not { } before || before == revision
            || Parsed(await looms.DocumentAsync(before, cancel)) is not { } old || Parsed(await looms.DocumentAsync(revision, cancel)) is not { } now)
        {
            return [];
        }

        var all = LoomDifference.Between(old, now, cancel);
        return all.Length <= MostChanges ? [.. all.Select(c => c.Sentence)] : [.. all.Take(MostChanges).Select(c => c.Sentence), $"And {all.Length - MostChanges} more."];
    }

    private static JsonObject? Parsed(string? document) => document is null ? null : LoomDocument.Parse(Encoding.UTF8.GetBytes(document));
}
