using System.Collections.Immutable;
using System.Net.Sockets;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using WiseLoom.Core.Devices;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Practice;
using WiseLoom.Core.States;

namespace WiseLoom.Instruments;

/// <summary>A stand-in for an engine's controller, and the engine behind it: speaks lines of JSON on a loopback port and obeys the loom model with hidden faults.</summary>
/// <param name="plan">The power-up whose checks it can be put to.</param>
public sealed class SimulatedController(SimulatedMachine machine, PowerUpPlan plan, double ambientC)
{
    /// <summary>An output is never on for longer than this in one go, nor driven longer in all, milliseconds.</summary>
    private const int MostOnMs = 2000, MostInAllMs = 20_000;

    private const int MostTimes = 50;

    private readonly Lock one = new();
    private readonly SimulatedHands hands = new(machine, plan.Fit, ambientC);
    private Session? driver;
    private string? driven;

    /// <summary>The output that is on now; null for none.</summary>
    public string? Driven
    {
        get
        {
            lock (one)
            {
                return driven;
            }
        }
    }

    /// <summary>Serves until cancelled.</summary>
    /// <param name="port">0 for any free port.</param>
    /// <param name="listening">Called once with the port in use.</param>
    /// <exception cref="OperationCanceledException">Always, in the end.</exception>
    public Task ServeAsync(int port, Action<int> listening, CancellationToken cancel) => StandInPort.ServeAsync(port, listening, TalkAsync, cancel);

    private async Task TalkAsync(TcpClient client, CancellationToken cancel)
    {
        using (client)
        {
            using var hungUp = CancellationTokenSource.CreateLinkedTokenSource(cancel);
            using var session = new Session(this, client.GetStream(), hungUp.Token);
            try
            {
                using var reader = new StreamReader(client.GetStream(), Encoding.UTF8, false, 4096, leaveOpen: true);
                var work = Task.CompletedTask;
                while (await LineAsync(reader, hungUp.Token).ConfigureAwait(false) is { } line)
                {
                    // What drives or watches goes on while the line is read, so that hanging up is noticed at once.
                    await session.BeforeAsync(work).ConfigureAwait(false);
                    work = session.AnswerAsync(line);
                }
            }
            catch (Exception e) when (e is IOException or SocketException or OperationCanceledException)
            {
                // The other side hung up: what it drove goes off below.
            }
            finally
            {
                await hungUp.CancelAsync().ConfigureAwait(false);
                Release(session);
            }
        }
    }

    private static async Task<string?> LineAsync(StreamReader reader, CancellationToken cancel)
    {
        var line = new StringBuilder();
        var sign = new char[1];
        while (await reader.ReadAsync(sign.AsMemory(), cancel).ConfigureAwait(false) == 1)
        {
            if (sign[0] == '\n')
            {
                return line.ToString();
            }

            if (line.Append(sign[0]).Length > ControllerMessages.LongestLine)
            {
                return null;
            }
        }

        return null;
    }

    /// <summary>Switches off what a session drives.</summary>
    private void Release(Session session)
    {
        lock (one)
        {
            if (driver == session)
            {
                (driver, driven) = (null, null);
            }
        }
    }

    private sealed class Session(SimulatedController of, NetworkStream stream, CancellationToken cancel) : IDisposable
    {
        private readonly SemaphoreSlim sending = new(1);

        public void Dispose() => sending.Dispose();

        /// <summary>A request waits for the one before it, but a watch goes on beside what is asked next.</summary>
        internal Task BeforeAsync(Task work) => watching || stopping ? Task.CompletedTask : work;

        private bool watching;
        private bool stopping;

        internal async Task AnswerAsync(string line)
        {
            int? id = null;
            try
            {
                var request = JsonNode.Parse(line) as JsonObject ?? throw new Refused("not-an-object", "One JSON object on each line is needed.");
                id = request["id"] is JsonValue number && number.GetValueKind() == JsonValueKind.Number && number.TryGetValue<int>(out var n) ? n : throw new Refused("no-id", "A request needs a number as its id.");
                var ok = await DoAsync(request, id.Value).ConfigureAwait(false);
                if (ok is not null)
                {
                    await SendAsync(new JsonObject { ["id"] = id, ["ok"] = ok }).ConfigureAwait(false);
                }
            }
            catch (Refused e)
            {
                await SendAsync(Error(id, e.Code, e.Message)).ConfigureAwait(false);
            }
            catch (JsonException)
            {
                await SendAsync(Error(id, "not-json", "This line is no JSON.")).ConfigureAwait(false);
            }
            catch (Exception e) when (e is IOException or SocketException or OperationCanceledException or ObjectDisposedException)
            {
                // Nobody is left to be answered.
            }
        }

        private static JsonObject Error(int? id, string code, string message) => new() { ["id"] = id, ["error"] = new JsonObject { ["code"] = code, ["message"] = message } };

        private async Task SendAsync(JsonObject answer)
        {
            try
            {
                await sending.WaitAsync(cancel).ConfigureAwait(false);
                try
                {
                    await stream.WriteAsync(Encoding.UTF8.GetBytes(answer.ToJsonString() + "\n"), cancel).ConfigureAwait(false);
                }
                finally
                {
                    sending.Release();
                }
            }
            catch (Exception e) when (e is IOException or OperationCanceledException or ObjectDisposedException)
            {
                // Nobody is left to be answered.
            }
        }

        private async Task<JsonObject?> DoAsync(JsonObject request, int id)
        {
            switch (request["do"]?.ToString())
            {
                case "identify":
                    return of.Locked(m => new JsonObject { ["identity"] = m.Identity, ["outputs"] = new JsonArray([.. m.Outputs.Select(o => (JsonNode)o)]) });
                case "practice":
                    return of.Locked(_ => new JsonObject { ["practice"] = true, ["driving"] = of.driver is not null }, awake: false);
                case "settings":
                    return of.Locked(m => new JsonObject { ["settings"] = new JsonArray([.. m.Settings.Select(ControllerMessages.Of)]) });
                case "live":
                    return of.Locked(Values);
                case "codes":
                    return of.Locked(m => new JsonObject { ["codes"] = new JsonArray([.. m.Codes.Select(c => (JsonNode)new JsonObject { ["code"] = c.Code, ["text"] = c.Text })]) });
                case "clear":
                    // It stores nothing but what is so: what is still so is found again at the next look.
                    return of.Locked(_ => new JsonObject());
                case "stop":
                    stopping = true;
                    lock (of.one)
                    {
                        (of.driver, of.driven) = (null, null);
                    }

                    return [];
                case "drive":
                    return await DriveAsync(request).ConfigureAwait(false);
                case "log":
                    return await LogAsync(request).ConfigureAwait(false);
                case "watch":
                    return await WatchAsync(request, id).ConfigureAwait(false);
                case "bench":
                    return Bench(request);
                case "check":
                    return Check(request);
                default:
                    throw new Refused("unknown", "Write identify, settings, live, codes, clear, drive, stop, log or watch; of a stand-in also practice, bench and check.");
            }
        }

        private static JsonObject Values(SimulatedMachine machine) => new() { ["values"] = new JsonArray([.. machine.Live.Select(v => (JsonNode)ControllerMessages.Of(v))]) };

        private async Task<JsonObject> DriveAsync(JsonObject request)
        {
            var output = request["output"]?.ToString() ?? "";
            var (times, on, off) = (Whole(request, "times", 1, MostTimes), Whole(request, "onMs", 1, MostOnMs), Whole(request, "offMs", 0, MostOnMs));
            if ((long)times * (on + off) > MostInAllMs)
            {
                throw new Refused("too-long", $"An output is driven for {MostInAllMs / 1000} s at most.");
            }

            double? amps = null;
            of.Locked(m =>
            {
                if (!m.Outputs.Contains(output))
                {
                    throw new Refused("no-output", $"There is no output ‘{output}’.");
                }

                if (of.driver is not null)
                {
                    throw new Refused("busy", "Something is driven already; one output at a time.");
                }

                of.driver = this;
                return 0;
            });
            var done = 0;
            try
            {
                for (; done < times && of.Switch(this, output); done++)
                {
                    amps = of.Locked(m => m.DrawnBy(output));
                    await Task.Delay(on, cancel).ConfigureAwait(false);
                    if (!of.Switch(this, null))
                    {
                        break;
                    }

                    await Task.Delay(off, cancel).ConfigureAwait(false);
                }
            }
            finally
            {
                of.Release(this);
            }

            return new JsonObject { ["times"] = done, ["amps"] = amps };
        }

        private async Task<JsonObject> LogAsync(JsonObject request)
        {
            var ms = Whole(request, "ms", 100, 10_000);
            var log = of.Locked(m => m.Log(ms));
            await Task.Delay(Math.Min(ms, 200), cancel).ConfigureAwait(false);
            return new JsonObject
            {
                ["ms"] = log.Ms,
                ["signals"] = new JsonArray([.. log.Edges.Select(e => (JsonNode)new JsonObject { ["device"] = e.Key, ["edgesUs"] = new JsonArray([.. e.Value.Select(t => (JsonNode)Math.Round(t, 1))]) })]),
            };
        }

        private async Task<JsonObject?> WatchAsync(JsonObject request, int id)
        {
            var every = TimeSpan.FromSeconds(1.0 / Whole(request, "perSecond", 1, 20));
            watching = true;
            using var timer = new PeriodicTimer(every);
            do
            {
                await SendAsync(new JsonObject { ["id"] = id, ["ok"] = of.Locked(Values, awake: false) }).ConfigureAwait(false);
            }
            while (await timer.WaitForNextTickAsync(cancel).ConfigureAwait(false));
            return null;
        }

        private JsonObject Bench(JsonObject request)
        {
            var key = KeyPositions.Find(request["key"]?.ToString()) ?? throw new Refused("key", "Write off, accessory, on, start or running.");
            ImmutableHashSet<string> Names(string field) => request[field] is JsonArray list ? [.. list.Select(n => n?.ToString() ?? "")] : [];
            var levers = Enum.TryParse<Levers>(request["levers"]?.ToString() ?? "rest", ignoreCase: true, out var held) ? held : Levers.Rest;
            lock (of.one)
            {
                // Key off stops everything.
                if (key == KeyPosition.Off)
                {
                    (of.driver, of.driven) = (null, null);
                }

                of.At(new(key, Names("set"), Names("without")), levers);
            }

            return [];
        }

        private JsonObject Check(JsonObject request)
        {
            var id = request["check"]?.ToString();
            var check = of.Plan.Checks.FirstOrDefault(c => c.Id == id) ?? throw new Refused("no-check", "This engine knows no such check.");
            FoundAtCheck found;
            lock (of.one)
            {
                if (of.driven is not null)
                {
                    throw new Refused("busy", "Something is driven: wait until it is off.");
                }

                found = of.hands.Do(check);
                of.At(check.Meanwhile with { Conditions = check.Output is { } output ? check.Meanwhile.Conditions.Remove(output) : check.Meanwhile.Conditions }, check.Levers);
            }

            var answer = new JsonObject { ["findings"] = new JsonArray([.. found.Findings.Select(f => (JsonNode)f)]) };
            switch (found.Answer)
            {
                case MeasuredAnswer measured: answer["value"] = measured.Value; break;
                case SeenAnswer seen: answer["outcome"] = seen.Outcome.InWords(); break;
                case OthersAnswer others: answer["others"] = new JsonArray([.. others.Devices.Select(d => (JsonNode)d)]); break;
            }

            return answer;
        }

        private static int Whole(JsonObject request, string field, int least, int most) =>
            request[field] is JsonValue v && v.GetValueKind() == JsonValueKind.Number && v.TryGetValue<int>(out var n) && n >= least && n <= most ? n
                : throw new Refused("bad-number", $"‘{field}’ is a whole number from {least} to {most}.");
    }

    private sealed class Refused(string code, string message) : Exception(message)
    {
        internal string Code { get; } = code;
    }

    private PowerUpPlan Plan => plan;

    private void At(Situation situation, Levers levers) => (machine.At, machine.Levers) = (situation, levers);

    /// <summary>Switches a session's output on, or off with null; false when it may not any more.</summary>
    private bool Switch(Session session, string? output)
    {
        lock (one)
        {
            if (driver != session || machine.At.Key == KeyPosition.Off)
            {
                return false;
            }

            driven = output;
            return true;
        }
    }

    private T Locked<T>(Func<SimulatedMachine, T> ask, bool awake = true)
    {
        lock (one)
        {
            var at = machine.At;
            try
            {
                if (driven is { } on)
                {
                    machine.At = at with { Conditions = at.Conditions.Add(on) };
                }

                return awake && !machine.Answers ? throw new Refused("asleep", "The controller is asleep: it has no supply, no ground or no wake, or its plug is off.") : ask(machine);
            }
            finally
            {
                machine.At = at;
            }
        }
    }
}
