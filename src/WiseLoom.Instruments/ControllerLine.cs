using System.Collections.Immutable;
using System.Net.Sockets;
using System.Runtime.CompilerServices;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using WiseLoom.Core.Devices;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Shop;

namespace WiseLoom.Instruments;

/// <summary>A controller over TCP: lines of JSON, one object each way. One connection for each request, so that cutting it stops what it drives, and
/// nothing of an answer that came too late is taken for the next.</summary>
/// <param name="host">Name or address.</param>
/// <param name="port">1 to 65535.</param>
/// <param name="patience">How long a request may take, what it drives or logs not counted, and how long live values may be silent; 10 s and 3 s when null.</param>
public sealed class ControllerLine(string host, int port, TimeSpan? patience = null) : IController, IPracticeEngine
{
    /// <summary>A busy machine must not make a sound controller look dead; values that stand still must not look alive.</summary>
    private readonly TimeSpan longest = patience ?? TimeSpan.FromSeconds(10), silent = patience ?? TimeSpan.FromSeconds(3);

    /// <inheritdoc/>
    public async Task<string> IdentityAsync(CancellationToken cancel) => ControllerMessages.Text(await AskAsync(Do("identify"), cancel).ConfigureAwait(false), "identity");

    /// <inheritdoc/>
    public async Task<ImmutableArray<ControllerSetting>> SettingsAsync(CancellationToken cancel) =>
        [.. ControllerMessages.Objects(await AskAsync(Do("settings"), cancel).ConfigureAwait(false), "settings").Select(ControllerMessages.Setting)];

    /// <inheritdoc/>
    public async Task<ImmutableArray<LiveValue>> LiveAsync(CancellationToken cancel) =>
        [.. ControllerMessages.Objects(await AskAsync(Do("live"), cancel).ConfigureAwait(false), "values").Select(ControllerMessages.Live)];

    /// <inheritdoc/>
    public async Task<ImmutableArray<ControllerCode>> CodesAsync(CancellationToken cancel) =>
        [.. ControllerMessages.Objects(await AskAsync(Do("codes"), cancel).ConfigureAwait(false), "codes").Select(c => new ControllerCode(ControllerMessages.Text(c, "code"), ControllerMessages.Text(c, "text")))];

    /// <inheritdoc/>
    public Task ClearAsync(CancellationToken cancel) => AskAsync(Do("clear"), cancel);

    /// <inheritdoc/>
    public async Task<ImmutableArray<string>> OutputsAsync(CancellationToken cancel) =>
        (await AskAsync(Do("identify"), cancel).ConfigureAwait(false))["outputs"] is JsonArray list ? [.. list.Where(o => o?.GetValueKind() == JsonValueKind.String).Select(o => o!.GetValue<string>())] : [];

    /// <inheritdoc/>
    public async Task<Driven> DriveAsync(string output, int times, int onMs, int offMs, CancellationToken cancel)
    {
        var request = Do("drive");
        (request["output"], request["times"], request["onMs"], request["offMs"]) = (output, times, onMs, offMs);
        var answer = await AskAsync(request, cancel, TimeSpan.FromMilliseconds((double)times * (onMs + offMs))).ConfigureAwait(false);
        return new((int)ControllerMessages.Number(answer, "times"), answer["amps"] is { } amps ? amps.GetValue<double>() : null);
    }

    /// <inheritdoc/>
    public Task StopAsync(CancellationToken cancel) => AskAsync(Do("stop"), cancel);

    /// <inheritdoc/>
    public async Task<TriggerLog> LogAsync(int ms, CancellationToken cancel)
    {
        var request = Do("log");
        request["ms"] = ms;
        var answer = await AskAsync(request, cancel, TimeSpan.FromMilliseconds(ms)).ConfigureAwait(false);
        var edges = ImmutableSortedDictionary.CreateBuilder<string, ImmutableArray<double>>(StringComparer.Ordinal);
        foreach (var signal in ControllerMessages.Objects(answer, "signals"))
        {
            edges[ControllerMessages.Text(signal, "device")] = signal["edgesUs"] is JsonArray list ? [.. list.Select(e => e is JsonValue v && v.GetValueKind() == JsonValueKind.Number ? v.GetValue<double>() : double.NaN)] : [];
        }

        var log = new TriggerLog(edges.ToImmutable(), ControllerMessages.Number(answer, "ms"));
        return log.Wrong() is { } wrong ? throw new ControllerException($"The controller’s log cannot be: {wrong}") : log;
    }

    /// <inheritdoc/>
    public async IAsyncEnumerable<ImmutableArray<LiveValue>> WatchAsync(int perSecond, [EnumeratorCancellation] CancellationToken cancel)
    {
        using var client = new TcpClient { NoDelay = true };
        await using var lines = await OpenAsync(client, cancel).ConfigureAwait(false);
        var request = Do("watch");
        request["perSecond"] = perSecond;
        await SendAsync(lines.Stream, request, cancel).ConfigureAwait(false);
        while (true)
        {
            using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
            limit.CancelAfter(silent);
            ImmutableArray<LiveValue> values;
            try
            {
                values = [.. ControllerMessages.Objects(Checked(await LineAsync(lines.Reader, limit.Token).ConfigureAwait(false), (int)request["id"]!), "values").Select(ControllerMessages.Live)];
            }
            catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
            {
                throw new ControllerException($"The controller at {host}:{port} has told nothing for {silent.TotalSeconds:0.#} s.");
            }
            catch (Exception e) when (e is SocketException or IOException)
            {
                throw new ControllerException($"The line to the controller at {host}:{port} was cut.", e);
            }

            yield return values;
        }
    }

    /// <inheritdoc/>
    public async Task<IPracticeEngine?> PracticeAsync(CancellationToken cancel) =>
        await KnownAsync(cancel).ConfigureAwait(false) is JsonValue practice && practice.GetValueKind() == JsonValueKind.True ? this : null;

    /// <summary>A real controller does not know the question.</summary>
    private async Task<JsonNode?> KnownAsync(CancellationToken cancel)
    {
        try
        {
            return (await AskAsync(Do("practice"), cancel).ConfigureAwait(false))["practice"];
        }
        catch (ControllerException e) when (e.InnerException is null && e.Message.StartsWith(SaysNo, StringComparison.Ordinal))
        {
            return null;
        }
    }

    /// <inheritdoc/>
    public Task PutAsync(PowerUpCheck check, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(check);
        return AskAsync(Bench(check), cancel);
    }

    /// <inheritdoc/>
    public async Task<FoundByHand> DoAsync(PowerUpCheck check, CancellationToken cancel)
    {
        ArgumentNullException.ThrowIfNull(check);
        var request = Do("check");
        request["check"] = check.Id;
        var answer = await AskAsync(request, cancel).ConfigureAwait(false);
        var findings = answer["findings"] is JsonArray list ? list.Select(f => f?.ToString() ?? "").ToImmutableArray() : [];
        return new(
            answer["others"] is JsonArray others ? new OthersAnswer([.. others.Select(o => o?.ToString() ?? "")])
            : answer["outcome"] is { } outcome && Outcomes.Find(outcome.ToString()) is { } seen ? new SeenAnswer(seen)
            : new MeasuredAnswer(answer["value"] is JsonValue value && value.GetValueKind() == JsonValueKind.Number ? value.GetValue<double>() : null),
            findings);
    }

    private static JsonObject Bench(PowerUpCheck check)
    {
        var request = Do("bench");
        request["key"] = KeyPositions.Word(check.Meanwhile.Key);
        request["set"] = new JsonArray([.. check.Meanwhile.Conditions.Where(c => c != check.Output).Order(StringComparer.Ordinal).Select(c => (JsonNode)c)]);
        request["without"] = new JsonArray([.. check.Meanwhile.Without.Order(StringComparer.Ordinal).Select(c => (JsonNode)c)]);
        request["levers"] = check.Levers.ToString().ToLowerInvariant();
        return request;
    }

    private const string SaysNo = "The controller says: ";

    private static int last;

    private static JsonObject Do(string what) => new() { ["id"] = Interlocked.Increment(ref last) & 0xFFFFFF, ["do"] = what };

    private async Task<JsonObject> AskAsync(JsonObject request, CancellationToken cancel, TimeSpan besides = default)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        limit.CancelAfter(longest + besides);
        try
        {
            using var client = new TcpClient { NoDelay = true };
            await using var lines = await OpenAsync(client, limit.Token).ConfigureAwait(false);
            await SendAsync(lines.Stream, request, limit.Token).ConfigureAwait(false);
            return Checked(await LineAsync(lines.Reader, limit.Token).ConfigureAwait(false), (int)request["id"]!);
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            throw new ControllerException($"The controller at {host}:{port} did not answer in time. Is the key on and the line plugged in?");
        }
        catch (Exception e) when (e is SocketException or IOException)
        {
            throw new ControllerException($"The controller at {host}:{port} cannot be reached, or the line was cut. Is the key on and the line plugged in?", e);
        }
        catch (InvalidOperationException e)
        {
            throw new ControllerException($"The controller at {host}:{port} answered something that cannot be understood.", e);
        }
    }

    private async Task<Lines> OpenAsync(TcpClient client, CancellationToken cancel)
    {
        try
        {
            await client.ConnectAsync(host, port, cancel).ConfigureAwait(false);
        }
        catch (SocketException e)
        {
            throw new ControllerException($"The controller at {host}:{port} cannot be reached. Is the key on and the line plugged in?", e);
        }

        var stream = client.GetStream();
        return new(stream, new StreamReader(stream, Encoding.UTF8, false, 4096));
    }

    private static Task SendAsync(NetworkStream stream, JsonObject request, CancellationToken cancel) => stream.WriteAsync(Encoding.UTF8.GetBytes(request.ToJsonString() + "\n"), cancel).AsTask();

    /// <summary>The content of an answer to a request of this number.</summary>
    private static JsonObject Checked(string line, int id)
    {
        JsonObject? answer;
        try
        {
            answer = JsonNode.Parse(line) as JsonObject;
        }
        catch (JsonException e)
        {
            throw new ControllerException($"The controller answered ‘{LinePattern.Shown(line)}’, which is no line of JSON.", e);
        }

        if (answer?["id"] is not JsonValue number || number.GetValueKind() != JsonValueKind.Number || number.GetValue<int>() != id)
        {
            throw new ControllerException("The controller answered something that was not asked.");
        }

        return answer["error"] is JsonObject error ? throw new ControllerException($"{SaysNo}{LinePattern.Shown(error["message"]?.ToString() ?? error["code"]?.ToString() ?? "no")}")
            : answer["ok"] as JsonObject ?? throw new ControllerException("The controller’s answer has neither content nor error.");
    }

    private async Task<string> LineAsync(StreamReader reader, CancellationToken cancel)
    {
        var line = new StringBuilder();
        var some = new char[4096];
        while (true)
        {
            var read = await reader.ReadAsync(some.AsMemory(0, 1), cancel).ConfigureAwait(false);
            if (read == 0)
            {
                throw new ControllerException($"The controller at {host}:{port} hung up before it answered.");
            }

            if (some[0] == '\n')
            {
                return line.ToString();
            }

            if (line.Append(some[0]).Length > ControllerMessages.LongestLine)
            {
                throw new ControllerException($"What answers at {host}:{port} does not end its line: it is no controller.");
            }
        }
    }

    private sealed record Lines(NetworkStream Stream, StreamReader Reader) : IAsyncDisposable
    {
        public async ValueTask DisposeAsync()
        {
            Reader.Dispose();
            await Stream.DisposeAsync().ConfigureAwait(false);
        }
    }
}
