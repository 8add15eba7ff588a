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
    /// <summary>Adds what is wrong; the places are pointers.</summary>
    public static void Check(JsonTree tree, Type type, JsonSerializerOptions options, ICollection<(JsonTree Tree, string Problem)> into)
    {
        ArgumentNullException.ThrowIfNull(tree);
        ArgumentNullException.ThrowIfNull(options);
        ArgumentNullException.ThrowIfNull(into);
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
                    Check(item, info.ElementType!, options, into);
                }

                break;
            case JsonTypeInfoKind.Dictionary when tree.Kind == JsonTokenType.StartObject:
                foreach (var item in tree.Members.Values)
                {
                    Check(item, info.ElementType!, options, into);
                }

                break;
            case JsonTypeInfoKind.None:
                Simple(tree, type, options, into);
                break;
            default:
                into.Add((tree, $"{(info.Kind == JsonTypeInfoKind.Enumerable ? "a list" : "an object")} is needed here"));
                break;
        }
    }

    private static void Members(JsonTree tree, JsonTypeInfo info, JsonSerializerOptions options, ICollection<(JsonTree, string)> into)
    {
        foreach (var (name, child) in tree.Members)
        {
            if (info.Properties.FirstOrDefault(p => p.Name == name) is { } property)
            {
                Check(child, property.PropertyType, options, into);
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

    private static void Simple(JsonTree tree, Type type, JsonSerializerOptions options, ICollection<(JsonTree, string)> into)
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
    }
}
