using System.Diagnostics;
using System.Text;
using Microsoft.Playwright;
using WiseLoom.Core.Handover;

namespace WiseLoom.Web.Handover;

/// <summary>One Chromium that prints, kept warm. After anything that went wrong it is put down, and the next print begins with a fresh one.</summary>
/// <param name="chromium">Path of the program.</param>
/// <param name="patience">A print that takes longer is given up.</param>
internal sealed class PdfPress(string chromium, TimeSpan patience) : IAsyncDisposable
{
    private static readonly string[] Flags =
    [
        "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync",
    ];

    private static readonly TimeSpan BeforeTheEnd = TimeSpan.FromSeconds(2);

    private IPlaywright? playwright;
    private IBrowser? browser;

    /// <summary>Stands on the command line of this press's browser and of no other process; the browser takes no notice of it.</summary>
    internal string Mark { get; } = $"--wise-loom-press={Guid.NewGuid():n}";

    /// <summary>Prints a page.</summary>
    /// <returns>A4, tagged, with bookmarks.</returns>
    /// <exception cref="PlaywrightException">The browser failed.</exception>
    /// <exception cref="TimeoutException">It took too long.</exception>
    internal async Task<byte[]> PrintAsync(string html, string footer, PackPaper paper, CancellationToken cancel)
    {
        using var givenUp = new CancellationTokenSource();
        try
        {
            return await PrintedAsync(html, footer, paper, givenUp.Token).WaitAsync(patience, cancel);
        }
        catch
        {
            await givenUp.CancelAsync();
            await PutDownAsync();
            throw;
        }
    }

    public async ValueTask DisposeAsync()
    {
        await PutDownAsync();
        playwright?.Dispose();
    }

    private async Task<byte[]> PrintedAsync(string html, string footer, PackPaper paper, CancellationToken givenUp)
    {
        var most = (float)patience.TotalMilliseconds;
        playwright ??= await Playwright.CreateAsync();
        if (browser is not { IsConnected: true })
        {
            var fresh = await playwright.Chromium.LaunchAsync(new() { ExecutablePath = chromium, Args = [.. Flags, Mark], Timeout = most });
            if (givenUp.IsCancellationRequested)
            {
                // It came up when nobody waited for it any more.
                await fresh.CloseAsync();
                throw new OperationCanceledException(givenUp);
            }

            browser = fresh;
        }

        var page = await browser.NewPageAsync(new() { JavaScriptEnabled = false });
        await page.SetContentAsync(html, new() { Timeout = most });
        var pdf = await page.PdfAsync(new()
        {
            Format = paper.ToString(),
            Tagged = true,
            Outline = true,
            PrintBackground = true,
            DisplayHeaderFooter = true,
            HeaderTemplate = "<span></span>",
            FooterTemplate = $"<div style=\"font-size:8px;width:100%;padding:0 12mm;display:flex;justify-content:space-between\"><span>{System.Net.WebUtility.HtmlEncode(footer)}</span><span><span class=\"pageNumber\"></span> of <span class=\"totalPages\"></span></span></div>",
            Margin = new() { Top = "9mm", Bottom = "13mm", Left = "10mm", Right = "10mm" },
        });
        await page.CloseAsync();
        return pdf;
    }

    /// <summary>Asks the browser to end, and ends it when it does not.</summary>
    private async Task PutDownAsync()
    {
        var old = browser;
        browser = null;
        if (old is null && playwright is null)
        {
            return;
        }

        try
        {
            await (old?.CloseAsync() ?? Task.CompletedTask).WaitAsync(BeforeTheEnd);
        }
        catch (Exception e) when (e is TimeoutException or PlaywrightException)
        {
            // It hangs.
        }

        foreach (var process in Mine())
        {
            try
            {
                process.Kill();
            }
            catch (Exception e) when (e is InvalidOperationException or System.ComponentModel.Win32Exception)
            {
                // It has gone by itself.
            }
        }
    }

    private IEnumerable<Process> Mine()
    {
        var mark = Encoding.UTF8.GetBytes(Mark);
        foreach (var process in Process.GetProcesses())
        {
            byte[] line;
            try
            {
                line = File.ReadAllBytes($"/proc/{process.Id}/cmdline");
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                continue;
            }

            if (line.AsSpan().IndexOf(mark) >= 0)
            {
                yield return process;
            }
        }
    }
}
