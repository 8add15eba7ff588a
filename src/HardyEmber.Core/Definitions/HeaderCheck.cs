using System.Collections;
using System.Reflection;
using System.Text.Json;

namespace HardyEmber.Core.Definitions;

/// <summary>Checks what the type of a header's fields cannot say: ranges, and texts that can be written and read again.</summary>
public static class HeaderCheck
{
    private const int LongestText = 120;

    /// <summary>Checks a header or a part of it.</summary>
    /// <exception cref="FormatException">A field is out of its range or no sound text; the message begins with its path.</exception>
    public static void Check(object part, string path = "")
    {
        ArgumentNullException.ThrowIfNull(part);
        foreach (var property in part.GetType().GetProperties(BindingFlags.Public | BindingFlags.Instance).Where(p => p.GetIndexParameters().Length == 0))
        {
            var name = path.Length == 0 ? Camel(property.Name) : $"{path}.{Camel(property.Name)}";
            switch (property.GetValue(part))
            {
                case double or int when property.GetCustomAttribute<BetweenAttribute>() is { } range:
                    Bound(Convert.ToDouble(property.GetValue(part), System.Globalization.CultureInfo.InvariantCulture), range, name);
                    break;
                case double number when !double.IsFinite(number):
                    throw new FormatException($"{name}: is no number");
                case string text:
                    Text(text, name);
                    break;
                case IReadOnlyDictionary<string, string> choices:
                    foreach (var (key, value) in choices)
                    {
                        Text(key, name);
                        Text(value, $"{name}.{key}");
                    }

                    break;
                case IEnumerable list:
                    foreach (var item in list)
                    {
                        Check(item ?? throw new FormatException($"{name}: an entry is missing"), name);
                    }

                    break;
                case { } inner when inner.GetType().Namespace == typeof(RunHeader).Namespace:
                    Check(inner, name);
                    break;
            }
        }
    }

    /// <summary>Every range of a header and its parts, by the path of the field.</summary>
    public static IReadOnlyDictionary<string, BetweenAttribute> Ranges { get; } = RangesOf(typeof(RunHeader), "").ToDictionary();

    private static IEnumerable<KeyValuePair<string, BetweenAttribute>> RangesOf(Type type, string path) =>
        type.GetProperties(BindingFlags.Public | BindingFlags.Instance).SelectMany(p =>
    {
        var name = path + Camel(p.Name);
        return p.GetCustomAttribute<BetweenAttribute>() is { } range ? [KeyValuePair.Create(name, range)]
            : PartOf(p.PropertyType) is { } part ? RangesOf(part, name + ".") : [];
    });

    // A part of a header, or of what a list in it holds.
    private static Type? PartOf(Type type) => type.IsGenericType && type.IsAssignableTo(typeof(IEnumerable)) ? PartOf(type.GetGenericArguments()[^1])
        : type.Namespace == typeof(RunHeader).Namespace ? type : null;

    /// <summary>The range of a field.</summary>
    public static BetweenAttribute RangeOf(Type type, string property)
    {
        ArgumentNullException.ThrowIfNull(type);
        return type.GetProperty(property)!.GetCustomAttribute<BetweenAttribute>()!;
    }

    private static void Bound(double value, BetweenAttribute range, string field)
    {
        if (!(value >= range.Low && value <= range.High))
        {
            throw new FormatException(FormattableString.Invariant($"{field}: {value} is outside {range.Low} to {range.High}"));
        }
    }

    private static void Text(string? text, string field)
    {
        if ((text is null ? "a text is missing" : SoundText.Problem(text, LongestText)) is { } problem)
        {
            throw new FormatException($"{field}: {problem}");
        }
    }

    private static string Camel(string name) => JsonNamingPolicy.CamelCase.ConvertName(name);
}
