using System.Net;
using WiseLoom.Core.Tests;

namespace WiseLoom.Web.Tests;

/// <summary>Meters at serial ports of the server over HTTP: entered, tried, measured with, pulled out.</summary>
public sealed class SerialInstrumentTests(Shop shop)
{
    private static object Meter(object? serial, string? host = null, int? port = null, bool matrix = false, string? name = null) =>
        new { name = name ?? $"Meter {Guid.NewGuid():n}", profile = "hand-two-wire", host, port, matrix, serial, retired = false };

    private static object At(string port, object? lines = null, int baud = 115200) => new { port, baud, parity = "none", dataBits = 8, lineEnd = "lf", lines };

    private static object Lines(string form) => new { form, over = Array.Empty<string>(), ask = "" };

    [Fact]
    public async Task A_meter_that_sends_lines_is_entered_tried_and_measured_with_and_told_when_it_is_pulled_out()
    {
        using var port = new PseudoTerminal();
        File.CreateSymbolicLink(shop.SerialPort, port.Name);
        var (lead, technician) = (await shop.LeadAsync(), await shop.TechnicianAsync());
        var ways = await lead.ReadAsync("/api/instruments/ways");
        ways.GetProperty("ports")[0].GetString().ShouldBe(shop.SerialPort);
        ways.GetProperty("forms").GetArrayLength().ShouldBeGreaterThan(3);

        port.Send(_ => "0.4 Ohm\r\n");
        var meter = await lead.PostForAsync("/api/instruments", Meter(At(shop.SerialPort, Lines("{value} {unit}"))));
        var id = meter.GetProperty("id").GetInt64();
        meter.GetProperty("answers").GetBoolean().ShouldBeTrue();
        meter.GetProperty("serial").GetProperty("lines").GetProperty("form").GetString().ShouldBe("{value} {unit}");
        var tried = await lead.PostForAsync($"/api/instruments/{id}/try", new { });
        (tried.GetProperty("line").GetString(), tried.GetProperty("reads").GetString(), tried.GetProperty("problem").GetString()).ShouldBe(("0.4 Ohm", "400 mΩ", null));

        var job = await lead.JobWithLoomAsync(ImportTests.Small);
        var run = (await lead.StartRunAsync(job, new { meterId = id, isolation = "neighbours", carryOver = false })).GetProperty("id").GetInt64();
        (await lead.PostForAsync($"/api/runs/{run}/measure", new { step = 1 })).GetProperty("ohms").GetDouble().ShouldBe(0.4);

        // Its cable is pulled out: what is entered stays, and may be changed.
        File.Delete(shop.SerialPort);
        var gone = await lead.PostAsync($"/api/runs/{run}/measure", new { step = 1 });
        gone.StatusCode.ShouldBe(HttpStatusCode.ServiceUnavailable);
        (await gone.Content.ReadAsStringAsync(TestContext.Current.CancellationToken)).ShouldContain(shop.SerialPort);
        (await lead.PostForAsync($"/api/instruments/{id}/try", new { })).GetProperty("problem").GetString().ShouldBe($"The port {shop.SerialPort} is not there now. Is the meter’s cable plugged in at the server?");
        (await lead.PutAsync($"/api/instruments/{id}", Meter(At(shop.SerialPort, Lines("{value}")), name: meter.GetProperty("name").GetString()), "\"1\"")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await technician.PostForAsync($"/api/instruments/{id}/try", new { })).GetProperty("problem").GetString()!.ShouldContain(shop.SerialPort);
    }

    [Fact]
    public async Task What_cannot_be_entered_is_refused_with_its_place()
    {
        var lead = await shop.LeadAsync();
        async Task RefusedAsync(string at, object meter) => (await Problems.OfAsync(await lead.PostAsync("/api/instruments", meter))).ShouldContain(p => p.At == at);

        await RefusedAsync("/serial/port", Meter(At("/etc/passwd")));
        await RefusedAsync("/serial/port", Meter(At(shop.SerialPort + "/../../etc/passwd")));
        await RefusedAsync("/serial/baud", Meter(At(shop.SerialPort, baud: 1)));
        await RefusedAsync("/serial/lines/form", Meter(At(shop.SerialPort, Lines("no value"))));
        await RefusedAsync("/serial", Meter(At(shop.SerialPort), "127.0.0.1", 5025));
        await RefusedAsync("/matrix", Meter(At(shop.SerialPort, Lines("{value}")), matrix: true));
        await RefusedAsync("/matrix", Meter(null, matrix: true));
    }

    [Fact]
    public async Task A_pattern_is_tried_on_captured_lines_and_nothing_is_stored()
    {
        var lead = await shop.LeadAsync();
        var read = await lead.PostForAsync("/api/instruments/lines", new { pattern = Lines("{value} {unit}"), lines = new[] { "12.34 kOhm", "", "OL", "12.6 V" } });
        read.EnumerateArray().Select(l => (l.GetProperty("reads").GetString(), l.GetProperty("wrong").GetString() is null)).ShouldBe([("12.3 kΩ", true), ("over range", true), (null, false)]);
        foreach (var (at, body) in new (string, object)[]
        {
            ("/pattern/form", new { pattern = Lines("x"), lines = new[] { "1" } }),
            ("/lines", new { pattern = Lines("{value}"), lines = Enumerable.Repeat("1", 51).ToArray() }),
            ("/lines", new { pattern = Lines("{value}"), lines = new[] { new string('1', 201) } }),
        })
        {
            (await Problems.OfAsync(await lead.PostAsync("/api/instruments/lines", body))).ShouldContain(p => p.At == at);
        }
    }
}
