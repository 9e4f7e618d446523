using System.Collections.Frozen;
using System.Collections.Immutable;

namespace WiseLoom.Core.PowerUp;

/// <summary>What one sees, hears or feels at a check that is no figure.</summary>
public enum Outcome
{
    /// <summary>A lamp comes on.</summary>
    Lights,

    /// <summary>A lamp stays dark.</summary>
    StaysDark,

    /// <summary>A lamp that was on goes out.</summary>
    GoesOut,

    /// <summary>A relay pulls in.</summary>
    Clicks,

    /// <summary>A relay lets go.</summary>
    LetsGo,

    /// <summary>Nothing moves.</summary>
    StaysStill,

    /// <summary>An injector opens and closes.</summary>
    Ticks,

    /// <summary>A coil makes a spark.</summary>
    Sparks,

    /// <summary>A motor turns.</summary>
    Turns,

    /// <summary>A valve or a solenoid moves.</summary>
    Moves,

    /// <summary>A siren sounds.</summary>
    Sounds,

    /// <summary>A heater gets warm.</summary>
    Warms,

    /// <summary>A stand-in or another load carries its current.</summary>
    Works,

    /// <summary>A controller answers.</summary>
    Answers,

    /// <summary>A controller does not answer.</summary>
    StaysSilent,

    /// <summary>Everything that the card names is so.</summary>
    AsSaid,

    /// <summary>Something that the card names is not so.</summary>
    NotAsSaid,
}

/// <summary>Outcomes as they are written, and what each says of a device.</summary>
public static class Outcomes
{
    private static readonly FrozenDictionary<Outcome, string> Words = new Dictionary<Outcome, string>
    {
        [Outcome.Lights] = "lights", [Outcome.StaysDark] = "stays dark", [Outcome.GoesOut] = "goes out", [Outcome.Clicks] = "clicks", [Outcome.LetsGo] = "lets go",
        [Outcome.StaysStill] = "stays still", [Outcome.Ticks] = "ticks", [Outcome.Sparks] = "sparks", [Outcome.Turns] = "turns", [Outcome.Moves] = "moves",
        [Outcome.Sounds] = "sounds", [Outcome.Warms] = "warms", [Outcome.Works] = "works", [Outcome.Answers] = "answers", [Outcome.StaysSilent] = "stays silent",
        [Outcome.AsSaid] = "as said", [Outcome.NotAsSaid] = "not as said",
    }.ToFrozenDictionary();

    /// <summary>All of them, by their words.</summary>
    public static ImmutableArray<string> All { get; } = [.. Enum.GetValues<Outcome>().Select(InWords)];

    /// <summary>The words in files and on cards: <c>goes out</c>.</summary>
    public static string InWords(this Outcome outcome) => Words[outcome];

    /// <summary>An outcome by its words; null when there is none.</summary>
    public static Outcome? Find(string? words) => Words.Where(w => string.Equals(w.Value, words, StringComparison.OrdinalIgnoreCase)).Select(w => (Outcome?)w.Key).FirstOrDefault();

    /// <summary>Whether it says that something does its work.</summary>
    public static bool IsAtWork(this Outcome outcome) => outcome is not (Outcome.StaysDark or Outcome.GoesOut or Outcome.LetsGo or Outcome.StaysStill or Outcome.StaysSilent or Outcome.NotAsSaid);

    /// <summary>What stands for the opposite on a card.</summary>
    public static Outcome Otherwise(this Outcome outcome) => outcome switch
    {
        Outcome.Lights => Outcome.StaysDark,
        Outcome.StaysDark or Outcome.GoesOut => Outcome.Lights,
        Outcome.LetsGo => Outcome.Clicks,
        Outcome.StaysStill => Outcome.Clicks,
        Outcome.Answers => Outcome.StaysSilent,
        Outcome.StaysSilent => Outcome.Answers,
        Outcome.AsSaid => Outcome.NotAsSaid,
        Outcome.NotAsSaid => Outcome.AsSaid,
        _ => Outcome.StaysStill,
    };

    /// <summary>What a load does when it works.</summary>
    /// <param name="use">As the file says it, such as <c>injector</c>.</param>
    internal static Outcome OfUse(string use) => use switch
    {
        "injector" => Outcome.Ticks,
        "coil" => Outcome.Sparks,
        "lamp" => Outcome.Lights,
        "heater" => Outcome.Warms,
        "solenoid" or "valve" => Outcome.Moves,
        "siren" => Outcome.Sounds,
        "motor" => Outcome.Turns,
        _ => Outcome.Works,
    };
}
