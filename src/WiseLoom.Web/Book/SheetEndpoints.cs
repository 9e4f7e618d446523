using System.Collections.Immutable;
using System.Globalization;
using System.Security.Claims;
using System.Text;
using Microsoft.AspNetCore.Http.HttpResults;
using WiseLoom.Core.Formats;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Pinouts;
using WiseLoom.Store;
using WiseLoom.Web.Http;
using WiseLoom.Web.Library;
using WiseLoom.Web.People;
using WiseLoom.Web.Work;

namespace WiseLoom.Web.Book;

/// <summary>A sheet as the book lists it.</summary>
/// <param name="Confirmed">How many lines somebody vouches for.</param>
internal sealed record SheetEntry(long Id, string Title, string Source, string SourceNote, ImmutableArray<string> Plugs, int Lines, int Confirmed, string ChangedBy, DateTimeOffset ChangedAt);

/// <summary>Who vouches for a line, and how.</summary>
internal sealed record VouchView(string How, string By, DateTimeOffset At);

/// <summary>A line with what is known about its trust.</summary>
/// <param name="Role">What kind of circuit it is, in words.</param>
/// <param name="Vouched">Confirmations that hold for what the line says now, strongest first.</param>
internal sealed record SheetLineView(SheetLine Line, string Role, ImmutableArray<VouchView> Vouched);

/// <summary>A plug with its faces, when its family is known.</summary>
internal sealed record SheetPlugView(SheetConnector Plug, string? FamilyTitle, FaceLayout? MatingFace, FaceLayout? WireSide);

internal sealed record SheetView(
    long Id, string Title, string Source, string SourceNote, int Version, string ChangedBy, DateTimeOffset ChangedAt, ImmutableArray<SheetPlugView> Plugs, ImmutableArray<SheetLineView> Lines, ImmutableArray<Problem> Warnings);

internal sealed record SheetRequest(string Title, string Source, string SourceNote, ImmutableArray<SheetConnector> Connectors, ImmutableArray<SheetLine> Lines);

internal sealed record ConfirmLine(Guid Key, string Connector, string Cavity);

internal sealed record ConfirmRequest(ImmutableArray<ConfirmLine> Lines, string How);

/// <summary>Lines read from a file or the clipboard; nothing is stored by it.</summary>
internal sealed record ReadLinesView(ImmutableArray<SheetLine> Lines, ImmutableArray<Problem> Problems);

internal sealed record SearchHit(long SheetId, string Sheet, SheetLine Line, string Role, ImmutableArray<VouchView> Vouched);

internal static class SheetEndpoints
{
    private static readonly string[] Sources = ["factory-drawing", "supplier-sheet", "traced", "word-of-mouth"];
    private static readonly string[] Ways = ["running", "loom", "print"];

    internal static void MapSheets(this RouteGroupBuilder api)
    {
        api.MapGet("/sheets", ListAsync).WithSummary("Sheets of the pinout book");
        api.MapGet("/sheets/search", SearchAsync).IsHeavy("Searching the book").WithSummary("Search functions through all sheets");
        api.MapPost("/sheets", AddAsync).WithSummary("Add a sheet");
        api.MapPost("/sheets/read-lines", ReadLinesAsync).WithMetadata(new ChangesNothing()).Accepts<object>("application/octet-stream").WithMetadata(new TakesFile()).IsHeavy("Reading the file").WithSummary("Read lines of a sheet out of a file");
        api.MapGet("/sheets/{id:long}", GetAsync).IsHeavy("Opening the sheet").WithSummary("A sheet with its versions and confirmations");
        api.MapPut("/sheets/{id:long}", ChangeAsync).IsHeavy("Keeping the sheet").WithSummary("Change a sheet");
        api.MapPost("/sheets/{id:long}/confirmations", ConfirmAsync).WithSummary("Vouch for lines of a sheet");
        api.MapGet("/sheets/{id:long}/lines.csv", CsvAsync).ExcludeFromDescription();
    }

    private static async Task<List<SheetEntry>> ListAsync(SheetStore store, CancellationToken cancel)
    {
        var entries = new List<SheetEntry>();
        foreach (var s in await store.AllAsync(cancel))
        {
            var vouched = Vouched(await store.ConfirmationsAsync(s.Id, cancel));
            entries.Add(new(s.Id, s.Sheet.Title, s.Source, s.SourceNote, [.. s.Sheet.Connectors.Select(c => c.Ref)], s.Sheet.Lines.Length, s.Sheet.Lines.Count(l => vouched.Contains(Name(l))), s.ChangedBy, s.ChangedAt));
        }

        return entries;
    }

    private static async Task<List<SearchHit>> SearchAsync(string? q, SheetStore store, ShopLibrary library, CancellationToken cancel)
    {
        var all = await store.AllAsync(cancel);
        var hits = new List<SearchHit>();
        var vouched = new Dictionary<long, ILookup<(string, string, string), VouchView>>();
        foreach (var (sheet, line) in FunctionSearch.Find((q ?? "")[..Math.Min(q?.Length ?? 0, 200)], all.Select(s => (s, s.Sheet)), await library.SynonymsAsync(cancel)))
        {
            if (!vouched.TryGetValue(sheet.Id, out var known))
            {
                vouched[sheet.Id] = known = Vouched(await store.ConfirmationsAsync(sheet.Id, cancel));
            }

            hits.Add(new(sheet.Id, sheet.Sheet.Title, line, PinRoles.Words(line.AsPinout().Role), [.. known[Name(line)]]));
        }

        return hits;
    }

    private static async Task<Results<Ok<SheetView>, ProblemHttpResult>> GetAsync(long id, HttpContext context, SheetStore store, ShopLibrary library, CancellationToken cancel) =>
        await ViewAsync(id, context, store, library, cancel) is { } view ? TypedResults.Ok(view) : Refusal.NotFound("sheet");

    private static async Task<Results<Created<SheetView>, ProblemHttpResult>> AddAsync(
        SheetRequest request, HttpContext context, ClaimsPrincipal user, SheetStore store, ShopLibrary library, CancellationToken cancel)
    {
        if (await CheckAsync(request, library, cancel) is { } refusal)
        {
            return refusal;
        }

        var id = await store.AddAsync(Sheet(request), request.Source, request.SourceNote, user.Id(), cancel);
        return TypedResults.Created($"/api/sheets/{id}", await ViewAsync(id, context, store, library, cancel));
    }

    private static async Task<Results<Ok<SheetView>, ProblemHttpResult>> ChangeAsync(
        long id, SheetRequest request, HttpContext context, ClaimsPrincipal user, SheetStore store, ShopLibrary library, CancellationToken cancel)
    {
        if (EntityVersion.Asked(context) is not { } version)
        {
            return EntityVersion.Missing("sheet");
        }

        if (await store.FindAsync(id, cancel) is null)
        {
            return Refusal.NotFound("sheet");
        }

        if (await CheckAsync(request, library, cancel) is { } refusal)
        {
            return refusal;
        }

        var taken = await store.ChangeAsync(id, version, Sheet(request), request.Source, request.SourceNote, user.Id(), cancel);
        var now = await ViewAsync(id, context, store, library, cancel);
        return taken ? TypedResults.Ok(now!) : EntityVersion.Overtaken("sheet", now);
    }

    private static async Task<Results<Ok<SheetView>, ProblemHttpResult>> ConfirmAsync(
        long id, ConfirmRequest request, HttpContext context, ClaimsPrincipal user, SheetStore store, ShopLibrary library, CancellationToken cancel)
    {
        if (await store.FindAsync(id, cancel) is not { } sheet)
        {
            return Refusal.NotFound("sheet");
        }

        if (!Ways.Contains(request.How))
        {
            return Refusal.Field("/how", "How was it confirmed: print, loom or running?");
        }

        var lines = request.Lines.Select(l => (l.Key, Line: sheet.Sheet.Lines.FirstOrDefault(s => s.Connector == l.Connector && s.Cavity == l.Cavity))).ToList();
        if (lines.FindIndex(l => l.Line is null || l.Key == Guid.Empty) is var wrong and >= 0)
        {
            return Refusal.Field($"/lines/{wrong}", "The sheet has no such line, or the key is missing.");
        }

        foreach (var (key, line) in lines)
        {
            await store.ConfirmAsync(id, key, line!, request.How, user.Id(), cancel);
        }

        return TypedResults.Ok((await ViewAsync(id, context, store, library, cancel))!);
    }

    /// <summary>Reads CSV, XLSX or pasted text into lines.</summary>
    private static async Task<Results<Ok<ReadLinesView>, ProblemHttpResult>> ReadLinesAsync(string? name, string? plug, HttpContext context, CancellationToken cancel)
    {
        if (await UploadBody.ReadAsync(context, cancel) is not { } bytes)
        {
            return UploadBody.TooLarge();
        }

        var problems = new List<Problem>();
        var source = string.IsNullOrWhiteSpace(name) ? "pasted rows" : name;
        var table = bytes.AsSpan().StartsWith("PK"u8)
            ? Workbook.Read(bytes, source, problems)?.FirstOrDefault()
            : CsvText.Read(bytes, source, source, problems);
        ImmutableArray<SheetLine> lines = table is null ? [] : Core.Pinouts.Sheet.ReadLines(table, plug?.Trim() ?? "", problems);
        return TypedResults.Ok(new ReadLinesView(problems.Count > 0 ? [] : lines, [.. problems]));
    }

    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> CsvAsync(long id, SheetStore store, CancellationToken cancel)
    {
        if (await store.FindAsync(id, cancel) is not { } sheet)
        {
            return Refusal.NotFound("sheet");
        }

        var rows = sheet.Sheet.Lines.Select((l, i) => new TextRow(i + 2, [.. new[] { l.Connector, l.Cavity, l.Function, l.Direction, l.Colour, l.Section, l.Note }.Select(FormulaGuard.Neutralise)]));
        var table = new TextTable("lines", "lines", 1, ["connector", "cavity", "function", "direction", "colour", "section", "note"], [.. rows]);
        return TypedResults.File(Encoding.UTF8.GetBytes(CsvText.Write(table)), "text/csv; charset=utf-8", string.Create(CultureInfo.InvariantCulture, $"sheet-{id}.csv"));
    }

    private static Sheet Sheet(SheetRequest r) => new(r.Title.Trim(), r.Connectors, r.Lines);

    private static async Task<ProblemHttpResult?> CheckAsync(SheetRequest request, ShopLibrary library, CancellationToken cancel)
    {
        var problems = Sheet(request).Check(await library.FamiliesAsync(cancel)).Problems.ToList();
        if (!Sources.Contains(request.Source))
        {
            problems.Add(new("/source", $"Where is it from: {string.Join(", ", Sources)}?"));
        }

        if (request.SourceNote.Length > 400)
        {
            problems.Add(new("/sourceNote", "At most 400 characters."));
        }

        return problems.Count > 0 ? Refusal.Because("The sheet cannot be stored like this.", problems) : null;
    }

    private static async Task<SheetView?> ViewAsync(long id, HttpContext context, SheetStore store, ShopLibrary library, CancellationToken cancel)
    {
        if (await store.FindAsync(id, cancel) is not { } s)
        {
            return null;
        }

        EntityVersion.Tell(context, s.Version);
        var families = await library.FamiliesAsync(cancel);
        var vouched = Vouched(await store.ConfirmationsAsync(id, cancel));
        return new(
            s.Id,
            s.Sheet.Title,
            s.Source,
            s.SourceNote,
            s.Version,
            s.ChangedBy,
            s.ChangedAt,
            [.. s.Sheet.Connectors.Select(c => Plug(c, families.GetValueOrDefault(c.Family)))],
            [.. s.Sheet.Lines.Select(l => new SheetLineView(l, PinRoles.Words(l.AsPinout().Role), [.. vouched[Name(l)]]))],
            s.Sheet.Check(families).Warnings);
    }

    private static SheetPlugView Plug(SheetConnector plug, ConnectorFamily? family) => family is null
        ? new(plug, null, null, null)
        : new(plug, family.Title, FaceLayout.Of(family, FaceSide.MatingFace), FaceLayout.Of(family, FaceSide.WireSide));

    private static (string, string, string) Name(SheetLine l) => (l.Connector, l.Cavity, l.Function);

    /// <summary>Confirmations by what they were given for, a running engine before a tested loom before a print.</summary>
    private static ILookup<(string, string, string), VouchView> Vouched(IEnumerable<Confirmation> all) => all
        .OrderBy(c => Array.IndexOf(Ways, c.How)).ThenByDescending(c => c.At)
        .ToLookup(c => (c.Connector, c.Cavity, c.Function), c => new VouchView(c.How, c.By, c.At));
}
