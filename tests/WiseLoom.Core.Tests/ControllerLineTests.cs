using System.Net;
using System.Net.Sockets;
using System.Text;
using System.Text.Json.Nodes;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.PowerUp;
using WiseLoom.Core.Practice;
using WiseLoom.Core.States;
using WiseLoom.Instruments;

namespace WiseLoom.Core.Tests;

/// <summary>The stand-in controller and the program's side of its line, over a real socket.</summary>
public sealed class ControllerLineTests
{
    private static readonly Loom Fan = Looms.FrostFan;

    private static readonly Lazy<PowerUpPlan> Plan = new(() => PowerUpPlan.Of(Fan, BenchFit.AsDrawn, 20, School.Vehicle));

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public Task Awake_it_tells_who_it_is_what_it_is_set_to_and_what_it_measures() => WithAsync(HiddenMachine.Nothing with { Settings = HiddenMachine.Nothing.Settings.Add("cylinders", ControllerSetting.Of("cylinders", 6)) }, async (line, _, _) =>
    {
        await line.PutAsync(Check("live ECU-B:10"), Cancel);
        (await line.IdentityAsync(Cancel)).ShouldContain("Frost fan");
        var sheet = SettingsSheet.Of(Fan);
        sheet.Against("controller", (await line.SettingsAsync(Cancel)).ToDictionary(s => s.Name)).ShouldHaveSingleItem().InWords().ShouldBe("cylinders differs: the controller has 6, this loom needs 8");
        var live = await line.LiveAsync(Cancel);
        live.First(v => v.Channel == "Coolant temperature").ShouldSatisfyAllConditions(v => v.Volts.ShouldBe(2.667, 0.01), v => v.Value!.Value.ShouldBe(20, 0.3), v => v.Pin.ShouldBe("ECU-B:10"));
        (await line.CodesAsync(Cancel)).ShouldBeEmpty();
        (await line.OutputsAsync(Cancel)).ShouldContain("Injector 3");
    });

    [Fact]
    public Task Asleep_it_says_nothing_but_that_it_is() => WithAsync(HiddenMachine.Nothing, async (line, _, _) =>
    {
        (await Should.ThrowAsync<ControllerException>(() => line.IdentityAsync(Cancel))).Message.ShouldContain("asleep");
        (await line.PracticeAsync(Cancel)).ShouldNotBeNull();
    });

    [Fact]
    public Task A_driven_output_comes_back_with_its_current_and_is_off() => WithAsync(HiddenMachine.Nothing, async (line, controller, _) =>
    {
        await line.PutAsync(Check("drive Injector 3"), Cancel);
        var driven = await line.DriveAsync("Injector 3", 3, 20, 20, Cancel);
        driven.ShouldSatisfyAllConditions(d => d.Times.ShouldBe(3), d => d.Amps!.Value.ShouldBe(1.02, 0.02));
        controller.Driven.ShouldBeNull();
    });

    [Fact]
    public Task It_goes_off_when_the_caller_hangs_up_and_when_the_key_goes_off() => WithAsync(HiddenMachine.Nothing, async (line, controller, _) =>
    {
        await line.PutAsync(Check("drive Injector 3"), Cancel);
        using var hangUp = CancellationTokenSource.CreateLinkedTokenSource(Cancel);
        var long1 = line.DriveAsync("Injector 3", 5, 2000, 0, hangUp.Token);
        await UntilAsync(() => controller.Driven == "Injector 3");
        // A second caller is told that one is driven already.
        (await Should.ThrowAsync<ControllerException>(() => line.DriveAsync("Injector 4", 1, 10, 0, Cancel))).Message.ShouldContain("driven already");
        await hangUp.CancelAsync();
        await Should.ThrowAsync<OperationCanceledException>(() => long1);
        await UntilAsync(() => controller.Driven is null);

        var long2 = line.DriveAsync("Injector 3", 5, 2000, 0, Cancel);
        await UntilAsync(() => controller.Driven == "Injector 3");
        await line.PutAsync(Check("limited amps"), Cancel);
        controller.Driven.ShouldBeNull();
        (await long2).Times.ShouldBeLessThan(5);

        await line.PutAsync(Check("drive Injector 3"), Cancel);
        var long3 = line.DriveAsync("Injector 3", 5, 2000, 0, Cancel);
        await UntilAsync(() => controller.Driven == "Injector 3");
        await line.StopAsync(Cancel);
        controller.Driven.ShouldBeNull();
        (await long3).Times.ShouldBeLessThan(5);
    });

    [Theory]
    [InlineData("no json at all", "not-json")]
    [InlineData("[1,2]", "not-an-object")]
    [InlineData("""{"do":"identify"}""", "no-id")]
    [InlineData("""{"id":1}""", "unknown")]
    [InlineData("""{"id":1,"do":"explode"}""", "unknown")]
    [InlineData("""{"id":1,"do":"live"}""", "asleep")]
    [InlineData("""{"id":1,"do":"drive","output":"Injector 3","times":99,"onMs":10,"offMs":10}""", "bad-number")]
    [InlineData("""{"id":1,"do":"drive","output":"Injector 3","times":50,"onMs":2000,"offMs":2000}""", "too-long")]
    [InlineData("""{"id":1,"do":"drive","output":"Injector 3","times":"three","onMs":10,"offMs":10}""", "bad-number")]
    [InlineData("""{"id":1,"do":"log","ms":5}""", "bad-number")]
    [InlineData("""{"id":1,"do":"bench","key":"sideways"}""", "key")]
    [InlineData("""{"id":1,"do":"check","check":"none"}""", "no-check")]
    public Task Errors_name_what_is_wrong(string sent, string code) => WithAsync(HiddenMachine.Nothing, async (_, _, port) =>
        (await RawAsync(port, sent + "\n"))["error"]!["code"]!.ToString().ShouldBe(code));

    [Fact]
    public Task An_output_that_is_not_there_is_refused_while_it_is_awake() => WithAsync(HiddenMachine.Nothing, async (line, _, _) =>
    {
        await line.PutAsync(Check("drive Injector 3"), Cancel);
        (await Should.ThrowAsync<ControllerException>(() => line.DriveAsync("Injector 9", 1, 10, 0, Cancel))).Message.ShouldContain("no output ‘Injector 9’");
    });

    [Theory]
    [InlineData("")]
    [InlineData("{\"id\":")]
    [InlineData("what?\n")]
    [InlineData("{\"id\":-5,\"ok\":{\"identity\":\"x\"}}\n")]
    [InlineData("[]\n")]
    [InlineData("{}\n")]
    public async Task Half_lines_garbage_and_answers_to_something_else_are_told_as_such(string answer)
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        var answering = AnswerAsync(listener, answer);
        var line = new ControllerLine("127.0.0.1", ((IPEndPoint)listener.LocalEndpoint).Port);
        (await Should.ThrowAsync<ControllerException>(() => line.IdentityAsync(Cancel))).Message.ShouldContain("controller", Case.Insensitive);
        await answering;
    }

    [Fact]
    public async Task One_that_never_answers_is_given_up_and_one_that_is_not_there_is_said()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        var port = ((IPEndPoint)listener.LocalEndpoint).Port;
        (await Should.ThrowAsync<ControllerException>(() => new ControllerLine("127.0.0.1", port, TimeSpan.FromMilliseconds(200)).IdentityAsync(Cancel))).Message.ShouldContain("in time");
        listener.Stop();
        (await Should.ThrowAsync<ControllerException>(() => new ControllerLine("127.0.0.1", port).IdentityAsync(Cancel))).Message.ShouldContain("cannot be reached");
    }

    [Fact]
    public Task It_is_watched_until_the_caller_hangs_up() => WithAsync(HiddenMachine.Nothing, async (line, _, _) =>
    {
        await line.PutAsync(Check("live ECU-B:10"), Cancel);
        var seen = 0;
        await foreach (var values in line.WatchAsync(20, Cancel))
        {
            values.Length.ShouldBeGreaterThan(15);
            if (++seen == 3)
            {
                break;
            }
        }

        seen.ShouldBe(3);
    });

    [Fact]
    public Task A_broken_wire_reads_the_pull_up_and_is_stored_as_a_code() => WithAsync(HiddenMachine.With(new OpenFault("W75")), async (line, _, _) =>
    {
        await line.PutAsync(Check("live ECU-B:10"), Cancel);
        (await line.LiveAsync(Cancel)).First(v => v.Pin == "ECU-B:10").Volts.ShouldBe(5, 0.02);
        (await line.CodesAsync(Cancel)).ShouldHaveSingleItem().Code.ShouldBe("ECU-B:10 high");
    });

    [Fact]
    public Task Its_triggers_come_from_the_wheel_and_the_wiring() => WithAsync(HiddenMachine.With(SwapFault.Of("ECU-B", "1", "2")) with { Triggers = new(1, 0) }, async (line, _, _) =>
    {
        await line.PutAsync(Check("trigger crank-sensor"), Cancel);
        var log = await line.LogAsync(2000, Cancel);
        TriggerJudge.Of(Fan.Devices.First(d => d.Ref == "crank-sensor"), log.Edges["crank-sensor"], log.Ms).Reversed.ShouldBe(true);
        log.Edges["cam-sensor"].ShouldNotBeEmpty();
    });

    private static PowerUpCheck Check(string id) => Plan.Value.Checks.First(c => c.Id == id);

    private static async Task UntilAsync(Func<bool> so)
    {
        while (!so())
        {
            await Task.Yield();
            Cancel.ThrowIfCancellationRequested();
        }
    }

    private static async Task AnswerAsync(TcpListener listener, string answer)
    {
        using var client = await listener.AcceptTcpClientAsync(Cancel);
        var stream = client.GetStream();
        using var reader = new StreamReader(stream);
        await reader.ReadLineAsync(Cancel);
        await stream.WriteAsync(Encoding.UTF8.GetBytes(answer), Cancel);
    }

    private static async Task<JsonObject> RawAsync(int port, string sent)
    {
        using var client = new TcpClient();
        await client.ConnectAsync(IPAddress.Loopback, port, Cancel);
        await client.GetStream().WriteAsync(Encoding.UTF8.GetBytes(sent), Cancel);
        using var reader = new StreamReader(client.GetStream());
        return (JsonObject)JsonNode.Parse((await reader.ReadLineAsync(Cancel))!)!;
    }

    private static async Task WithAsync(HiddenMachine hidden, Func<ControllerLine, SimulatedController, int, Task> use)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(Cancel);
        var listening = new TaskCompletionSource<int>();
        var controller = new SimulatedController(new SimulatedMachine(Fan, BenchFit.AsDrawn, hidden, 20, 1), Plan.Value, 20);
        var serving = controller.ServeAsync(0, listening.SetResult, stop.Token);
        var port = await listening.Task;
        try
        {
            await use(new ControllerLine("127.0.0.1", port), controller, port);
        }
        finally
        {
            await stop.CancelAsync();
            await Should.ThrowAsync<OperationCanceledException>(() => serving);
        }
    }
}
