using System.Text.Json;

namespace WiseLoom.Core.Json;

/// <summary>Which fields of an object, and of those in it, were looked for while it was read: any other that it has means nothing to the reader.</summary>
internal sealed class FieldsAsked
{
    private readonly Dictionary<string, (JsonElement Element, SortedSet<string> Known)> visited = new(StringComparer.Ordinal);

    /// <summary>An object is read from here on.</summary>
    internal void Visit(string at, JsonElement element) => visited.TryAdd(at, (element, new(StringComparer.Ordinal)));

    /// <summary>A field was looked for.</summary>
    internal void Note(string at, string field)
    {
        if (visited.TryGetValue(at, out var place))
        {
            place.Known.Add(field);
        }
    }

    /// <summary>Fields that nobody looked for, with those that were at the same place.</summary>
    internal IEnumerable<(string At, string Field, IReadOnlyCollection<string> Known)> Unheard() =>
        visited.SelectMany(v => v.Value.Element.EnumerateObject().Where(p => !v.Value.Known.Contains(p.Name)).Select(p => (v.Key, p.Name, (IReadOnlyCollection<string>)v.Value.Known)));
}
