namespace WiseLoom.Web.Tests;

/// <summary>A clock that stands still.</summary>
internal sealed class StandingClock(DateTimeOffset at) : TimeProvider
{
    public override DateTimeOffset GetUtcNow() => at;
}
