using System.Reflection;
using Mono.Cecil;
using Mono.Cecil.Cil;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Tests;

/// <summary>The folders of the core lie in layers: each uses only those below it. Told from what the compiled code refers to, not from its using lines.</summary>
public sealed class LayerTests
{
    /// <summary>From the bottom to the top; folders in one layer may use each other.</summary>
    private static readonly string[][] Layers =
    [
        ["Units"], ["Json"], ["Looms", "Devices"], ["Circuits"], ["Electrical"], ["States"], ["Faults"], ["Sightings"], ["Planning"], ["Runs"], ["Diagnosis"], ["PowerUp"], ["Symptoms"], ["Handover"], ["Practice"],
    ];

    /// <summary>Beside the layers: they use what they need, and nothing in a layer uses them.</summary>
    private static readonly string[] Beside = ["Formats", "Intake", "Pinouts", "Revisions", "Shop"];

    public static TheoryData<string> Folders => [.. Layers.SelectMany(l => l)];

    [Fact]
    public void Every_folder_of_the_core_has_its_layer() =>
        typeof(Loom).Assembly.GetTypes().Select(t => Folder(t.Namespace ?? "")).OfType<string>().Distinct().Order()
            .ShouldBe(Layers.SelectMany(l => l).Concat(Beside).Order());

    [Theory]
    [MemberData(nameof(Folders))]
    public void A_folder_uses_only_what_lies_below_it(string folder)
    {
        var own = Array.FindIndex(Layers, l => l.Contains(folder));
        var allowed = Layers.Take(own + 1).SelectMany(l => l).ToHashSet();
        using var assembly = AssemblyDefinition.ReadAssembly(typeof(Loom).Assembly.Location);
        var wrong = assembly.MainModule.GetTypes()
            .Where(t => Folder(t) == folder)
            .SelectMany(t => Used(t).Where(u => Folder(u) is { } used && !allowed.Contains(used)).Select(u => $"{t.FullName} uses {u.FullName}"));
        wrong.Distinct().ShouldBeEmpty();
    }

    /// <summary>The reader of references sees what stands in bodies, signatures and attributes; otherwise the law above could not fail.</summary>
    [Theory]
    [InlineData("Handover", "Runs")]
    [InlineData("Runs", "Planning")]
    [InlineData("Runs", "Faults")]
    [InlineData("States", "Circuits")]
    [InlineData("Shop", "Runs")]
    public void What_a_folder_uses_is_seen(string folder, string used)
    {
        using var assembly = AssemblyDefinition.ReadAssembly(typeof(Loom).Assembly.Location);
        assembly.MainModule.GetTypes().Where(t => Folder(t) == folder).SelectMany(Used).Select(Folder).ShouldContain(used);
    }

    private static string? Folder(string name) => name.StartsWith("WiseLoom.Core.", StringComparison.Ordinal) ? name.Split('.')[2] : null;

    private static string? Folder(TypeReference type)
    {
        while (type.DeclaringType is { } outer)
        {
            type = outer;
        }

        return Folder(type.Namespace);
    }

    /// <summary>Every type that a type refers to: bases, fields, signatures, attributes, and what the bodies of its methods touch.</summary>
    private static IEnumerable<TypeReference> Used(TypeDefinition type)
    {
        IEnumerable<TypeReference?> own =
        [
            type.BaseType, .. type.Interfaces.Select(i => i.InterfaceType), .. type.Fields.Select(f => f.FieldType), .. type.Properties.Select(p => p.PropertyType),
            .. type.CustomAttributes.Concat(type.Methods.SelectMany(m => m.CustomAttributes)).SelectMany(a => a.ConstructorArguments).Select(a => a.Value).OfType<TypeReference>(),
            .. type.Methods.SelectMany(m => m.Parameters.Select(p => p.ParameterType).Append(m.ReturnType)),
            .. type.Methods.Where(m => m.HasBody).SelectMany(m => m.Body.Variables.Select(v => v.VariableType).Concat(m.Body.Instructions.SelectMany(Touched))),
        ];
        return own.OfType<TypeReference>().SelectMany(Parts);
    }

    private static IEnumerable<TypeReference?> Touched(Instruction instruction) => instruction.Operand switch
    {
        TypeReference type => [type],
        FieldReference field => [field.DeclaringType, field.FieldType],
        MethodReference method => [method.DeclaringType, method.ReturnType, .. method.Parameters.Select(p => p.ParameterType), .. (method as GenericInstanceMethod)?.GenericArguments ?? []],
        _ => [],
    };

    private static IEnumerable<TypeReference> Parts(TypeReference type) =>
        type is GenericInstanceType generic ? generic.GenericArguments.SelectMany(Parts).Append(type.GetElementType())
        : type is TypeSpecification of ? Parts(of.ElementType)
        : [type];
}
