namespace WiseLoom.Cli;

/// <summary>What the terminal can do.</summary>
internal static class Usage
{
    /// <summary>Exit code for a command line that makes no sense (as sysexits.h EX_USAGE).</summary>
    internal const int WrongUse = 64;

    internal static int Print(string? wrong = null)
    {
        if (wrong is not null)
        {
            Console.Error.WriteLine(wrong);
        }

        Console.Error.WriteLine("""
            check LOOM                       every problem of a loom file, as JSON; exit 1 if there is any
            expect LOOM [--fitted] [--ambient C] [--set NAME]… [--without REF]…
                                             nets, and what every pair of points must read, bare or through the devices, as JSON
            state LOOM --key off|accessory|on|start|running [--set NAME]… [--without REF]… [--ambient C]
                                             what every point, wire and function shows in a key position, as JSON
            needs LOOM [--markdown]          what each function of the loom needs: key positions, outputs, devices
            intake FILE [--mapping NAME.json] [--connector NAME] [-o LOOM.json]
                                             a table of wires, pinouts or crosses, from any spreadsheet, as a loom file; what was understood, guessed and refused as JSON on standard error
            plan LOOM [--isolation neighbours|thorough] [--meter bench|hand] [--lamp WATTS] [--ambient C] [--first PLACE]… [--fitted REF|all]… [--pulls] [--looks]
                                             the steps that prove a loom, each with its cost, what no plan can beat, and what is left open, as JSON
            judge LOOM --readings FILE [--meter bench|hand] [--isolation neighbours|thorough] [--ambient C] [--learned LIMITS.json]
            learn LOOM --readings GOOD.csv [--readings GOOD.csv]… [--meter bench|hand] [--ambient C]
                                             readings.csv put through a run: failing steps, what may be behind them, what stands against release, as JSON; exit 1 if anything does
            diagnose LOOM READINGS [--meter FILE] [--ambient C]
                                             what may be wrong, and what to measure next: a case a line (READINGS is a file, or - for what comes in), a line of JSON for each
            trial LOOM [--faults 0|1|2] [--count N] [--seed S] [--isolation neighbours|thorough] [--meter bench|hand] [--misses]
                                             hidden faults against the diagnosis, as JSON with a table by kind
            powerup LOOM [--bench FILE] [--school bench|test-engine|vehicle] [--run REF]… [--ambient C]
                                             the stages of a power-up with what each check should show on this bench, the minimum to run, and the settings sheet, as JSON
            symptoms LOOM [--ambient C]      what each single break does, from what is seen to what may be behind it, and how a guide of checks does, as JSON
            pack LOOM [--readings FILE] [--ambient C] [--language en|de] -o DIR
                                             a handover pack that nobody signed: pack.html, pack.json, pins.csv
            stand-in meter --loom LOOM [--faults FILE] [--port N] [--seed N] [--lead OHM] [--settle S] [--drift PERCENT] [--drift-rate PERCENT]
                                             a bench meter on a loopback port that reads the loom with hidden faults
            stand-in controller --loom LOOM [--faults FILE] [--bench FILE] [--port N] [--seed N]
                                             an engine’s controller on a loopback port that obeys the loom with hidden faults and settings of its own
            """);
        return WrongUse;
    }
}
