namespace WiseLoom.Core.PowerUp;

/// <summary>The set-ups of the stages, in their order.</summary>
internal static class SetUps
{
    internal static SetUp NoPower(PowerUpBench bench) => new("no-power", "Battery disconnected, controller plugs off, everything else plugged in, key off.", bench.ControllersOff);

    internal static SetUp NoPowerLoadsOff(PowerUpBench bench) =>
        new("no-power-loads-off", "Battery disconnected, controller plugs and all loads off, key off.", bench.ControllersOff.Union(bench.LoadsOff));

    internal static SetUp NoPowerAllPlugged(PowerUpBench _) => new("no-power-all", "Battery disconnected, everything plugged in, the controller too, key off.", []);

    internal static SetUp Limited(PowerUpBench bench) =>
        new("limited", $"A supply of {Say.Volts(bench.Loom.SupplyVolts)} limited to {Say.Amps(bench.Limit.Amps)} in place of the battery, through a fuse; controller plugs and all loads off, key off.", bench.ControllersOff.Union(bench.LoadsOff));

    internal static SetUp ControllerOff(PowerUpBench bench) => new("controller-off", "Battery connected through its fuses, controller plugs still off, loads plugged in.", bench.ControllersOff);

    internal static SetUp ControllerOn(PowerUpBench bench) => new("controller-on", $"Key off, then {(bench.Controllers.Length > 1 ? "the controllers" : "the controller")} plugged in; engine standing still.", []);

    /// <summary>Fuel and spark off: injectors, coils and pumps unplugged.</summary>
    internal static SetUp Cranking(PowerUpBench bench) => new(
        "cranking", "Injectors, coils and fuel pumps unplugged; engine free to turn, everybody clear of it.",
        [.. bench.Loads.Where(d => d.Model is Devices.LoadModel { Use: "injector" or "coil" or "motor" }).Select(d => d.Ref)]);

    internal static SetUp FirstStart(PowerUpBench _) => new("first-start", "Everything plugged in and mounted, oil and coolant filled, fuel lines tight.", []);

    internal static SetUp Warm(PowerUpBench _) => new("warm", "Engine warm from the first run, everything mounted.", []);
}
