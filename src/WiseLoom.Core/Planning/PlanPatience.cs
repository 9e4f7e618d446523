namespace WiseLoom.Core.Planning;

/// <summary>How long somebody waits for a plan.</summary>
/// <param name="Gone">Nobody waits any more: the planner stops with an <see cref="OperationCanceledException"/>.</param>
/// <param name="Enough">The time is up: the planner ends with what it has, which is a whole proof in a dearer order. Its gap to the bound is in the plan.</param>
public readonly record struct PlanPatience(CancellationToken Gone, CancellationToken Enough)
{
    /// <summary>Longest time that a plan is improved for a page, from which the rest of the answer is made in time.</summary>
    public static readonly TimeSpan Longest = TimeSpan.FromSeconds(7);

    /// <summary>Whether the time is up.</summary>
    /// <exception cref="OperationCanceledException">Nobody waits any more.</exception>
    internal bool IsOver
    {
        get
        {
            Gone.ThrowIfCancellationRequested();
            return Enough.IsCancellationRequested;
        }
    }
}
