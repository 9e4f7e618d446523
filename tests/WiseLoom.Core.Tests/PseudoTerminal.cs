using System.Runtime.InteropServices;
using System.Text;
using Microsoft.Win32.SafeHandles;

namespace WiseLoom.Core.Tests;

/// <summary>A port of this machine at whose other end a test plays the meter.</summary>
internal sealed class PseudoTerminal : IDisposable
{
    /// <summary>Read and write, and never the terminal that this process belongs to.</summary>
    private const int ReadWriteNoControl = 2 | 0x100;

    private readonly SafeFileHandle master;
    private readonly FileStream held;

    internal PseudoTerminal()
    {
        var descriptor = posix_openpt(ReadWriteNoControl);
        master = new(descriptor, ownsHandle: true);
        if (grantpt(descriptor) != 0 || unlockpt(descriptor) != 0)
        {
            throw new IOException("This machine gives no pseudo-terminal.");
        }

        Name = Marshal.PtrToStringAnsi(ptsname(descriptor))!;
        // Held open, so that the meter's end stays there while the program under test opens and closes it.
        held = new(Name, FileMode.Open, FileAccess.ReadWrite, FileShare.ReadWrite, 0);
        Meter = new(master, FileAccess.ReadWrite, 0);
    }

    /// <summary>The name under which a program opens it.</summary>
    internal string Name { get; }

    /// <summary>The meter's end.</summary>
    internal FileStream Meter { get; }

    /// <summary>Sends lines until the port is gone; it waits while nobody reads them.</summary>
    internal void Send(Func<int, string> line)
    {
        var sending = new Thread(() =>
        {
            try
            {
                for (var n = 0; ; n++)
                {
                    Meter.Write(Encoding.UTF8.GetBytes(line(n)));
                }
            }
            catch (Exception e) when (e is IOException or ObjectDisposedException)
            {
                // The port is gone.
            }
        }) { IsBackground = true };
        sending.Start();
    }

    /// <summary>Answers what is sent, until the port is gone.</summary>
    /// <param name="answer">What is sent back for a line, whole; null for nothing.</param>
    internal void Answer(Func<string, string?> answer)
    {
        var talking = new Thread(() =>
        {
            try
            {
                using var reader = new StreamReader(Meter, Encoding.ASCII, false, 1, leaveOpen: true);
                while (reader.ReadLine() is { } line)
                {
                    if (answer(line) is { } told)
                    {
                        Meter.Write(Encoding.UTF8.GetBytes(told));
                    }
                }
            }
            catch (Exception e) when (e is IOException or ObjectDisposedException)
            {
                // The port is gone.
            }
        }) { IsBackground = true };
        talking.Start();
    }

    public void Dispose()
    {
        held.Dispose();
        Meter.Dispose();
        master.Dispose();
    }

    [DllImport("libc")]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int posix_openpt(int flags);

    [DllImport("libc")]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int grantpt(int descriptor);

    [DllImport("libc")]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int unlockpt(int descriptor);

    [DllImport("libc")]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern IntPtr ptsname(int descriptor);
}
