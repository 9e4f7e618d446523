using WiseLoom.Core.Devices;

namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>Stored codes: those that must be there because something is not fitted, and those to be explained.</summary>
internal sealed class StoredCodes : CheckMaker
{
    internal override int Stage => 5;

    internal override int Order => 10;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        if (bench.Controllers.Length == 0)
        {
            yield break;
        }

        var setUp = SetUps.ControllerOn(bench);
        var expected = ExpectedCodes.Of(bench);
        yield return Made("codes", Stage, setUp, bench, $"Clear the codes, key off and on, and read them{(expected.IsEmpty ? ": none may come back" : $": {expected.Length} must be there and no other")}.",
            expected.IsEmpty ? "Everything is fitted: a code has to be explained." : string.Join("; ", expected.Take(12).Select(e => $"{e.Code.Code}, since {e.Reason}")) + (expected.Length > 12 ? $"; and {expected.Length - 12} more" : "") + ".");
    }

    internal static PowerUpCheck Made(string id, int stage, SetUp setUp, PowerUpBench bench, string words, string why) => new(
        id, stage, setUp, words, bench.Still(KeyPosition.On, setUp.Without), "The controller’s own line, or a tester.", [], new OutcomeExpected(Outcome.AsSaid), why, [])
    { Asks = Asked.Codes, IfNot = ["A code that was there before: clear it and look whether it comes back."], Touches = [.. bench.Controllers.Select(c => c.Ref)] };
}

/// <summary>The same after the engine has run.</summary>
internal sealed class StoredCodesAgain : CheckMaker
{
    internal override int Stage => 9;

    internal override int Order => 2;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        if (bench.Controllers.Length > 0)
        {
            yield return StoredCodes.Made("codes again", Stage, SetUps.Warm(bench), bench, "Read the stored codes again.", "What was stored while the engine ran and cannot be explained is a fault that comes and goes.");
        }
    }
}
