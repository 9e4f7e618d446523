using System.Diagnostics;
using System.Text;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.Logging.Abstractions;
using WiseLoom.Core.Handover;
using WiseLoom.Web.Handover;

namespace WiseLoom.Web.Tests;

/// <summary>Packs are printed whatever a browser does, or given up in time.</summary>
public sealed class PrinterTests
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static PdfPrinter Printer(string? chromium = null, int seconds = 60) => new(
        new ConfigurationBuilder().AddInMemoryCollection([new("WISELOOM_CHROMIUM", chromium), new("WISELOOM_PRINT_SECONDS", $"{seconds}")]).Build(), NullLogger<PdfPrinter>.Instance);

    private static Task<byte[]?> PrintAsync(PdfPrinter printer) => printer.PrintAsync("<html><body><h1>Pack</h1></body></html>", "footer", PackPaper.A4, Cancel);

    private static bool IsPdf(byte[]? bytes) => bytes is not null && bytes.AsSpan().StartsWith("%PDF-"u8);

    /// <summary>Sends a signal to the browser that has a mark on its command line, and to all that it started with it.</summary>
    private static void Signal(string signal, string mark)
    {
        using var kill = Process.Start("pkill", ["-" + signal, "-f", "--", mark]);
        kill.WaitForExit();
        kill.ExitCode.ShouldBe(0, "there is such a browser");
    }

    [Fact]
    public async Task Several_at_once_are_all_printed()
    {
        await using var printer = Printer();
        (await Task.WhenAll(Enumerable.Range(0, 5).Select(_ => PrintAsync(printer)))).ShouldAllBe(pdf => IsPdf(pdf));
    }

    [Fact]
    public async Task A_browser_that_was_killed_is_followed_by_a_fresh_one()
    {
        await using var printer = Printer();
        IsPdf(await PrintAsync(printer)).ShouldBeTrue();
        Signal("KILL", printer.Presses[0].Mark);
        // What is printed at this moment may be lost; what comes after it is not.
        await PrintAsync(printer);
        await PrintAsync(printer);
        (await Task.WhenAll(PrintAsync(printer), PrintAsync(printer))).ShouldAllBe(pdf => IsPdf(pdf));
    }

    /// <remarks>Long: the printer's own patience runs out.</remarks>
    [Fact]
    public async Task A_browser_that_hangs_holds_up_nobody_for_long_and_is_put_down()
    {
        await using var printer = Printer(seconds: 20);
        IsPdf(await PrintAsync(printer)).ShouldBeTrue();
        Signal("STOP", printer.Presses[0].Mark);

        var two = await Task.WhenAll(PrintAsync(printer), PrintAsync(printer));
        two.Count(IsPdf).ShouldBe(1, "the other press prints, the hanging one is given up");
        using (var found = Process.Start(new ProcessStartInfo("pgrep", ["-f", "--", printer.Presses[0].Mark]) { RedirectStandardOutput = true })!)
        {
            (await found.StandardOutput.ReadToEndAsync(Cancel)).Split('\n', StringSplitOptions.RemoveEmptyEntries).ShouldAllBe(pid => IsZombie(pid));
        }

        (await Task.WhenAll(PrintAsync(printer), PrintAsync(printer))).ShouldAllBe(pdf => IsPdf(pdf));
    }

    [Fact]
    public async Task A_program_that_never_answers_is_given_up_and_a_missing_one_is_told_at_once()
    {
        var script = Path.GetTempFileName();
        await File.WriteAllTextAsync(script, "#!/bin/sh\nexec sleep 600\n", Cancel);
        using (var chmod = Process.Start("chmod", ["+x", script]))
        {
            await chmod.WaitForExitAsync(Cancel);
        }

        await using var hangs = Printer(script, seconds: 2);
        (await Task.WhenAll(PrintAsync(hangs), PrintAsync(hangs), PrintAsync(hangs))).ShouldAllBe(pdf => pdf == null);
        File.Delete(script);

        await using var missing = Printer("/nonexistent");
        missing.CanPrint.ShouldBeFalse();
        (await PrintAsync(missing)).ShouldBeNull();
    }

    [Fact]
    public async Task Who_hangs_up_gives_the_press_back()
    {
        await using var printer = Printer();
        using var hangUp = new CancellationTokenSource();
        var gone = Enumerable.Range(0, 4).Select(_ => printer.PrintAsync($"<html><body>{new StringBuilder().Insert(0, "<p>line</p>", 20_000)}</body></html>", "", PackPaper.Letter, hangUp.Token)).ToList();
        await hangUp.CancelAsync();
        foreach (var print in gone)
        {
            await Should.ThrowAsync<OperationCanceledException>(() => print);
        }

        IsPdf(await PrintAsync(printer)).ShouldBeTrue();
    }

    private static bool IsZombie(string pid) => !File.Exists($"/proc/{pid}/stat") || File.ReadAllText($"/proc/{pid}/stat").Contains(") Z ", StringComparison.Ordinal);
}
