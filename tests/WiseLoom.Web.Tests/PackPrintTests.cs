using System.Net;
using System.Text;
using AngleSharp;
using AngleSharp.Dom;
using UglyToad.PdfPig;
using UglyToad.PdfPig.Tokens;

namespace WiseLoom.Web.Tests;

/// <summary>Packs in the customer's language, on the shop's paper, told apart from the pack before, and fit to be read aloud.</summary>
public sealed class PackPrintTests(Shop shop)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_pack_is_in_the_language_of_its_job_and_says_what_the_customer_answered()
    {
        var lead = await shop.LeadAsync();
        var job = await ReleasableAsync(lead);
        var (customer, machine) = ("Obsthof am Deich", "Turm 4");
        var wrong = await lead.PutAsync($"/api/jobs/{job}", new { customer, machine, promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null, language = "xx" }, "\"1\"");
        wrong.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await wrong.Content.ReadAsStringAsync(Cancel)).ShouldContain("Write one of en, de.");
        (await lead.PutAsync($"/api/jobs/{job}", new { customer, machine, promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null, language = "de" }, "\"1\"")).EnsureSuccessStatusCode();
        // Who does not know of the language leaves it as it is.
        (await lead.PutAsync($"/api/jobs/{job}", new { customer, machine, promised = (string?)null, assignedId = (string?)null, waitingFor = (string?)null }, "\"2\"")).EnsureSuccessStatusCode();
        (await lead.ReadAsync($"/api/jobs/{job}")).GetProperty("language").GetString().ShouldBe("de");
        await lead.PostAsync($"/api/jobs/{job}/questions", new { key = Guid.CreateVersion7(), asks = "Wohin mit dem Ende?", choices = new[] { "Mast", "Kasten" } });

        var pack = await SignedAsync(lead, job);
        var page = await PageAsync(lead, pack);
        page.DocumentElement.GetAttribute("lang").ShouldBe("de");
        page.QuerySelector("#not")!.TextContent.ShouldBe("Was nicht geprüft wurde");
        page.GetElementById("questions")!.ParentElement!.TextContent.ShouldContain("Noch nicht beantwortet.");
        (await lead.ReadAsync($"/api/packs/{pack}/json")).GetProperty("head").GetProperty("language").GetString().ShouldBe("de");
        using var pdf = PdfDocument.Open(await PdfAsync(lead, pack, ""));
        pdf.Information.Title!.ShouldContain("Übergabemappe 1");

        // The review speaks it too; the shop's own pages go on in English.
        var link = (await lead.PostForAsync($"/api/jobs/{job}/review", new { })).GetProperty("link").GetString()!;
        using var visitor = shop.CreateClient(new() { HandleCookies = false });
        (await visitor.GetStringAsync(link, Cancel)).ShouldContain("Er darf so verpackt werden, wie er ist");
        (await visitor.GetStringAsync($"{link}/pack", Cancel)).ShouldContain("Bevor Sie anfangen");
        (await lead.ReadAsync($"/api/jobs/{job}/handover")).GetProperty("notProven")[0].GetString()!.ShouldContain("Isolation was measured only");
    }

    [Fact]
    public async Task A_pack_prints_on_the_paper_that_is_asked_for()
    {
        var lead = await shop.LeadAsync();
        var pack = await SignedAsync(lead, await ReleasableAsync(lead));
        foreach (var (paper, width, height) in new[] { ("", 595, 842), ("?paper=a4", 595, 842), ("?paper=letter", 612, 792) })
        {
            using var pdf = PdfDocument.Open(await PdfAsync(lead, pack, paper));
            ((int)pdf.GetPage(1).Width, (int)pdf.GetPage(1).Height).ShouldBe((width, height), paper);
        }

        foreach (var nonsense in new[] { "a5", "1", "-1", "Letter,A4" })
        {
            (await lead.GetAsync($"/api/packs/{pack}/pdf?paper={nonsense}")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity, nonsense);
        }

        (await lead.GetAsync("/api/packs/999999/pdf?paper=letter")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task The_next_pack_says_what_is_otherwise_in_the_loom()
    {
        var lead = await shop.LeadAsync();
        var job = await ReleasableAsync(lead);
        (await PageAsync(lead, await SignedAsync(lead, job))).GetElementById("changes").ShouldBeNull();
        var first = (await lead.ReadAsync($"/api/jobs/{job}/bench")).GetProperty("run").GetProperty("id").GetInt64();
        (await lead.ImportAsync(job, Small("B", "RD"))).EnsureSuccessStatusCode();
        var old = (await lead.ReadAsync($"/api/jobs/{job}/handover")).GetProperty("packs")[0];
        old.GetProperty("against").GetString().ShouldBe("Since it was signed the loom has become revision B: it does not tell of that.");
        (await PageAsync(lead, old.GetProperty("id").GetInt64())).QuerySelector(".against")!.TextContent.ShouldContain("revision B");
        (await lead.ReadAsync($"/api/jobs/{job}")).GetProperty("stage").GetString().ShouldBe("waiting-for-bench");
        await PassAsync(lead, job, first);
        var page = await PageAsync(lead, await SignedAsync(lead, job));
        var changes = page.GetElementById("changes")!.ParentElement!.TextContent;
        changes.ShouldContain("Wire W2: colour BU → RD.");
        changes.ShouldContain("Loom: revision A → B.");
    }

    [Fact]
    public async Task A_pack_carries_the_hash_of_what_was_signed_and_another_text_in_its_place_is_not_shown()
    {
        var lead = await shop.LeadAsync();
        var job = await ReleasableAsync(lead);
        var pack = await SignedAsync(lead, job);
        var html = await (await lead.GetAsync($"/api/packs/{pack}/html")).Content.ReadAsByteArrayAsync(Cancel);
        (await lead.ReadAsync($"/api/jobs/{job}/handover")).GetProperty("packs")[0].GetProperty("hash").GetString().ShouldBe(Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(html)));
        (await Should.ThrowAsync<Exception>(() => shop.DoAsync($"update packs set html = 'x' where id = {pack}"))).Message.ShouldContain("packs");
        await shop.DoAsync($"alter table packs disable trigger packs_frozen; update packs set html = replace(html, 'Small', 'Large') where id = {pack}; alter table packs enable trigger packs_frozen");
        var answer = await lead.GetAsync($"/api/packs/{pack}/html");
        answer.StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await answer.Content.ReadAsStringAsync(Cancel)).ShouldContain("not as it was signed");
    }

    /// <summary>What a checker of accessible PDFs looks at first, as far as the file's own objects show it.</summary>
    [Fact]
    public async Task The_pdf_is_tagged_has_a_title_a_language_bookmarks_and_words_for_every_drawing()
    {
        var visitor = await shop.TechnicianAsync();
        var id = (await visitor.ReadAsync("/api/jobs/1/handover")).GetProperty("packs")[0].GetProperty("id").GetInt64();
        using var pdf = PdfDocument.Open(await PdfAsync(visitor, id, ""));
        var catalog = pdf.Structure.Catalog.CatalogDictionary;
        Elements(pdf, catalog.Data["MarkInfo"]).First().Data["Marked"].ShouldBe(BooleanToken.True);
        Text(catalog.Data["Lang"]).ShouldBe("en");
        pdf.Information.Title.ShouldNotBeNullOrEmpty();
        pdf.TryGetBookmarks(out var bookmarks).ShouldBeTrue();
        bookmarks.GetNodes().Count().ShouldBeGreaterThan(20);

        var elements = Elements(pdf, catalog.Data["StructTreeRoot"]).ToList();
        string Kind(DictionaryToken e) => e.Data.TryGetValue("S", out var s) && s is NameToken name ? name.Data : "";
        elements.Count(e => Kind(e) == "H1").ShouldBe(1);
        elements.Count(e => Kind(e) == "TH").ShouldBeGreaterThan(100);
        elements.Count(e => Kind(e) == "Table").ShouldBeGreaterThan(20);
        var figures = elements.Where(e => Kind(e) == "Figure").ToList();
        figures.Count.ShouldBeGreaterThan(40);
        figures.ShouldAllBe(f => f.Data.ContainsKey("Alt") && Text(f.Data["Alt"]).Length > 3);
    }

    private static IEnumerable<DictionaryToken> Elements(PdfDocument pdf, IToken token)
    {
        var stack = new Stack<IToken>([token]);
        while (stack.TryPop(out var next))
        {
            switch (next)
            {
                case IndirectReferenceToken reference:
                    stack.Push(pdf.Structure.GetObject(reference.Data).Data);
                    break;
                case ArrayToken array:
                    foreach (var item in array.Data)
                    {
                        stack.Push(item);
                    }

                    break;
                case DictionaryToken element:
                    yield return element;
                    if (element.Data.TryGetValue("K", out var kids))
                    {
                        stack.Push(kids);
                    }

                    break;
            }
        }
    }

    private static string Text(IToken token) => token switch { StringToken s => s.Data, HexToken h => h.Data, _ => "" };

    private static async Task<byte[]> PdfAsync(Visitor visitor, long pack, string paper)
    {
        var answer = await visitor.GetAsync($"/api/packs/{pack}/pdf{paper}");
        answer.StatusCode.ShouldBe(HttpStatusCode.OK, paper);
        return await answer.Content.ReadAsByteArrayAsync(Cancel);
    }

    private static async Task<IDocument> PageAsync(Visitor visitor, long pack)
    {
        var html = await (await visitor.GetAsync($"/api/packs/{pack}/html")).Content.ReadAsStringAsync(Cancel);
        return await BrowsingContext.New(Configuration.Default).OpenAsync(r => r.Content(html), Cancel);
    }

    /// <summary>Signs a job's pack and gives its number.</summary>
    internal static async Task<long> SignedAsync(Visitor lead, long job)
    {
        await Visitor.BodyAsync(await lead.SignAsync(job), "signing");
        return (await lead.ReadAsync($"/api/jobs/{job}/handover")).GetProperty("packs")[0].GetProperty("id").GetInt64();
    }

    private static byte[] Small(string revision, string colour) => Encoding.UTF8.GetBytes($$"""
        { "format": "wise-loom/loom", "version": 1, "loom": { "name": "Small", "revision": "{{revision}}" },
          "families": [ { "id": "three", "rows": [["1", "2", "3"]] } ],
          "branches": [ { "id": "trunk", "parent": null, "atMm": 0, "lengthMm": 500 } ],
          "connectors": [ { "ref": "A", "family": "three", "branch": "trunk" }, { "ref": "B", "family": "three", "branch": "trunk", "atMm": 400 } ],
          "wires": [ { "id": "W1", "from": "A:1", "to": "B:1", "colour": "BU", "mm2": 0.5, "lengthMm": 1000 }, { "id": "W2", "from": "A:2", "to": "B:2", "colour": "{{colour}}", "mm2": 0.5, "lengthMm": 1000 } ] }
        """);

    private static async Task PassAsync(Visitor lead, long job, long? setAside = null)
    {
        var run = (await lead.PostForAsync($"/api/jobs/{job}/runs", new { meterId = 1, isolation = "neighbours", carryOver = false, setAside })).GetProperty("id").GetInt64();
        await lead.TakeAsync(run, Sent.New(1, 0.042), Sent.New(3, 0.042), Sent.New(2, null));
    }

    /// <summary>A job whose small loom is proven.</summary>
    internal static async Task<long> ReleasableAsync(Visitor lead)
    {
        var job = await lead.JobWithLoomAsync(Small("A", "BU"));
        await PassAsync(lead, job);
        return job;
    }
}
