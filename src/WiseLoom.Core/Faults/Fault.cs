using System.Reflection;
using System.Text.Json.Serialization;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Faults;

/// <summary>Something that is wrong with a loom: one vocabulary for the simulator, the ranking and the log. Each kind is a record of its
/// own that can be put into a loom, says where it is, what it is called, and why it would show.</summary>
/// <remarks>Written as JSON with <c>kind</c> and the fields of the record. A new kind is a record like these, and a line here.</remarks>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(OpenFault), "open")]
[JsonDerivedType(typeof(ResistiveFault), "resistive")]
[JsonDerivedType(typeof(ShortFault), "short")]
[JsonDerivedType(typeof(SwapFault), "swap")]
[JsonDerivedType(typeof(MisplacedFault), "misplaced")]
[JsonDerivedType(typeof(ShiftFault), "shift")]
[JsonDerivedType(typeof(MirroredFault), "mirrored")]
[JsonDerivedType(typeof(MissingFault), "missing")]
[JsonDerivedType(typeof(DeviceFault), "device")]
[JsonDerivedType(typeof(IntermittentFault), "intermittent")]
[JsonDerivedType(typeof(BackedOutFault), "backed-out")]
[JsonDerivedType(typeof(KeyTerminalFault), "key-terminal")]
public abstract record Fault
{
    /// <summary>A short name for lists: <c>Open in W12 (ECU:17 to INJ1:1)</c>.</summary>
    public abstract string Title(Loom loom);

    /// <summary>Why a reading that should be right would be wrong with this fault, and where to look: the second half of a sentence.</summary>
    public abstract string Why(Loom loom);

    /// <summary>Why what is seen with power on would be wrong with this fault, and where to look: the second half of a sentence.</summary>
    public virtual string WhyLive(Loom loom) => Why(loom);

    /// <summary>The places it touches, as a technician would point at them: cavities such as <c>ECU:17</c>, wire ids, splice refs.</summary>
    /// <returns>Empty when the fault names nothing that this loom has.</returns>
    public abstract IEnumerable<string> Places(Loom loom);

    /// <summary>The word of its kind in files and reports, such as <c>open</c>.</summary>
    public string Kind() => Words.Value[GetType()];

    /// <summary>Every kind, as files write it.</summary>
    public static IReadOnlyCollection<string> Kinds => Words.Value.Values;

    private static readonly Lazy<Dictionary<Type, string>> Words = new(() =>
        typeof(Fault).GetCustomAttributes<JsonDerivedTypeAttribute>().ToDictionary(a => a.DerivedType, a => (string)a.TypeDiscriminator!));

    /// <summary>What is done about it most often; one of the fix log's kinds of work.</summary>
    public virtual string UsualFix() => "re-crimp";

    /// <summary>Puts it into a loom. A fault that names something the loom does not have changes nothing.</summary>
    internal abstract void ApplyTo(BuiltLoom built);
}
