using System.Collections.Immutable;
using System.Security.Claims;
using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Pinouts;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Library;
using WiseLoom.Web.People;

namespace WiseLoom.Web.Book;

/// <summary>What was decided about a loose wire.</summary>
internal sealed record LooseDecided(LooseDecision Decision, string Label, double LengthMm, string Note, string By, DateTimeOffset At);

/// <summary>A cavity of the plug: what the sheet says, what is proposed, what was decided.</summary>
/// <param name="Decided">Null while the wire is not identified.</param>
internal sealed record LooseCavity(string Cavity, string Function, string Role, string Colour, string Mating, string WireSide, LooseAdvice Advice, LooseDecided? Decided);

internal sealed record LooseView(long SheetId, string Sheet, string Connector, string Title, string FamilyId, FaceLayout MatingFace, FaceLayout WireSide, ImmutableArray<LooseCavity> Cavities);

/// <summary>A decision; <paramref name="Decision"/> null takes the last one back.</summary>
internal sealed record LooseRequest(Guid Key, string Connector, string Cavity, LooseDecision? Decision, string Label, double LengthMm, string Note);

internal static class LooseEndpoints
{
    internal static void MapLoose(this RouteGroupBuilder api)
    {
        api.MapGet("/sheets/{id:long}/loose/{connector}", ViewAsync).WithSummary("Loose wires of a plug, and what was decided about them");
        api.MapPost("/sheets/{id:long}/loose", DecideAsync).WithSummary("Decide about a loose wire");
    }

    private static async Task<Results<Ok<LooseView>, ProblemHttpResult>> ViewAsync(long id, string connector, SheetStore store, ShopLibrary library, CancellationToken cancel)
    {
        if (await store.FindAsync(id, cancel) is not { } sheet || sheet.Sheet.Connectors.FirstOrDefault(c => c.Ref == connector) is not { } plug)
        {
            return Refusal.NotFound("plug on this sheet");
        }

        if (!(await library.FamiliesAsync(cancel)).TryGetValue(plug.Family, out var family))
        {
            return Refusal.Conflict($"Nobody has said which family {connector} is: without it no face can be counted on. Set it on the sheet.");
        }

        var decided = (await store.LooseAsync(id, connector, cancel)).ToDictionary(r => r.Cavity, StringComparer.Ordinal);
        var lines = sheet.Sheet.Lines.Where(l => l.Connector == connector).ToDictionary(l => l.Cavity, StringComparer.Ordinal);
        var (mating, wire) = (FaceLayout.Of(family, FaceSide.MatingFace), FaceLayout.Of(family, FaceSide.WireSide));
        return TypedResults.Ok(new LooseView(id, sheet.Sheet.Title, connector, plug.Title, family.Id, mating, wire,
        [
            .. family.Cavities.Order(NaturalOrder.Comparer).Select(c =>
            {
                var line = lines.GetValueOrDefault(c);
                return new LooseCavity(
                    c, line?.Function ?? "", PinRoles.Words(line?.AsPinout().Role ?? PinRole.Unknown), line?.Colour ?? "",
                    mating.Cells.First(x => x.Cavity == c).Spoken, wire.Cells.First(x => x.Cavity == c).Spoken,
                    LooseWire.Advise(line?.AsPinout(), $"{connector}:{c}"),
                    decided.TryGetValue(c, out var row) && Word(row.Decision) is { } decision ? new(decision, row.Label, row.LengthMm, row.Note, row.By, row.At) : null);
            }),
        ]));
    }

    private static async Task<Results<Ok<LooseView>, ProblemHttpResult>> DecideAsync(
        long id, LooseRequest request, ClaimsPrincipal user, SheetStore store, ShopLibrary library, CancellationToken cancel)
    {
        if (await store.FindAsync(id, cancel) is not { } sheet || sheet.Sheet.Connectors.FirstOrDefault(c => c.Ref == request.Connector) is not { } plug)
        {
            return Refusal.NotFound("plug on this sheet");
        }

        var problems = new List<Problem>();
        if (request.Key == Guid.Empty)
        {
            problems.Add(new("/key", "A key is needed."));
        }

        if ((await library.FamiliesAsync(cancel)).GetValueOrDefault(plug.Family)?.HasCavity(request.Cavity) != true)
        {
            problems.Add(new("/cavity", $"{request.Connector} has no cavity {request.Cavity}."));
        }

        if (request.Label.Length > LooseWire.LongestLabel || request.Label.Any(char.IsControl))
        {
            problems.Add(new("/label", $"At most {LooseWire.LongestLabel} characters fit on a label."));
        }

        if (!(request.LengthMm is >= 0 and <= 100_000))
        {
            problems.Add(new("/lengthMm", "Between 0 and 100,000 mm."));
        }

        if (request.Note.Length > 400)
        {
            problems.Add(new("/note", "At most 400 characters."));
        }

        if (problems.Count > 0)
        {
            return Refusal.Because("This cannot be taken as it is.", problems);
        }

        var word = request.Decision is { } d ? JsonNamingPolicy.KebabCaseLower.ConvertName(d.ToString()) : "none";
        await store.DecideAsync(id, request.Key, request.Connector, request.Cavity, word, request.Label, request.LengthMm, request.Note, user.Id(), cancel);
        return await ViewAsync(id, request.Connector, store, library, cancel);
    }

    private static LooseDecision? Word(string word) =>
        Enum.GetValues<LooseDecision>().Cast<LooseDecision?>().FirstOrDefault(d => JsonNamingPolicy.KebabCaseLower.ConvertName(d.ToString()!) == word);
}
