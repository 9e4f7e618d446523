using Microsoft.Playwright;

namespace WiseLoom.Web.Handover;

/// <summary>Prints a pack's HTML to PDF with the machine's Chromium, which is kept warm.</summary>
internal sealed partial class PdfPrinter(IConfiguration settings, ILogger<PdfPrinter> log) : IAsyncDisposable
{
    private static readonly string[] Flags =
    [
        "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync",
    ];

    private readonly SemaphoreSlim one = new(1);
    private IPlaywright? playwright;
    private IBrowser? browser;

    private string Chromium => settings["WISELOOM_CHROMIUM"] ?? "/usr/bin/chromium";

    /// <summary>Whether a browser is installed; without one, packs are HTML only.</summary>
    internal bool CanPrint => File.Exists(Chromium);

    /// <summary>Prints a page.</summary>
    /// <returns>The PDF (A4, tagged, with bookmarks), or null when there is no browser or it failed; then the log says why.</returns>
    internal async Task<byte[]?> PrintAsync(string html, string footer, CancellationToken cancel)
    {
        if (!CanPrint)
        {
            return null;
        }

        await one.WaitAsync(cancel);
        try
        {
            playwright ??= await Playwright.CreateAsync();
            if (browser is not { IsConnected: true })
            {
                browser = await playwright.Chromium.LaunchAsync(new() { ExecutablePath = Chromium, Args = Flags });
            }

            var page = await browser.NewPageAsync(new() { JavaScriptEnabled = false });
            try
            {
                await page.SetContentAsync(html);
                return await page.PdfAsync(new()
                {
                    Format = "A4",
                    Tagged = true,
                    Outline = true,
                    PrintBackground = true,
                    DisplayHeaderFooter = true,
                    HeaderTemplate = "<span></span>",
                    FooterTemplate = $"<div style=\"font-size:8px;width:100%;padding:0 12mm;display:flex;justify-content:space-between\"><span>{System.Net.WebUtility.HtmlEncode(footer)}</span><span><span class=\"pageNumber\"></span> of <span class=\"totalPages\"></span></span></div>",
                    Margin = new() { Top = "12mm", Bottom = "16mm", Left = "12mm", Right = "12mm" },
                });
            }
            finally
            {
                await page.CloseAsync();
            }
        }
        catch (PlaywrightException e)
        {
            CouldNotPrint(log, e);
            return null;
        }
        finally
        {
            one.Release();
        }
    }

    public async ValueTask DisposeAsync()
    {
        if (browser is not null)
        {
            await browser.DisposeAsync();
        }

        playwright?.Dispose();
        one.Dispose();
    }

    [LoggerMessage(LogLevel.Warning, "The pack could not be printed as PDF.")]
    private static partial void CouldNotPrint(ILogger log, Exception e);
}
