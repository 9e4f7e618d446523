namespace WiseLoom.Core.Runs;

/// <summary>Whether what somebody asks of a run can be.</summary>
public abstract record Decision
{
    /// <summary>It can, and this happens.</summary>
    public sealed record Accepted(RunEvent What) : Decision;

    /// <summary>It has happened already: the same key was sent before.</summary>
    /// <param name="Number">The event it became.</param>
    public sealed record Already(long Number) : Decision;

    /// <summary>It can never be as it was sent.</summary>
    /// <param name="At">Field of what was sent, as a JSON pointer.</param>
    public sealed record Wrong(string At, string Words) : Decision;

    /// <summary>It could be, but not as things stand.</summary>
    /// <param name="Words">Why, and what to do.</param>
    public sealed record Conflict(string Words) : Decision;
}
