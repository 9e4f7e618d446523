using CsCheck;
using WiseLoom.Core.Shop;

namespace WiseLoom.Core.Tests;

/// <summary>The brake on guessing: how long it holds whom.</summary>
public sealed class SignInBrakeTests
{
    private static readonly DateTimeOffset Noon = new(2031, 3, 4, 12, 0, 0, TimeSpan.Zero);

    private static SignInTries Failed(BrakeRule rule, int times, DateTimeOffset at) =>
        Enumerable.Range(0, times).Aggregate(SignInTries.None, (known, _) => SignInBrake.After(known, rule, at));

    [Theory]
    [InlineData(1, 0)]
    [InlineData(5, 0)]
    [InlineData(6, 2)]
    [InlineData(7, 4)]
    [InlineData(14, 512)]
    [InlineData(15, 900)]
    [InlineData(5000, 900)]
    public void A_name_from_one_address_waits_twice_as_long_with_each_try(int tries, int seconds) =>
        SignInBrake.Wait([Failed(SignInBrake.Keys("mira", "10.0.0.1")[2].Rule, tries, Noon)], Noon).TotalSeconds.ShouldBe(seconds);

    [Fact]
    public void A_guesser_has_a_hundred_tries_a_day_at_a_name_from_one_address_and_a_shop_behind_it_waits_ten_seconds_at_most()
    {
        var keys = SignInBrake.Keys("mira", "10.0.0.1");
        var (known, now, tries) = (keys.ToDictionary(k => k.Key, _ => SignInTries.None), Noon, 0);
        while (now < Noon.AddDays(1))
        {
            now += SignInBrake.Wait(known.Values, now);
            keys.ToList().ForEach(k => known[k.Key] = SignInBrake.After(known[k.Key], k.Rule, now));
            tries++;
        }

        tries.ShouldBeLessThan(115);
        SignInBrake.Wait([known["address 10.0.0.1"]], now).TotalSeconds.ShouldBeLessThanOrEqualTo(10);
    }

    [Fact]
    public void A_name_is_the_same_however_it_is_typed_and_nobody_elses_key() =>
        (SignInBrake.Keys(" MIRA ", "a").Select(k => k.Key).SequenceEqual(SignInBrake.Keys("mira", "a").Select(k => k.Key)), SignInBrake.Keys("mira", "b")[2].Key == SignInBrake.Keys("mira", "a")[2].Key).ShouldBe((true, false));

    [Fact]
    public void What_went_wrong_is_forgotten_after_an_hour_and_taken_back_when_it_was_right() => Gen.Select(Gen.Int[0, 60], Gen.Int[0, 7200]).Sample((tries, later) =>
    {
        var rule = new BrakeRule(5, 900);
        var known = Failed(rule, tries, Noon);
        SignInBrake.After(known, rule, Noon.AddSeconds(later)).Tries.ShouldBe(later > 3600 ? 1 : tries + 1);
        SignInBrake.Right(SignInBrake.After(known, rule, Noon)).Tries.ShouldBe(tries);
        SignInBrake.Wait([SignInBrake.Right(known)], Noon).ShouldBe(TimeSpan.Zero);
    });
}
