using System.Net;
using System.Text;
using System.Text.Json;
using SkiaSharp;
using WiseLoom.Web.Http;

namespace WiseLoom.Web.Tests;

/// <summary>What a run asks for beside the bare loom, over HTTP: looks with photos, crimp samples, devices.</summary>
public sealed class LookTests(Shop shop)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private async Task<(Visitor Visitor, long Run, JsonElement[] Steps)> StartAsync(byte[] loom, object? with = null)
    {
        var visitor = await shop.TechnicianAsync();
        var job = await visitor.JobWithLoomAsync(loom);
        var run = await visitor.StartRunAsync(job, with ?? new { meterId = 1, isolation = "neighbours", carryOver = false, pulls = true, looks = true });
        return (visitor, run.GetProperty("id").GetInt64(), [.. run.GetProperty("steps").EnumerateArray()]);
    }

    /// <summary>A camera's file that lies on its side and says where it was taken.</summary>
    private static byte[] Lying(int width, int height)
    {
        var plain = Photos.Picture(width, height);
        byte[] exif = [.. "Exif\0\0"u8, .. "II*\0"u8, 8, 0, 0, 0, 2, 0, 0x12, 1, 3, 0, 1, 0, 0, 0, 6, 0, 0, 0, 0x0E, 1, 2, 0, 11, 0, 0, 0, 38, 0, 0, 0, 0, 0, 0, 0, .. "at the quay\0"u8];
        return [plain[0], plain[1], 0xFF, 0xE1, (byte)((exif.Length + 2) >> 8), (byte)((exif.Length + 2) & 255), .. exif, .. plain[2..]];
    }

    private static int StepOf(JsonElement[] steps, string kind) => steps.First(s => s.GetProperty("kind").GetString() == kind).GetProperty("number").GetInt32();

    private static Task<HttpResponseMessage> SendAsync(Visitor visitor, long run, int step, Guid key, byte[] file) => visitor.SendFileAsync($"/api/runs/{run}/steps/{step}/photos/{key}", file);

    private static async Task<byte[]> FetchAsync(Visitor visitor, long run, Guid key, bool small = false)
    {
        var answer = await visitor.GetAsync($"/api/runs/{run}/photos/{key}{(small ? "?small=true" : "")}");
        answer.StatusCode.ShouldBe(HttpStatusCode.OK);
        answer.Content.Headers.ContentType!.MediaType.ShouldBe("image/jpeg");
        return await answer.Content.ReadAsByteArrayAsync(Cancel);
    }

    [Fact]
    public async Task A_photo_is_turned_upright_made_smaller_and_says_nothing_but_its_picture()
    {
        var (visitor, run, steps) = await StartAsync(ImportTests.Small);
        var (step, key) = (StepOf(steps, "look"), Guid.CreateVersion7());
        var file = Lying(2400, 1800);
        Encoding.Latin1.GetString(file).ShouldContain("at the quay");
        (await SendAsync(visitor, run, step, key, file)).StatusCode.ShouldBe(HttpStatusCode.OK);

        var large = await FetchAsync(visitor, run, key);
        using var codec = SKCodec.Create(new MemoryStream(large));
        (codec.Info.Width, codec.Info.Height).ShouldBe((1200, 1600));
        Encoding.Latin1.GetString(large).ShouldNotContain("Exif");
        Encoding.Latin1.GetString(large).ShouldNotContain("quay");
        using var small = SKCodec.Create(new MemoryStream(await FetchAsync(visitor, run, key, small: true)));
        (small.Info.Width, small.Info.Height).ShouldBe((240, 320));
        var bench = await visitor.ReadAsync($"/api/runs/{run}/since/0");
        bench.GetProperty("steps").EnumerateArray().Single().GetProperty("photos")[0].GetGuid().ShouldBe(key);
    }

    [Fact]
    public async Task The_newest_photo_of_a_plug_stands_in_the_pack_beside_its_faces()
    {
        var lead = await shop.LeadAsync();
        var job = await lead.JobWithLoomAsync(ImportTests.Small);
        var started = await lead.StartRunAsync(job, new { meterId = 1, isolation = "neighbours", carryOver = false, looks = true });
        var (run, step) = (started.GetProperty("id").GetInt64(), StepOf([.. started.GetProperty("steps").EnumerateArray()], "look"));
        var (older, newer) = (Guid.CreateVersion7(), Guid.CreateVersion7());
        (await SendAsync(lead, run, step, older, Photos.Picture(800, 600))).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await SendAsync(lead, run, step, newer, Photos.Picture(600, 800))).StatusCode.ShouldBe(HttpStatusCode.OK);
        var link = (await lead.PostForAsync($"/api/jobs/{job}/review", new { })).GetProperty("link").GetString()!;
        using var customer = shop.CreateClient(new() { HandleCookies = false });
        var html = await customer.GetStringAsync($"{link}/pack", Cancel);
        html.Split("<img ").Length.ShouldBe(2);
        html.ShouldContain($"data:image/jpeg;base64,{Convert.ToBase64String(await FetchAsync(lead, run, newer, small: true))}\" alt='A on the loom'");
    }

    [Theory]
    [InlineData(SKEncodedImageFormat.Png, 900, 300)]
    [InlineData(SKEncodedImageFormat.Webp, 300, 900)]
    [InlineData(SKEncodedImageFormat.Jpeg, 1, 1)]
    [InlineData(SKEncodedImageFormat.Jpeg, 5000, 10)]
    public void Small_and_narrow_pictures_are_never_made_larger(SKEncodedImageFormat format, int width, int height)
    {
        var kept = PhotoPress.Make(Photos.Picture(width, height, format), 320, out var wrong).ShouldNotBeNull();
        wrong.ShouldBeNull();
        using var large = SKCodec.Create(new MemoryStream(kept.Large));
        Math.Max(large.Info.Width, large.Info.Height).ShouldBe(Math.Min(1600, Math.Max(width, height)));
    }

    [Fact]
    public async Task The_same_photo_sent_twice_is_one_and_its_key_is_good_for_nothing_else()
    {
        var (visitor, run, steps) = await StartAsync(ImportTests.Small);
        var (step, key) = (StepOf(steps, "look"), Guid.CreateVersion7());
        var first = Photos.Picture(400, 300);
        for (var i = 0; i < 2; i++)
        {
            (await SendAsync(visitor, run, step, key, first)).StatusCode.ShouldBe(HttpStatusCode.OK);
        }

        (await SendAsync(visitor, run, step + 1, key, first)).StatusCode.ShouldBe(HttpStatusCode.Conflict);
        (await visitor.ReadAsync($"/api/runs/{run}/since/0")).GetProperty("lastEvent").GetInt64().ShouldBe(1);

        // A photo is only found in its own run.
        var (_, other, _) = await StartAsync(ImportTests.Small);
        (await visitor.GetAsync($"/api/runs/{other}/photos/{key}")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Theory]
    [MemberData(nameof(Photos.Bad), MemberType = typeof(Photos))]
    public async Task What_is_no_photo_is_refused_in_words_and_nothing_is_kept(string what, byte[] file, HttpStatusCode status, string words)
    {
        var (visitor, run, steps) = await StartAsync(ImportTests.Small);
        var answer = await SendAsync(visitor, run, StepOf(steps, "look"), Guid.CreateVersion7(), file);
        answer.StatusCode.ShouldBe(status, what);
        (await answer.Content.ReadAsStringAsync(Cancel)).ShouldContain(words);
        (await shop.CountAsync("select count(*) from run_photos where run_id = @run", run)).ShouldBe(0);
        (await visitor.ReadAsync($"/api/runs/{run}/since/0")).GetProperty("lastEvent").GetInt64().ShouldBe(0);
    }

    [Fact]
    public async Task A_look_and_a_sample_are_taken_in_their_own_units_and_stand_in_the_record()
    {
        var (visitor, run, steps) = await StartAsync(ImportTests.Small);
        var (look, pull) = (StepOf(steps, "look"), StepOf(steps, "pull"));
        Task<JsonElement> Take(object reading) => visitor.PostForAsync($"/api/runs/{run}/readings", new { takenBy = visitor.Person, readings = new[] { reading } });
        object Of(int step, object? asItShould = null, object? newtons = null, object? ohms = null, bool overRange = false) =>
            new { key = Guid.CreateVersion7(), step, ohms, asItShould, newtons, overRange, fromMeter = false, takenAt = DateTimeOffset.UtcNow, seen = 0 };

        foreach (var (wrong, words) in new[] { (Of(look, ohms: 1.0), "as it should be, or not"), (Of(pull, ohms: 85.0), "newtons"), (Of(look, asItShould: true, newtons: 3.0), "One value"), (Of(pull, overRange: true), "20,000 N"), (Of(look, overRange: true), "1 or 0"), (Of(pull, newtons: -3.0), "20,000 N") })
        {
            (await Take(wrong)).GetProperty("refused")[0].GetProperty("message").GetString()!.ShouldContain(words);
        }

        Standing(await Take(Of(look, asItShould: false))).ShouldBe(("fail", "not as it should be"));
        Standing(await Take(Of(pull, newtons: 59.0))).ShouldBe(("fail", "59 N"));
        (await visitor.PostAsync($"/api/runs/{run}/measure", new { step = look })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var csv = await (await visitor.GetAsync($"/api/runs/{run}/readings.csv")).Content.ReadAsStringAsync(Cancel);
        csv.ShouldContain("not as it should be");
        var record = await visitor.ReadAsync($"/api/runs/{run}/record.json");
        record.GetProperty("steps").EnumerateArray().Single(s => s.GetProperty("number").GetInt32() == pull).GetProperty("readings")[0].GetProperty("unit").GetString().ShouldBe("newton");

        // The same file brought into another run of the same plan finds the same steps.
        var (_, other, _) = await StartAsync(ImportTests.Small);
        var brought = await visitor.SendFileAsync($"/api/runs/{other}/bring-in?name=r.csv", Encoding.UTF8.GetBytes(csv));
        var told = JsonDocument.Parse(await brought.Content.ReadAsStringAsync(Cancel)).RootElement;
        told.GetProperty("stored").GetInt32().ShouldBe(2);
        (await visitor.ReadAsync($"/api/runs/{other}/since/0")).GetProperty("steps").EnumerateArray().Select(s => (s.GetProperty("step").GetInt32(), s.GetProperty("state").GetString())).ShouldBe([(look, "fail"), (pull, "fail")], ignoreOrder: true);

        static (string?, string?) Standing(JsonElement answer) => (answer.GetProperty("stored")[0].GetProperty("standing").GetProperty("state").GetString(), answer.GetProperty("stored")[0].GetProperty("reading").GetProperty("text").GetString());
    }

    [Fact]
    public async Task Devices_that_the_loom_does_not_have_are_named_and_those_it_has_are_read_through()
    {
        var visitor = await shop.TechnicianAsync();
        var loom = await File.ReadAllBytesAsync(Path.Combine(Shop.DemoFolder, "work-launch.json"), Cancel);
        var job = await visitor.JobWithLoomAsync(loom);
        (await visitor.PostAsync($"/api/jobs/{job}/runs", new { meterId = 1, isolation = "neighbours", carryOver = false, fitted = new[] { "no-such-thing" } })).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await visitor.GetAsync($"/api/jobs/{job}/plan?meterId=1&isolation=neighbours&fitted=no-such-thing")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var plan = await visitor.ReadAsync($"/api/jobs/{job}/plan?meterId=1&isolation=neighbours");
        var all = plan.GetProperty("devices").EnumerateArray().Select(d => d.GetProperty("ref").GetString()).ToList();
        all.Count.ShouldBeGreaterThan(10);
        var run = await visitor.StartRunAsync(job, new { meterId = 1, isolation = "neighbours", carryOver = false, fitted = all });
        var fitted = run.GetProperty("steps").EnumerateArray().Where(s => s.GetProperty("phase").GetString() == "fitted").ToList();
        fitted.ShouldAllBe(s => s.GetProperty("setup").GetString()!.Length > 10);
        var reason = await visitor.ReadAsync($"/api/runs/{run.GetProperty("id").GetInt64()}/steps/{fitted[0].GetProperty("number").GetInt32()}/reason");
        reason.GetProperty("sentence").GetString()!.ShouldContain("plugged in");
    }
}
