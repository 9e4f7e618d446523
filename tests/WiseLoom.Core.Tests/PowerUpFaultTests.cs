using WiseLoom.Core.Devices;
using WiseLoom.Core.Faults;
using WiseLoom.Core.Looms;
using WiseLoom.Core.Practice;
using WiseLoom.Core.PowerUp;

namespace WiseLoom.Core.Tests;

/// <summary>Twelve faults of a frost fan: at which check of the power-up each shows first, and what is named.</summary>
public sealed class PowerUpFaultTests(ITestOutputHelper output)
{
    private static readonly Loom Fan = Looms.FrostFan;

    [Fact]
    public void A_sound_machine_passes_every_check_of_every_stage()
    {
        var play = new PowerUpPlay(Fan, HiddenMachine.Nothing).Play();
        play.FirstFailed.ShouldBeNull($"{play.FirstFailed?.Id} {string.Join(' ', play.Findings)} {play.FirstFailed?.Expect.InWords()} {play.Run.PowerUp?[play.FirstFailed?.Id ?? ""].Answered?.Said}");
        play.Run.PowerUp!.Against.ShouldBe(0);
    }

    [Fact]
    public void A_sound_launch_passes_every_check_of_every_stage()
    {
        var play = new PowerUpPlay(Looms.WorkLaunch, HiddenMachine.Nothing).Play();
        play.FirstFailed.ShouldBeNull($"{play.FirstFailed?.Id} {string.Join(' ', play.Findings)} {play.FirstFailed?.Expect.InWords()} {play.Run.PowerUp?[play.FirstFailed?.Id ?? ""].Answered?.Said}");
    }

    /// <summary>Those of the later stages need most of a power-up each; every third is played for each change.</summary>
    public static TheoryData<string, string> Loomwork => [.. All.Where((_, i) => i % Effort.Of(6, 1) == 0)];

    private static readonly TheoryData<string, string> All = new()
    {
        { """[{"kind":"swap","connector":"ECU-A","cavities":["23","25"]}]""", "drive Injector 3" },
        { """[{"kind":"open","wire":"W109"}]""", "ground" },
        { """[{"kind":"key-terminal","device":"key","terminal":"IGN"}]""", "feed" },
        { """[{"kind":"device","device":"panel-network"}]""", "pair" },
        { """[{"kind":"open","wire":"W117"}]""", "lamp oil-lamp" },
        { """[{"kind":"swap","connector":"ECU-B","cavities":["9","10"]}]""", "unplug" },
        { """[{"kind":"device","device":"main-relay"}]""", "limited volts ECU-A:43" },
        { """[{"kind":"resistive","wire":"W60","ohm":40}]""", "live" },
        { """[{"kind":"swap","connector":"ECU-B","cavities":["1","2"]}]""", "trigger crank-sensor" },
    };

    [Theory]
    [MemberData(nameof(Loomwork))]
    public void Each_shows_at_a_check_and_is_named(string faults, string check)
    {
        var hidden = HiddenMachine.Read(faults, Fan).Machine!;
        var play = new PowerUpPlay(Fan, hidden).Play(wholeStage: true);
        output.WriteLine($"{play.FirstFailed?.Id}: {play.Run.PowerUp![play.FirstFailed?.Id ?? ""].Answered?.Said} for {play.FirstFailed?.Expect.InWords()}");
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var cases = play.Diagnosis().Cases;
        foreach (var found in cases)
        {
            output.WriteLine(string.Join("\n", found.Causes.Take(3).Select(c => $"   {c.Probability:0.000} {c.Sentence[..Math.Min(150, c.Sentence.Length)]}")));
        }

        output.WriteLine($"{clock.ElapsedMilliseconds} ms");
        play.FirstFailed.ShouldNotBeNull().Id.ShouldStartWith(check);
        cases.SelectMany(c => c.Causes.Take(3)).SelectMany(c => c.Faults).ShouldContain(f => f.Equals(hidden.Faults[0]) || (f is ResistiveFault && hidden.Faults[0] is ResistiveFault && ((ResistiveFault)f).Wire == ((ResistiveFault)hidden.Faults[0]).Wire));
    }
}
