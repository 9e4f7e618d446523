using System.Globalization;
using System.Runtime.CompilerServices;
using Fluid;
using Fluid.Values;

namespace WiseLoom.Core.Handover;

/// <summary>How pages for customers are laid out: everything put in is encoded, and <c>t</c> says a text in the language of the papers.</summary>
internal static class Liquid
{
    internal static TemplateOptions Options { get; } = Made();

    private static TemplateOptions Made()
    {
        var options = new TemplateOptions { MemberAccessStrategy = new UnsafeMemberAccessStrategy(), CultureInfo = CultureInfo.InvariantCulture };
        options.Filters.AddFilter("t", (input, arguments, _) =>
            new StringValue(Words.Of(FormattableStringFactory.Create(input.ToStringValue(), [.. Enumerable.Range(0, arguments.Count).Select(i => (object)arguments.At(i).ToStringValue())]))));
        return options;
    }
}
