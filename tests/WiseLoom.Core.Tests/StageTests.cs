using CsCheck;
using WiseLoom.Core.Runs;
using WiseLoom.Core.Shop;

namespace WiseLoom.Core.Tests;

/// <summary>Where a job stands, from the few numbers of its run, whatever they are.</summary>
public sealed class StageTests
{
    private static readonly Gen<RunSummary> Summaries = Gen.Select(
        Gen.Int[0, 3], Gen.Int[0, 3], Gen.Int[0, 3], Gen.Int[0, 3], Gen.Long[0, 9], Gen.Int[0, 2], Gen.Long[1, 9],
        (untested, failing, retests, faults, trouble, pack, at) =>
            new RunSummary(20, 20 - untested - retests, untested, failing, retests, faults, trouble, pack == 0 ? null : pack, pack == 0 ? 0 : at));

    [Fact]
    public void A_job_is_released_only_when_nothing_speaks_against_its_pack() => Summaries.Sample(run =>
    {
        var released = JobStage.Of(true, run, null).Stage == Stage.Released;
        released.ShouldBe(run.Pack is not null && run.IsClear && run.Trouble <= run.PackAt);
        (JobStage.AgainstPack(run) is null).ShouldBe(run.Pack is null || released);
    });

    [Fact]
    public void What_is_ready_to_sign_has_nothing_left_to_do() => Summaries.Sample(run =>
    {
        if (JobStage.Of(true, run, null).Stage == Stage.ReadyToSign)
        {
            (run.NotTested + run.Failing + run.Retests + run.Faults).ShouldBe(0);
        }
    });

    [Fact]
    public void A_job_that_is_not_released_says_what_holds_it_unless_it_only_waits_to_be_measured() => Summaries.Sample(run =>
    {
        var stage = JobStage.Of(true, run, null);
        stage.Text.ShouldNotBeEmpty();
        var onlyUnmeasured = stage.Stage == Stage.OnBench && run.Faults == 0 && run.Retests == 0;
        (stage.HeldBy.Length == 0).ShouldBe(stage.Stage == Stage.Released || onlyUnmeasured, stage.ToString());
    });

    [Fact]
    public void What_a_job_waits_for_comes_first_but_never_hides_that_a_pack_no_longer_holds() => Summaries.Sample(run =>
    {
        var (plain, waiting) = (JobStage.Of(true, run, null), JobStage.Of(true, run, "a relay"));
        waiting.Stage.ShouldBe(plain.Stage);
        waiting.HeldBy.ShouldBe(plain.Stage is Stage.Released or Stage.Overturned ? plain.HeldBy : "Waits for a relay");
        JobStage.Of(true, run, "").ShouldBe(plain);
    });

    [Theory]
    [InlineData(1, 0, 0, 0, "1 step without a reading")]
    [InlineData(2, 1, 0, 0, "1 step fails, 2 steps without a reading")]
    [InlineData(0, 2, 1, 1, "2 steps fail, 1 fault not proven, 1 retest missing")]
    [InlineData(0, 0, 3, 2, "2 faults not proven, 3 retests missing")]
    public void What_overturns_a_pack_is_counted_in_words(int untested, int failing, int retests, int faults, string words)
    {
        var run = new RunSummary(20, 10, untested, failing, retests, faults, 7, 3, 5);
        JobStage.Of(true, run, null).ShouldBe(new(Stage.Overturned, "Pack 3 no longer holds", words));
        JobStage.AgainstPack(run).ShouldBe($"Since it was signed: {words}.");
    }
}
