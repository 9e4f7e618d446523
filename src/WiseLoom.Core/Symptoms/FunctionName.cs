using WiseLoom.Core.Devices;
using WiseLoom.Core.Looms;

namespace WiseLoom.Core.Symptoms;

/// <summary>What a part does, as papers for customers name it.</summary>
internal static class FunctionName
{
    /// <summary><c>Fuel pump runs</c>, in the language of the papers.</summary>
    internal static string Of(Device device) => device.Model is LoadModel { Verb: { Length: > 0 } verb } ? $"{device.Title} {Words.Text(verb)}" : device.Title;
}
