using WiseLoom.Cli;

return args switch
{
    ["check", .. var rest] => CheckCommand.Run(rest),
    ["expect", .. var rest] => ExpectCommand.Run(rest),
    ["state", .. var rest] => StateCommand.Run(rest),
    ["pack", .. var rest] => PackCommand.Run(rest),
    ["symptoms", .. var rest] => SymptomsCommand.Run(rest),
    ["needs", .. var rest] => NeedsCommand.Run(rest),
    ["plan", .. var rest] => PlanCommand.Run(rest),
    ["judge", .. var rest] => JudgeCommand.Run(rest),
    ["learn", .. var rest] => LearnCommand.Run(rest),
    ["diagnose", .. var rest] => DiagnoseCommand.Run(rest),
    ["intake", .. var rest] => IntakeCommand.Run(rest),
    ["trial", .. var rest] => TrialCommand.Run(rest),
    ["powerup", .. var rest] => PowerUpCommand.Run(rest),
    ["stand-in", "meter", .. var rest] => await StandInMeterCommand.RunAsync(rest).ConfigureAwait(false),
    ["stand-in", "controller", .. var rest] => await StandInControllerCommand.RunAsync(rest).ConfigureAwait(false),
    _ => Usage.Print(),
};
