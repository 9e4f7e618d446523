using System.Collections.Immutable;
using WiseLoom.Core.Devices;

namespace WiseLoom.Core.States;

/// <summary>What one function of a loom needs.</summary>
/// <param name="Name">What it is.</param>
/// <param name="Positions">Key positions in which it can be had; empty when in none.</param>
/// <param name="Condition">A condition that it needs besides; null when none, or when no single one is enough.</param>
/// <param name="Output">The output that brings it about at its moment; null when none does.</param>
/// <param name="Devices">Titles of the devices without any one of which it cannot be had.</param>
public sealed record FunctionNeeds(string Name, ImmutableArray<KeyPosition> Positions, string? Condition, string? Output, ImmutableArray<string> Devices)
{
    /// <summary>Finds out by trying: each device is unplugged in turn, in the first situation in which the function can be had.</summary>
    public static ImmutableArray<FunctionNeeds> Of(LoomStates states)
    {
        // First without any condition, then with each by itself.
        ImmutableArray<string?> conditions = [null, .. states.Conditions];
        var found = conditions.ToDictionary(c => c ?? "", c => KeyPositions.All.ToDictionary(k => k, k => Functions(states, At(k, c, []))));
        var without = new Dictionary<(KeyPosition, string, string), Dictionary<string, FunctionState>>();
        return
        [
            .. found[""][KeyPosition.On].Values.Select(function =>
            {
                var condition = conditions.FirstOrDefault(c => found[c ?? ""].Values.Any(f => Works(f, function.Name)));
                var working = found[condition ?? ""];
                ImmutableArray<KeyPosition> positions = [.. KeyPositions.All.Where(k => Works(working[k], function.Name))];
                var output = positions.IsEmpty ? null : working[positions[0]][function.Name].WhenDriven;
                var needed = positions.IsEmpty ? [] : states.Loom.Devices.Where(d => d.Ref != function.Device && !StillWorks(d.Ref, positions[0], condition, function.Name)).Select(d => d.Title);
                return new FunctionNeeds(function.Name, positions, condition, output, [.. needed]);
            }),
        ];

        bool StillWorks(string device, KeyPosition key, string? condition, string name)
        {
            if (!without.TryGetValue((key, condition ?? "", device), out var functions))
            {
                without.Add((key, condition ?? "", device), functions = Functions(states, At(key, condition, [device])));
            }

            return Works(functions, name);
        }
    }

    private static Situation At(KeyPosition key, string? condition, ImmutableHashSet<string> without) => new(key, condition is null ? [] : [condition], without);

    private static Dictionary<string, FunctionState> Functions(LoomStates states, Situation situation) =>
        states.At(situation, withProbes: false).Functions.DistinctBy(f => f.Name).ToDictionary(f => f.Name, StringComparer.Ordinal);

    private static bool Works(Dictionary<string, FunctionState> functions, string name) => functions.TryGetValue(name, out var function) && function.Works;
}
