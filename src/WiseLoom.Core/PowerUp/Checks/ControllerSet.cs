namespace WiseLoom.Core.PowerUp.Checks;

/// <summary>The controller's settings against what the loom says they must be.</summary>
internal sealed class ControllerSet : CheckMaker
{
    internal override int Stage => 5;

    internal override int Order => 4;

    internal override IEnumerable<PowerUpCheck> Of(PowerUpBench bench)
    {
        var setUp = SetUps.ControllerOn(bench);
        foreach (var controller in bench.Controllers)
        {
            var rows = SettingsSheet.Of(bench.Drawn).Rows.Where(r => r.Controller == controller.Ref).ToList();
            if (rows.Count > 0)
            {
                yield return new(
                    $"settings {controller.Ref}", Stage, setUp, $"Read the settings of {controller.Title} and hold them against the sheet: {rows.Count} of them.", bench.Still(Devices.KeyPosition.On, setUp.Without),
                    "The controller’s own line, or its maker’s program beside the settings sheet.", [], new OutcomeExpected(Outcome.AsSaid),
                    $"The loom itself says {string.Join(", ", rows.Take(4).Select(r => $"{r.Setting.Name}: {r.Setting.Text}"))}{(rows.Count > 4 ? " and more" : "")}. A wrong one runs an engine badly, or not at all, with a loom that is right.", [])
                { Device = controller.Ref, Asks = Asked.Settings, IfNot = ["A setting of the controller: set it as the sheet says, and read it back."], Touches = [controller.Ref] };
            }
        }
    }
}
