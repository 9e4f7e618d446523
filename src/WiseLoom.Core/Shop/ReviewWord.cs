namespace WiseLoom.Core.Shop;

/// <summary>What a customer says of a draft.</summary>
/// <param name="Kind"><c>comment</c> on a connector or on the whole, <c>answer</c> to a question, <c>go</c> for boxing it as it is.</param>
/// <param name="Name">Who says it, as they write it, 1 to 80 characters.</param>
/// <param name="Subject">Ref of a connector, number of a question, or empty.</param>
/// <param name="Words">At most 2,000 characters; a go needs none.</param>
public sealed record ReviewWord(string Kind, string Name, string Subject, string Words)
{
    /// <summary>So much is said through one link, and in one minute; more is refused.</summary>
    public const int MostWords = 300, MostInAMinute = 20;

    /// <summary>A link is open for so many days.</summary>
    public const int DaysOpen = 30;

    /// <summary>What of it cannot be; null when it can.</summary>
    /// <param name="questions">Numbers of the questions that are open to be answered.</param>
    /// <param name="connectors">Refs of the loom's connectors.</param>
    public string? Wrong(IReadOnlyCollection<string> questions, IReadOnlyCollection<string> connectors)
    {
        ArgumentNullException.ThrowIfNull(questions);
        ArgumentNullException.ThrowIfNull(connectors);
        return Name.Length is 0 or > 80 ? "Write your name, with at most 80 characters."
            : Words.Length > 2000 ? "Write at most 2,000 characters at a time."
            : Kind switch
            {
                "go" => Subject.Length == 0 ? null : "A go is for the whole loom.",
                "comment" => Words.Length == 0 ? "Write what there is to say." : Subject.Length == 0 || connectors.Contains(Subject) ? null : "This loom has no such connector.",
                "answer" => Words.Length == 0 ? "Choose or write an answer." : questions.Contains(Subject) ? null : "There is no such question.",
                _ => "Write a comment, an answer, or go.",
            };
    }
}
