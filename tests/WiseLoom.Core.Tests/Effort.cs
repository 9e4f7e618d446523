namespace WiseLoom.Core.Tests;

/// <summary>How much is tried: what each change must pass, or all of it before a release (<c>./wise-loom test --deep</c>).</summary>
internal static class Effort
{
    internal static bool IsDeep { get; } = Environment.GetEnvironmentVariable("WISELOOM_DEEP") is "1";

    /// <summary>One number for every change, another before a release.</summary>
    internal static int Of(int usual, int deep) => IsDeep ? deep : usual;
}
