using System.Collections.Immutable;
using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.PowerUp;

/// <summary>An output of a controller and what hangs on it as drawn.</summary>
/// <param name="Name">As it is driven.</param>
/// <param name="Controller">Ref of the controller.</param>
/// <param name="Point">The cavity of its pin; of several pins of one name the first.</param>
/// <param name="Pin">What the pin is.</param>
/// <param name="Loads">Loads and relays on its metal.</param>
public sealed record Output(string Name, string Controller, ProbePoint Point, ControllerPin Pin, ImmutableArray<Device> Loads)
{
    /// <summary>All outputs of a loom's controllers that have a wire, each name once, in the order of the pins.</summary>
    public static ImmutableArray<Output> Of(Loom loom)
    {
        ArgumentNullException.ThrowIfNull(loom);
        var nets = Electrical.WireGraph.Topology(loom);
        var found = ImmutableArray.CreateBuilder<Output>();
        foreach (var controller in loom.Devices.Where(d => d.Model is ControllerModel))
        {
            foreach (var (name, pin) in ((ControllerModel)controller.Model!).Pins.Where(p => p.Value.IsOutput))
            {
                if (controller.Pins.TryGetValue(name, out var point) && nets.NetOf(point) is { } net && !found.Any(o => o.Name == pin.Output && o.Controller == controller.Ref))
                {
                    found.Add(new(pin.Output, controller.Ref, point, pin, [.. loom.Devices.Where(d => d.Ref != controller.Ref && d.Model is LoadModel { Verb.Length: > 0 } or RelayModel && d.Pins.Values.Any(net.Points.Contains))]));
                }
            }
        }

        return found.ToImmutable();
    }
}
