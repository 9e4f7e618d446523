using Mono.Cecil;
using Mono.Cecil.Cil;

namespace WiseLoom.Web.Tests;

/// <summary>Features of the application stand beside each other: each may use what all share, and what is written down here.</summary>
public sealed class FeatureTests
{
    private static readonly string[] Shared = ["Http", "Work", "Live", "People", "Runs", "Looms", "Meters"];

    private static readonly Dictionary<string, string[]> Allowed = new(StringComparer.Ordinal)
    {
        // Pinouts come from the shop's families; a merge makes a pinout of each side.
        ["Book"] = ["Library"],
        ["Merges"] = ["Book", "Library"],
        // A run's record is printed by what prints packs.
        ["Records"] = ["Handover"],
        // The demo signs as the handover does; who its people are stands on the sign-in page.
        ["Demo"] = ["Handover"],
        ["People"] = ["Demo"],
    };

    private static readonly Lazy<List<(string From, string To, string Class)>> Uses = new(() =>
    {
        using var assembly = AssemblyDefinition.ReadAssembly(typeof(Program).Assembly.Location);
        return [.. assembly.MainModule.GetTypes().SelectMany(t => Touched(t).Select(u => (From: Feature(t), To: Feature(u), Class: u.Name)))
            .Where(u => u.From is not null && u.To is not null && u.From != u.To).Select(u => (u.From!, u.To!, u.Class)).Distinct()];
    });

    [Fact]
    public void A_feature_uses_what_is_shared_and_what_is_written_down() =>
        Uses.Value.Where(u => !Shared.Contains(u.To) && !Allowed.GetValueOrDefault(u.From, []).Contains(u.To)).ShouldBeEmpty();

    [Fact]
    public void No_feature_reaches_into_anothers_endpoints() =>
        Uses.Value.Where(u => u.Class.EndsWith("Endpoints", StringComparison.Ordinal) && u is not { From: "People" or "Http" } && u.Class != "SessionEndpoints").ShouldBeEmpty();

    [Fact]
    public void What_is_written_down_is_used() =>
        Allowed.SelectMany(a => a.Value.Select(to => (From: a.Key, To: to))).Where(a => !Uses.Value.Exists(u => u.From == a.From && u.To == a.To)).ShouldBeEmpty();

    private static string? Feature(TypeReference type)
    {
        while (type.DeclaringType is { } outer)
        {
            type = outer;
        }

        return type.Namespace.StartsWith("WiseLoom.Web.", StringComparison.Ordinal) ? type.Namespace.Split('.')[2] : null;
    }

    private static IEnumerable<TypeReference> Touched(TypeDefinition type) => type.Methods
        .SelectMany(m => m.Parameters.Select(p => p.ParameterType).Append(m.ReturnType).Concat(m.HasBody ? m.Body.Instructions.SelectMany(Of) : []))
        .Concat(type.Fields.Select(f => f.FieldType))
        .SelectMany(t => t is GenericInstanceType g ? g.GenericArguments.Append(g.GetElementType()) : [t]);

    private static IEnumerable<TypeReference> Of(Instruction instruction) => instruction.Operand switch
    {
        TypeReference type => [type],
        MethodReference method => [method.DeclaringType],
        FieldReference field => [field.DeclaringType],
        _ => [],
    };
}
