using System.Collections;
using System.Collections.Concurrent;
using System.Reflection;
using System.Runtime.InteropServices;
using System.Text.Json;
using WiseLoom.Core.Json;

namespace WiseLoom.Web.Http;

/// <summary>The one border that every request crosses: what no store could keep, holes in lists and numbers beyond all use are refused with their place before anybody looks at them.</summary>
internal sealed class RequestBorder : IEndpointFilter
{
    /// <summary>No quantity of the trade is larger, in any unit.</summary>
    private const double MostNumber = 1e15;

    private static readonly ConcurrentDictionary<Type, PropertyInfo[]> Fields = new();

    /// <inheritdoc/>
    public async ValueTask<object?> InvokeAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        foreach (var argument in context.Arguments)
        {
            if (argument is string or not null && IsOurs(argument.GetType()) && Find(argument, "") is { } problem)
            {
                return Refusal.Field(problem.At, problem.Message);
            }
        }

        return await next(context);
    }

    /// <summary>Refuses addresses that hold a sign no text can have.</summary>
    internal static Task Address(HttpContext context, RequestDelegate next) =>
        IsText(context.Request.Path.Value) && context.Request.Query.All(q => IsText(q.Key) && q.Value.All(IsText))
            ? next(context)
            : Results.Problem(title: "The address holds a sign that no text can have.", statusCode: StatusCodes.Status400BadRequest).ExecuteAsync(context);

    private static Problem? Find(object? value, string at)
    {
        switch (value)
        {
            case null:
                return null;
            case JsonElement json:
                return json.ValueKind != JsonValueKind.Undefined && JsonSize.TooMuch(JsonMarshal.GetRawUtf8Value(json)) is { } tooMuch ? tooMuch with { At = at } : null;
            case string text:
                return IsText(text) ? null : new(at, "Holds a sign that no text can have: a null, or half a character.");
            case double number:
                return Math.Abs(number) <= MostNumber ? null : new(at, "A number beyond all use: nothing here is larger than 10¹⁵.");
            case IEnumerable list:
                var index = 0;
                foreach (var item in list)
                {
                    var place = $"{at}/{index++}";
                    if (item is null && !MayHaveHoles(list.GetType()))
                    {
                        return new(place, "Null stands where an entry of the list is needed.");
                    }

                    if (Find(item, place) is { } inside)
                    {
                        return inside;
                    }
                }

                return null;
            default:
                return IsOurs(value.GetType())
                    ? Fields.GetOrAdd(value.GetType(), ReadableFields).Select(p => Find(p.GetValue(value), $"{at}/{JsonNamingPolicy.CamelCase.ConvertName(p.Name)}")).FirstOrDefault(p => p is not null)
                    : null;
        }
    }

    /// <summary>Text without a null and without half a character, as PostgreSQL and UTF-8 can keep it.</summary>
    internal static bool IsText(string? text)
    {
        for (var i = 0; i < (text?.Length ?? 0); i++)
        {
            if (text![i] == '\0' || (char.IsSurrogate(text[i]) && !(char.IsHighSurrogate(text[i]) && i + 1 < text.Length && char.IsLowSurrogate(text[++i]))))
            {
                return false;
            }
        }

        return true;
    }

    private static bool IsOurs(Type type) => type == typeof(string) || type.Namespace?.StartsWith("WiseLoom.", StringComparison.Ordinal) == true;

    /// <summary>Lists of values that may be missing: gaps in a face.</summary>
    private static bool MayHaveHoles(Type list) => list.GetElementType() is null && list.GenericTypeArguments is [{ } item] && Nullable.GetUnderlyingType(item) is not null;

    private static PropertyInfo[] ReadableFields(Type type) =>
        [.. type.GetProperties(BindingFlags.Public | BindingFlags.Instance).Where(p => p.CanRead && p.GetIndexParameters().Length == 0 && type.GetConstructors().Any(c => c.GetParameters().Any(a => a.Name == p.Name)))];
}
