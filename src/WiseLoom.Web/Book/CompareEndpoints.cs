using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Pinouts;
using WiseLoom.Core.Revisions;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Library;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Book;

/// <summary>Something that can be compared or merged.</summary>
/// <param name="Key">As addresses name it.</param>
/// <param name="Plugs">Its plugs, those of a controller first, with how many cavities are in use.</param>
internal sealed record PinoutEntry(string Key, string Kind, string Title, ImmutableArray<string> Plugs);

/// <summary>One side of a row.</summary>
internal sealed record ComparedPin(string Connector, string Cavity, string Function, string Role, string Colour, string Section)
{
    internal static ComparedPin? Of(PinoutLine? line) => line is null ? null : new(line.Place.Connector, line.Place.Cavity, line.Function, PinRoles.Words(line.Role), line.Colour, line.Section);
}

internal sealed record ComparedView(ComparedKind Kind, ComparedPin? Left, ComparedPin? Right, string Sentence);

internal sealed record KindCount(ComparedKind Kind, int Count);

/// <summary>Two pinouts side by side, as much of it as anybody reads.</summary>
/// <param name="Counts">How many lines there are of each kind.</param>
/// <param name="Lines">The first of those that were asked for.</param>
/// <param name="MoreLines">How many more of those there are.</param>
/// <param name="Changes">For two looms, the first of everything else that differs; empty for sheets.</param>
internal sealed record CompareView(
    string Left, string Right, ImmutableArray<KindCount> Counts, ImmutableArray<ComparedView> Lines, int MoreLines, ImmutableArray<FalseTwin> Twins, int MoreTwins, ImmutableArray<LoomChange> Changes, int MoreChanges);

internal static class CompareEndpoints
{
    private const int MostLines = 500, MostChanges = 500;

    internal static void MapCompare(this RouteGroupBuilder api)
    {
        api.MapGet("/pinouts", ChoicesAsync).IsHeavy("Listing pinouts").WithSummary("Sheets and looms to compare");
        api.MapGet("/compare", CompareAsync).IsHeavy("Comparing").WithSummary("Compare two pinouts");
    }

    private static async Task<List<PinoutEntry>> ChoicesAsync(SheetStore sheets, LoomStore looms, Looms.LoomLibrary library, CancellationToken cancel)
    {
        var entries = (await sheets.AllAsync(cancel)).ConvertAll(s => new PinoutEntry(string.Create(CultureInfo.InvariantCulture, $"sheet-{s.Id}"), "sheet", s.Sheet.Title, [.. s.Sheet.Connectors.Select(c => c.Ref)]));
        foreach (var job in (await looms.NewestAsync(cancel)).Select(r => r.JobId))
        {
            foreach (var r in await looms.OfJobAsync(job, cancel))
            {
                if (await library.FindAsync(r.Id, cancel) is { } loom)
                {
                    var controller = new Core.Looms.TrunkTree(loom).ControllerConnectors();
                    entries.Add(new(string.Create(CultureInfo.InvariantCulture, $"revision-{r.Id}"), "loom", $"{r.Name} {r.Revision}, job {r.JobId}", [.. loom.Connectors.OrderBy(c => controller.Contains(c.Ref) ? 0 : 1).Select(c => c.Ref)]));
                }
            }
        }

        return entries;
    }

    /// <summary>A kind as addresses and answers name it.</summary>
    private static string Named(ComparedKind kind) => JsonNamingPolicy.KebabCaseLower.ConvertName(kind.ToString());

    private static async Task<Results<Ok<CompareView>, ProblemHttpResult>> CompareAsync(
        string left, string right, string[]? kinds, string? find, HttpContext context, ShopLibrary library, CancellationToken cancel)
    {
        context.IsAt("reading both");
        if (PinoutChoice.Parse(left) is not { } a || PinoutChoice.Parse(right) is not { } b
            || await library.PinoutAsync(a, cancel) is not { } one || await library.PinoutAsync(b, cancel) is not { } other)
        {
            return Refusal.NotFound("pinout: name two, such as sheet-3 and revision-5");
        }

        context.IsAt("comparing functions and plugs");
        var compared = PinoutComparison.Of(one.Pinout, other.Pinout, await library.SynonymsAsync(cancel), cancel);
        context.IsAt("comparing everything else");
        var lines = compared.Lines.Where(l => (kinds is null or [] || kinds.Contains(Named(l.Kind), StringComparer.Ordinal)) && l.Sentence.Contains(find ?? "", StringComparison.OrdinalIgnoreCase)).ToList();
        var changes = one.Document is { } before && other.Document is { } after ? LoomDifference.Between(before, after, cancel) : [];
        return TypedResults.Ok(new CompareView(
            one.Pinout.Title,
            other.Pinout.Title,
            [.. compared.Lines.CountBy(l => l.Kind).Select(c => new KindCount(c.Key, c.Value))],
            [.. lines.Take(MostLines).Select(l => new ComparedView(l.Kind, ComparedPin.Of(l.Left), ComparedPin.Of(l.Right), l.Sentence))],
            Math.Max(0, lines.Count - MostLines),
            compared.Twins,
            compared.MoreTwins,
            [.. changes.Take(MostChanges)],
            Math.Max(0, changes.Length - MostChanges)));
    }
}
