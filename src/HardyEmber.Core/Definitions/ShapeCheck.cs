using System.Globalization;
using System.Reflection;
using System.Text.Json;
using System.Text.Json.Serialization.Metadata;
using HardyEmber.Core.Numbers;

namespace HardyEmber.Core.Definitions;

/// <summary>
/// Compares a file with the type that it is read into, and finds everything of the wrong shape: the reader itself stops at the first. What it lets
/// pass the reader judges.
/// </summary>
public static class ShapeCheck
{
    // The members by which things of the data, and the positions of controls, are named.
    private static readonly HashSet<string> Names = new(StringComparer.Ordinal) { "id", "code", "signal", "positions" };

    /// <summary>Adds what is wrong; the places are pointers.</summary>
    public static void Check(JsonTree tree, Type type, JsonSerializerOptions options, ICollection<(JsonTree Tree, string Problem)> into) => Check(tree, type, null, options, into);

    // A list or table of numbers has the range of the field that it stands in.
    private static void Check(JsonTree tree, Type type, PropertyInfo? field, JsonSerializerOptions options, ICollection<(JsonTree Tree, string Problem)> into)
    {
        ArgumentNullException.ThrowIfNull(tree);
        ArgumentNullException.ThrowIfNull(options);
        ArgumentNullException.ThrowIfNull(into);
        if (into.Count >= DataLimits.MostProblems)
        {
            return;
        }

        type = Nullable.GetUnderlyingType(type) ?? type;
        var info = options.GetTypeInfo(type);
        if (tree.Kind == JsonTokenType.Null)
        {
            return;
        }

        switch (info.Kind)
        {
            case JsonTypeInfoKind.Object when tree.Kind == JsonTokenType.StartObject:
                Members(tree, info, options, into);
                break;
            case JsonTypeInfoKind.Enumerable when tree.Kind == JsonTokenType.StartArray:
                foreach (var item in tree.Items)
                {
                    Item(item, info.ElementType!, field, options, into);
                }

                break;
            case JsonTypeInfoKind.Dictionary when tree.Kind == JsonTokenType.StartObject:
                foreach (var (name, item) in tree.Members)
                {
                    Named(name, item, into);
                    Item(item, info.ElementType!, field, options, into);
                }

                break;
            case JsonTypeInfoKind.None:
                Simple(tree, type, field, options, into);
                break;
            default:
                into.Add((tree, $"{(info.Kind == JsonTypeInfoKind.Enumerable ? "a list" : "an object")} is needed here"));
                break;
        }
    }

    private static void Item(JsonTree tree, Type type, PropertyInfo? field, JsonSerializerOptions options, ICollection<(JsonTree, string)> into)
    {
        if (tree.Kind == JsonTokenType.Null)
        {
            into.Add((tree, "an entry is missing: null stands here"));
        }

        Check(tree, type, field, options, into);
    }

    private static void Members(JsonTree tree, JsonTypeInfo info, JsonSerializerOptions options, ICollection<(JsonTree, string)> into)
    {
        foreach (var (name, child) in tree.Members)
        {
            if (info.Properties.FirstOrDefault(p => p.Name == name) is { } property)
            {
                Check(child, property.PropertyType, property.AttributeProvider as PropertyInfo, options, into);
                foreach (var named in !Names.Contains(name) ? [] : child.Items.Append(child).Where(n => n.Kind == JsonTokenType.String))
                {
                    Named(named.Text!, named, into);
                }
            }
            else
            {
                into.Add((child, $"the field \"{name}\" is not known{Nearest.Hint(name, info.Properties.Select(p => p.Name))}"));
            }
        }

        foreach (var missing in info.Properties.Where(p => p.IsRequired && !tree.Members.ContainsKey(p.Name)))
        {
            into.Add((tree, $"the field \"{missing.Name}\" is missing"));
        }
    }

    private static void Named(string name, JsonTree at, ICollection<(JsonTree, string)> into)
    {
        if (SoundText.NameProblem(name) is { } problem)
        {
            into.Add((at, problem));
        }
    }

    private static void Simple(JsonTree tree, Type type, PropertyInfo? field, JsonSerializerOptions options, ICollection<(JsonTree, string)> into)
    {
        if (type.IsEnum)
        {
            var words = Enum.GetValues(type).Cast<object>().Select(v => JsonSerializer.SerializeToElement(v, type, options).GetString()!).ToList();
            if (tree.Text is not { } word || tree.Kind != JsonTokenType.String || !words.Contains(word))
            {
                into.Add((tree, $"\"{tree.Text}\" is none of {string.Join(", ", words)}"));
            }

            return;
        }

        var (fits, needed) = Type.GetTypeCode(type) switch
        {
            TypeCode.String => (tree.Kind == JsonTokenType.String, "a text"),
            TypeCode.Boolean => (tree.Kind is JsonTokenType.True or JsonTokenType.False, "true or false"),
            TypeCode.Int32 or TypeCode.Int64 or TypeCode.Double => (tree.Kind == JsonTokenType.Number, "a number"),
            _ => (true, ""),
        };
        if (!fits)
        {
            into.Add((tree, $"{needed} is needed here"));
        }
        else if (tree.Kind == JsonTokenType.Number && field is not null)
        {
            var range = BetweenAttribute.Of(field);
            if (!(double.TryParse(tree.Text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && value >= range.Low && value <= range.High))
            {
                into.Add((tree, FormattableString.Invariant($"{tree.Text} is outside {range.Low} to {range.High}")));
            }
        }
        else if (tree.Kind == JsonTokenType.String && SoundText.Problem(tree.Text!, DataLimits.LongestText) is { } problem)
        {
            into.Add((tree, problem));
        }
    }
}
