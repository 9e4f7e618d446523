using CsCheck;
using WiseLoom.Core.Shop;

namespace WiseLoom.Core.Tests;

public sealed class AccountRulesTests
{
    [Theory]
    [InlineData("mira", "Mira Solstad", "technician", "")]
    [InlineData("m.s-2_x", "Mira", "look", "")]
    [InlineData("m", "Mira", "lead", "/signIn")]
    [InlineData("Mira", "Mira", "lead", "/signIn")]
    [InlineData("mira solstad", "Mira", "lead", "/signIn")]
    [InlineData("mïra", "Mira", "lead", "/signIn")]
    [InlineData("mira", "", "lead", "/name")]
    [InlineData("mira", "Mira ", "lead", "/name")]
    [InlineData("mira", "Mi\tra", "lead", "/name")]
    [InlineData("mira", "Mira", "Lead", "/role")]
    [InlineData("", "", "", "/signIn /name /role")]
    public void What_an_account_cannot_be_is_told_with_its_place(string signIn, string name, string role, string places) =>
        string.Join(' ', AccountRules.Problems(signIn, name, role).Select(p => p.At)).ShouldBe(places);

    [Theory]
    [InlineData("copper-and-crimp", null)]
    [InlineData("nine-char", "At least 10")]
    [InlineData("abcabcabcabc", "different")]
    [InlineData("this-is-MIRA-s", "sign-in name")]
    public void What_a_password_cannot_be_is_told(string password, string? reason)
    {
        var problem = AccountRules.PasswordProblem(password, "mira");
        (reason is null ? problem is null : problem!.Contains(reason, StringComparison.Ordinal)).ShouldBeTrue(problem);
    }

    [Fact]
    public void A_password_that_is_taken_is_long_enough_has_different_signs_and_not_the_name() => Gen.String.Sample(password =>
        AccountRules.PasswordProblem(password, "mira") is not null
        || (password.Length is >= AccountRules.LeastPassword and <= AccountRules.MostPassword && password.ToHashSet().Count > 4 && !password.Contains("mira", StringComparison.OrdinalIgnoreCase)));
}
