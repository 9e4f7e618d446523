using WiseLoom.Core.Electrical;

namespace WiseLoom.Store;

/// <summary>How the core's words are written in columns.</summary>
internal static class Words
{
    internal static string Of(Verdict verdict) => verdict switch
    {
        Core.Electrical.Verdict.Pass => "pass",
        Core.Electrical.Verdict.Fail => "fail",
        _ => "cant-tell",
    };

    internal static Verdict Verdict(string word) => word switch
    {
        "pass" => Core.Electrical.Verdict.Pass,
        "fail" => Core.Electrical.Verdict.Fail,
        _ => Core.Electrical.Verdict.CantTell,
    };
}
