using System.Collections.Immutable;
using System.Globalization;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp;

/// <summary>A setting that a controller must have for this loom.</summary>
/// <param name="Controller">Its ref.</param>
/// <param name="Why">Where the loom says so.</param>
public sealed record SettingsRow(string Controller, ControllerSetting Setting, string Why);

/// <summary>A setting that is not as the loom needs it.</summary>
/// <param name="Reported">What the controller has; null when it does not say.</param>
public sealed record SettingDiffers(SettingsRow Row, string? Reported)
{
    /// <summary>In words, both values in it.</summary>
    public string InWords() => Reported is { } said ? $"{Row.Setting.Name} differs: the controller has {said}, this loom needs {Row.Setting.Text}" : $"{Row.Setting.Name} is not told by the controller; this loom needs {Row.Setting.Text}";
}

/// <summary>What a controller must be set to, from the loom: cylinders and order, wheels, tables of sensors, lines of transducers, what hangs on each output, ends of the network, and what the file says besides.</summary>
public sealed record SettingsSheet(ImmutableArray<SettingsRow> Rows)
{
    /// <summary>Of a loom; empty when it has no controller with roles.</summary>
    public static SettingsSheet Of(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        var rows = ImmutableArray.CreateBuilder<SettingsRow>();
        foreach (var controller in loom.Devices.Where(d => d.Model is ControllerModel { Pins.IsEmpty: false }))
        {
            var model = (ControllerModel)controller.Model!;
            void Add(ControllerSetting setting, string why) => rows.Add(new(controller.Ref, setting, why));
            Engine(loom, model, Add);
            Wheels(loom, controller, Add);
            Sensors(loom, controller, Add);
            Outputs(loom, controller, model, Add);
            foreach (var bus in model.Pins.Values.Where(p => p.Role == ControllerRole.Network).GroupBy(p => p.Bus, StringComparer.Ordinal))
            {
                var own = bus.Select(p => p.Ohms).FirstOrDefault(o => o is not null);
                Add(ControllerSetting.Of($"{bus.Key}: termination", own is null ? "off" : "on"), own is null ? "its pins have none" : $"its pins end the pair with {Say.Ohms(own.Value)}");
            }

            foreach (var setting in model.Settings)
            {
                Add(setting, "the loom’s file");
            }
        }

        return new(rows.ToImmutable());
    }

    /// <summary>What a controller has that this loom does not want, and what it does not tell.</summary>
    /// <param name="controller">Its ref.</param>
    /// <param name="reported">By name.</param>
    /// <param name="missing">Whether settings that it does not tell count.</param>
    public ImmutableArray<SettingDiffers> Against(string controller, IReadOnlyDictionary<string, ControllerSetting> reported, bool missing = false)
    {
        ArgumentNullException.ThrowIfNull(reported);
        return
        [
            .. Rows.Where(r => r.Controller == controller).Select(r => (Row: r, Has: reported.GetValueOrDefault(r.Setting.Name)))
                .Where(x => x.Has is null ? missing : !x.Has.IsSame(x.Row.Setting)).Select(x => new SettingDiffers(x.Row, x.Has?.Text)),
        ];
    }

    private static void Engine(Loom loom, ControllerModel model, Action<ControllerSetting, string> add)
    {
        var injectors = loom.Devices.Count(d => d.Model is LoadModel { Use: "injector" });
        if (model.FiringOrder.Length > 0)
        {
            add(ControllerSetting.Of("cylinders", model.FiringOrder.Length), "its firing order");
            add(ControllerSetting.Of("firing order", string.Join(" · ", model.FiringOrder)), "the loom’s file");
        }
        else if (injectors > 0)
        {
            add(ControllerSetting.Of("cylinders", injectors), "its injectors");
        }
    }

    private static void Wheels(Loom loom, Device controller, Action<ControllerSetting, string> add)
    {
        foreach (var device in loom.Devices.Where(d => d.Trigger is not null))
        {
            var wheel = device.Trigger!;
            add(ControllerSetting.Of($"{device.Title}: wheel", wheel.InWords()), $"{device.Title}, {(wheel.PerTurn == 1 ? "on the crank" : string.Create(CultureInfo.InvariantCulture, $"{wheel.PerTurn:0.##} turns to one of the crank"))}");
            add(ControllerSetting.Of($"{device.Title}: kind", wheel.Kind == TriggerKind.Inductive ? "inductive" : "hall"), device.Title);
            add(ControllerSetting.Of($"{device.Title}: polarity", wheel.Edge == TriggerEdge.Falling ? "falling" : "rising"), device.Title);
        }
    }

    private static void Sensors(Loom loom, Device controller, Action<ControllerSetting, string> add)
    {
        foreach (var channel in Channel.Of(loom).Where(c => c.Controller == controller.Ref))
        {
            if (channel.Sensor?.Model is NtcModel ntc)
            {
                add(ControllerSetting.Of($"{channel.Name}: table", SettingText.Of(ntc.Points)), channel.Sensor.Title);
            }
            else if (channel.Sensor?.Model is TransducerModel { Scale: { } scale })
            {
                add(ControllerSetting.Of($"{channel.Name}: line", string.Create(CultureInfo.InvariantCulture, $"{scale.LowVolts:0.###} V {scale.LowUnits:0.###} {scale.Unit}; {scale.HighVolts:0.###} V {scale.HighUnits:0.###} {scale.Unit}")), channel.Sensor.Title);
            }
        }
    }

    private static void Outputs(Loom loom, Device controller, ControllerModel model, Action<ControllerSetting, string> add)
    {
        var nets = Electrical.WireGraph.Topology(loom);
        foreach (var (name, pin) in model.Pins.Where(p => p.Value.IsOutput && controller.Pins.ContainsKey(p.Key)))
        {
            if (nets.NetOf(controller.Pins[name]) is { } net
                && loom.Devices.FirstOrDefault(d => d.Ref != controller.Ref && d.Model is LoadModel { Verb.Length: > 0 } or RelayModel && d.Pins.Values.Any(net.Points.Contains)) is { } load)
            {
                var ohm = load.Model is LoadModel plain ? plain.Cold.Nominal : ((RelayModel)load.Model!).Coil.Nominal;
                add(ControllerSetting.Of($"{pin.Output}: drives", string.Create(CultureInfo.InvariantCulture, $"{load.Title}, {ohm:0.###} Ω")), string.Join(", ", net.Edges.Select(e => e.Label).Take(3)));
            }
        }
    }
}
