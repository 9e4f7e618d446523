using System.Net;
using SkiaSharp;

namespace WiseLoom.Web.Tests;

/// <summary>Photos of the packed box, over HTTP and in the pack.</summary>
public sealed class PackingPhotoTests(Shop shop)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static string Address(long job, Guid key) => $"/api/jobs/{job}/packing-photos/{key}";

    private static async Task<HttpStatusCode> SendAsync(Visitor visitor, long job, Guid key, byte[]? file = null) =>
        (await visitor.SendFileAsync(Address(job, key), file ?? Photos.Picture(800, 600))).StatusCode;

    private static async Task<List<Guid>> StandingAsync(Visitor visitor, long job) =>
        [.. (await visitor.ReadAsync($"/api/jobs/{job}/handover")).GetProperty("packing").EnumerateArray().Select(p => p.GetProperty("key").GetGuid())];

    [Fact]
    public async Task A_photo_stands_in_the_packs_to_come_until_it_is_taken_out_and_stays_in_one_that_was_signed()
    {
        var lead = await shop.LeadAsync();
        var job = await PackPrintTests.ReleasableAsync(lead);
        var (one, two) = (Guid.CreateVersion7(), Guid.CreateVersion7());
        (await SendAsync(lead, job, one, Photos.Picture(2000, 1500))).ShouldBe(HttpStatusCode.NoContent);
        (await SendAsync(await shop.TechnicianAsync(), job, two)).ShouldBe(HttpStatusCode.NoContent);
        (await StandingAsync(lead, job)).ShouldBe([one, two]);
        var small = await (await lead.GetAsync($"{Address(job, one)}?small=true")).Content.ReadAsByteArrayAsync(Cancel);
        using (var codec = SKCodec.Create(new MemoryStream(small)))
        {
            (codec.Info.Width, codec.Info.Height).ShouldBe((640, 480));
        }

        var html = await (await lead.GetAsync($"/api/packs/{await PackPrintTests.SignedAsync(lead, job)}/html")).Content.ReadAsStringAsync(Cancel);
        html.ShouldContain("The box as it was packed (2)");
        html.ShouldContain(Convert.ToBase64String(small));

        (await lead.DeleteAsync(Address(job, one))).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await lead.DeleteAsync(Address(job, one))).StatusCode.ShouldBe(HttpStatusCode.NoContent, "twice is once");
        (await StandingAsync(lead, job)).ShouldBe([two]);
        (await lead.GetAsync(Address(job, one))).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        var next = await (await lead.GetAsync($"/api/packs/{await PackPrintTests.SignedAsync(lead, job)}/html")).Content.ReadAsStringAsync(Cancel);
        next.ShouldNotContain(Convert.ToBase64String(small));
        next.ShouldContain("The box as it was packed (1)");
    }

    [Fact]
    public async Task A_draft_that_was_read_before_shows_a_photo_that_came_since_and_not_one_that_went()
    {
        var lead = await shop.LeadAsync();
        var job = await PackPrintTests.ReleasableAsync(lead);
        var link = (await lead.PostForAsync($"/api/jobs/{job}/review", new { })).GetProperty("link").GetString()!;
        using var customer = shop.CreateClient(new() { HandleCookies = false });
        async Task<int> PhotosAsync() => (await customer.GetStringAsync($"{link}/pack", Cancel)).Split("The box as it was packed").Length - 1;
        (await PhotosAsync()).ShouldBe(0);
        var key = Guid.CreateVersion7();
        await SendAsync(lead, job, key);
        (await PhotosAsync()).ShouldBe(1);
        await lead.DeleteAsync(Address(job, key));
        await SendAsync(lead, job, Guid.CreateVersion7());
        (await PhotosAsync()).ShouldBe(1);
        await lead.DeleteAsync(Address(job, (await StandingAsync(lead, job))[0]));
        (await PhotosAsync()).ShouldBe(0);
    }

    [Fact]
    public async Task Sent_twice_is_once_and_a_key_is_good_for_one_job_and_one_photo()
    {
        var visitor = await shop.TechnicianAsync();
        var (job, other, key) = (await visitor.JobWithLoomAsync(ImportTests.Small), await visitor.JobWithLoomAsync(ImportTests.Small), Guid.CreateVersion7());
        (await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => SendAsync(visitor, job, key)))).ShouldAllBe(s => s == HttpStatusCode.NoContent);
        (await StandingAsync(visitor, job)).ShouldBe([key]);
        (await SendAsync(visitor, other, key)).ShouldBe(HttpStatusCode.Conflict);
        (await visitor.GetAsync(Address(other, key))).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await visitor.DeleteAsync(Address(other, key))).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await visitor.DeleteAsync(Address(job, key))).StatusCode.ShouldBe(HttpStatusCode.NoContent);
        (await SendAsync(visitor, job, key)).ShouldBe(HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task Four_stand_however_many_are_sent_at_once_and_forty_are_ever_kept()
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var answers = await Task.WhenAll(Enumerable.Range(0, 9).Select(_ => SendAsync(visitor, job, Guid.CreateVersion7(), Photos.Picture(8, 8))));
        answers.Count(s => s == HttpStatusCode.NoContent).ShouldBe(4);
        answers.Count(s => s == HttpStatusCode.Conflict).ShouldBe(5);
        var sent = 4;
        for (; ; sent++)
        {
            (await visitor.DeleteAsync(Address(job, (await StandingAsync(visitor, job))[0]))).StatusCode.ShouldBe(HttpStatusCode.NoContent);
            if (await SendAsync(visitor, job, Guid.CreateVersion7(), Photos.Picture(8, 8)) is var status && status != HttpStatusCode.NoContent)
            {
                status.ShouldBe(HttpStatusCode.Conflict);
                break;
            }
        }

        sent.ShouldBe(40);
        (await shop.CountAsync("select count(*) from packing_photos where job_id = @run", job)).ShouldBe(40);
    }

    [Theory]
    [MemberData(nameof(Photos.Bad), MemberType = typeof(Photos))]
    public async Task What_is_no_photo_is_refused_in_words_and_nothing_is_kept(string what, byte[] file, HttpStatusCode status, string words)
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(ImportTests.Small);
        var answer = await visitor.SendFileAsync(Address(job, Guid.CreateVersion7()), file);
        answer.StatusCode.ShouldBe(status, what);
        (await answer.Content.ReadAsStringAsync(Cancel)).ShouldContain(words);
        (await StandingAsync(visitor, job)).ShouldBeEmpty();
    }
}
