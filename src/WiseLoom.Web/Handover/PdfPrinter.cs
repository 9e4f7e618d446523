using System.Threading.Channels;
using Microsoft.Playwright;
using WiseLoom.Core.Handover;

namespace WiseLoom.Web.Handover;

/// <summary>Prints packs with the machine's Chromium: two at once, each given up after a while, so that no print holds up another for ever.</summary>
internal sealed partial class PdfPrinter : IAsyncDisposable
{
    /// <summary>So many are printed at once.</summary>
    private const int AtOnce = 2;

    /// <summary>A print takes no longer, and nobody waits longer for one; <c>WISELOOM_PRINT_SECONDS</c> sets another limit.</summary>
    private const int MostSeconds = 120;

    private readonly string chromium;
    private readonly TimeSpan patience;
    private readonly ILogger<PdfPrinter> log;
    private readonly Channel<PdfPress> idle = Channel.CreateBounded<PdfPress>(AtOnce);

    public PdfPrinter(IConfiguration settings, ILogger<PdfPrinter> log)
    {
        this.log = log;
        chromium = settings["WISELOOM_CHROMIUM"] ?? "/usr/bin/chromium";
        patience = TimeSpan.FromSeconds(settings.GetValue("WISELOOM_PRINT_SECONDS", MostSeconds));
        Presses = [.. Enumerable.Range(0, AtOnce).Select(_ => new PdfPress(chromium, patience))];
        foreach (var press in Presses)
        {
            idle.Writer.TryWrite(press);
        }
    }

    /// <summary>All of them, at work or not.</summary>
    internal IReadOnlyList<PdfPress> Presses { get; }

    /// <summary>Whether a browser is installed; without one, packs are HTML only.</summary>
    internal bool CanPrint => File.Exists(chromium);

    /// <summary>Prints a page.</summary>
    /// <returns>The PDF, or null when there is no browser, it failed, or it took too long; then the log says why.</returns>
    internal async Task<byte[]?> PrintAsync(string html, string footer, PackPaper paper, CancellationToken cancel)
    {
        if (!CanPrint)
        {
            return null;
        }

        PdfPress? press = null;
        try
        {
            press = await idle.Reader.ReadAsync(cancel).AsTask().WaitAsync(patience, cancel);
            return await press.PrintAsync(html, footer, paper, cancel);
        }
        catch (Exception e) when (e is PlaywrightException or TimeoutException)
        {
            CouldNotPrint(log, e.Message.Split('\n')[0]);
            return null;
        }
        finally
        {
            if (press is not null)
            {
                idle.Writer.TryWrite(press);
            }
        }
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var press in Presses)
        {
            await press.DisposeAsync();
        }
    }

    [LoggerMessage(LogLevel.Warning, "The pack could not be printed as PDF: {Why}")]
    private static partial void CouldNotPrint(ILogger log, string why);
}
