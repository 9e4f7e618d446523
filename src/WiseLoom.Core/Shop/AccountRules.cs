using System.Collections.Immutable;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Shop;

/// <summary>What an account and its password must be like.</summary>
public static class AccountRules
{
    /// <summary>Fewest signs of a password.</summary>
    public const int LeastPassword = 10;

    /// <summary>Most signs of a password.</summary>
    public const int MostPassword = 200;

    private const int LeastDifferent = 5, LeastSignIn = 2, MostSignIn = 60, MostName = 120;

    /// <summary>How long a one-time link to set a password is open.</summary>
    public static TimeSpan LinkLasts { get; } = TimeSpan.FromDays(3);

    /// <summary>A session ends when nothing has come from it for so long.</summary>
    public static TimeSpan SessionIdle { get; } = TimeSpan.FromHours(12);

    /// <summary>What of an account cannot be.</summary>
    /// <param name="signIn">The name typed to sign in.</param>
    /// <param name="name">The name on what the person signs.</param>
    /// <param name="role">One of <see cref="Role.All"/>.</param>
    /// <returns>Empty when all of it can; places as JSON pointers.</returns>
    public static ImmutableArray<Problem> Problems(string signIn, string name, string role)
    {
        ArgumentNullException.ThrowIfNull(signIn);
        var problems = ImmutableArray.CreateBuilder<Problem>();
        if (signIn.Length is < LeastSignIn or > MostSignIn || !signIn.All(IsOfSignIn))
        {
            problems.Add(new("/signIn", $"{LeastSignIn} to {MostSignIn} small letters, digits, dots, dashes or underscores, as it is typed to sign in."));
        }

        problems.AddRange(Problems(name, role));
        return problems.ToImmutable();
    }

    /// <summary>The same for what may change about an account.</summary>
    public static ImmutableArray<Problem> Problems(string name, string role)
    {
        ArgumentNullException.ThrowIfNull(name);
        var problems = ImmutableArray.CreateBuilder<Problem>();
        if (name.Length is 0 or > MostName || name != name.Trim() || name.Any(char.IsControl))
        {
            problems.Add(new("/name", $"1 to {MostName} signs, without blanks around them, as the name stands on what the person signs."));
        }

        if (!Role.All.Contains(role))
        {
            problems.Add(new("/role", $"One of {string.Join(", ", Role.All)}."));
        }

        return problems.ToImmutable();
    }

    /// <summary>Why a password cannot be taken; null when it can.</summary>
    public static string? PasswordProblem(string password, string signIn)
    {
        ArgumentNullException.ThrowIfNull(password);
        ArgumentNullException.ThrowIfNull(signIn);
        return password.Length < LeastPassword ? $"At least {LeastPassword} signs; a few words in a row are easy to keep in mind."
            : password.Length > MostPassword ? $"At most {MostPassword} signs."
            : password.Distinct().Count() < LeastDifferent ? $"At least {LeastDifferent} different signs."
            : password.Contains(signIn, StringComparison.OrdinalIgnoreCase) ? "Not with the sign-in name in it."
            : null;
    }

    private static bool IsOfSignIn(char c) => char.IsAsciiLetterLower(c) || char.IsAsciiDigit(c) || c is '.' or '-' or '_';
}
