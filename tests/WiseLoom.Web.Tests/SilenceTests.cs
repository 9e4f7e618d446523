using System.Collections.Concurrent;
using System.Text;
using Microsoft.AspNetCore.Hosting;
using Microsoft.Extensions.Logging;

namespace WiseLoom.Web.Tests;

/// <summary>Somebody who is not signed in can make the application write nothing, whatever is sent: no disk is filled from outside.</summary>
public sealed class SilenceTests(Shop shop)
{
    private static readonly string[] Methods = ["GET", "POST", "PUT", "PATCH", "DELETE", "HEAD", "OPTIONS", "BREW"];

    private static readonly string[] Paths =
    [
        "/", "/api/session", "/api/jobs", "/api/jobs/1/events", "/api/first-lead", "/api/password-links/look", "/api/password-links/use", "/api/nothing", "/p/nothing", "/p/x/pdf", "/health", "/openapi/v1.json",
        "/..%2f..%2fetc/passwd", "/api/jobs/%ED%A0%80", "/x\r\nline", "/api/session?%00",
    ];

    private static readonly string?[] Cookies = [null, "wise-loom=garbage", "wise-loom-token=garbage", "wise-loom-token=CfDJ8AAAAAAAAAAAAAAAAAAAAAA; wise-loom=CfDJ8AAAAAAAAAAAAAAAAAAAAAAx", "=;;=\u0001"];

    private static readonly string[] Bodies = ["", "{", "null", "{\"signIn\":\"x\",\"password\":\"y\"}", "{\"signIn\":\"\\u0000\",\"password\":\"\\n\"}", "[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[["];

    [Fact]
    public async Task Nothing_a_stranger_sends_writes_a_line()
    {
        using var lines = new Lines();
        await using var listening = shop.WithWebHostBuilder(b => b.UseSetting("Logging:LogLevel:Default", "Information").ConfigureLogging(l => l.ClearProviders().AddProvider(lines)));
        using var client = listening.CreateClient(new() { HandleCookies = false, AllowAutoRedirect = false });
        lines.Written.Clear();
        foreach (var (path, at) in Paths.Select((p, i) => (p, i)))
        {
            foreach (var (method, which) in Methods.Select((m, i) => (m, i)))
            {
                using var request = new HttpRequestMessage(new(method), new Uri(path, UriKind.Relative));
                if (Cookies[(at + which) % Cookies.Length] is { } cookie)
                {
                    request.Headers.TryAddWithoutValidation("Cookie", cookie);
                }

                request.Headers.TryAddWithoutValidation("X-Wise-Loom-Token", "garbage");
                request.Content = method is "GET" or "HEAD" ? null : new StringContent(Bodies[(at + (3 * which)) % Bodies.Length], Encoding.UTF8, which % 3 == 0 ? "text/plain" : "application/json");
                (await client.SendAsync(request, TestContext.Current.CancellationToken)).Dispose();
            }
        }

        lines.Written.Distinct().Take(10).ShouldBeEmpty();
    }

    /// <summary>Every line that is written, kept.</summary>
    private sealed class Lines : ILoggerProvider
    {
        internal ConcurrentQueue<string> Written { get; } = new();

        public ILogger CreateLogger(string categoryName) => new Writer(categoryName, Written);

        public void Dispose()
        {
        }

        private sealed class Writer(string category, ConcurrentQueue<string> written) : ILogger
        {
            public IDisposable? BeginScope<TState>(TState state)
                where TState : notnull => null;

            public bool IsEnabled(LogLevel logLevel) => true;

            public void Log<TState>(LogLevel logLevel, EventId eventId, TState state, Exception? exception, Func<TState, Exception?, string> formatter) =>
                written.Enqueue($"{logLevel} {category}: {formatter(state, exception)}");
        }
    }
}
