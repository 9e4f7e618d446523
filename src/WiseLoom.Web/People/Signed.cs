using System.Security.Claims;
using WiseLoom.Core.Runs;

namespace WiseLoom.Web.People;

/// <summary>Who is signed in.</summary>
internal static class Signed
{
    /// <summary>The number of the person who is signed in.</summary>
    internal static Guid Id(this ClaimsPrincipal user) => Guid.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier)!);

    internal static string Name(this ClaimsPrincipal user) => user.FindFirstValue(ClaimTypes.Name)!;

    internal static string Role(this ClaimsPrincipal user) => user.FindFirstValue(ClaimTypes.Role)!;

    /// <summary>The session through which this person came in.</summary>
    internal static Guid Session(this ClaimsPrincipal user) => Guid.Parse(user.FindFirstValue(ClaimTypes.Sid)!);

    /// <summary>Who does something, as records name them.</summary>
    internal static Hand Hand(this ClaimsPrincipal user) => new(user.Id(), user.Name());

    /// <summary>Where a request comes from.</summary>
    internal static string Address(this HttpContext context) => context.Connection.RemoteIpAddress?.ToString() ?? "";
}
