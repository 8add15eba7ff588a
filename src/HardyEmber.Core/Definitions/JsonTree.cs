using System.Globalization;
using System.Text;
using System.Text.Json;

namespace HardyEmber.Core.Definitions;

/// <summary>A JSON text with the line and pointer of every value, to say where something stands.</summary>
public sealed class JsonTree
{
    private static readonly string[] Names = ["id", "code", "signal", "step", "text"];
    private readonly Dictionary<string, JsonTree> _members = [];
    private readonly List<JsonTree> _items = [];

    private JsonTree(JsonTokenType kind, string file, int line, string pointer, string? text)
    {
        (Kind, File, Line, At, Text) = (kind, file, line, pointer, text);
        Weight = 1 + (text?.Length ?? 0) / 8;
    }

    /// <summary>The file it was written in; another than that of the values around it where it came in as a part.</summary>
    public string File { get; }

    /// <summary>Begin of an object or array, or the kind of a simple value.</summary>
    public JsonTokenType Kind { get; }

    /// <summary>Counted from 1.</summary>
    public int Line { get; }
    public string At { get; }

    /// <summary>A simple value as written.</summary>
    public string? Text { get; }
    public IReadOnlyDictionary<string, JsonTree> Members => _members;
    public IReadOnlyList<JsonTree> Items => _items;

    /// <summary>How much it is to walk through: 1 for each value in it, and 1 more for each eight characters of a text.</summary>
    public int Weight { get; private set; }

    /// <summary>Values within values: 1 where it holds none.</summary>
    public int Height { get; private set; } = 1;

    // A value may stand in several places: what it weighs counts in each.
    private JsonTree Holding(JsonTree child)
    {
        Weight = (int)Math.Min((long)Weight + child.Weight, int.MaxValue);
        Height = Math.Max(Height, child.Height + 1);
        return child;
    }

    /// <exception cref="JsonException">It is no JSON.</exception>
    public static JsonTree Of(string text, string file = "")
    {
        ArgumentNullException.ThrowIfNull(text);
        var bytes = Encoding.UTF8.GetBytes(text);
        var reader = new Utf8JsonReader(bytes, new JsonReaderOptions { MaxDepth = DataLimits.DeepestJson });
        reader.Read();
        var (line, at) = (1, 0L);
        var tree = Read(ref reader, bytes, file, ref line, ref at, "");
        while (reader.Read())
        {
            // what follows the value is an error, and the reader says so
        }

        return tree;
    }

    private static JsonTree Read(ref Utf8JsonReader reader, byte[] bytes, string file, ref int line, ref long at, string pointer)
    {
        for (; at < reader.TokenStartIndex; at++)
        {
            line += bytes[at] == '\n' ? 1 : 0;
        }

        var simple = reader.TokenType is not (JsonTokenType.StartObject or JsonTokenType.StartArray);
        var tree = new JsonTree(reader.TokenType, file, line, pointer,
            !simple ? null : reader.TokenType == JsonTokenType.String ? reader.GetString() : Encoding.UTF8.GetString(reader.ValueSpan));
        while (!simple && reader.Read() && reader.TokenType is not (JsonTokenType.EndObject or JsonTokenType.EndArray))
        {
            if (tree.Kind == JsonTokenType.StartArray)
            {
                tree._items.Add(tree.Holding(Read(ref reader, bytes, file, ref line, ref at, $"{pointer}/{tree._items.Count}")));
                continue;
            }

            var name = reader.GetString()!;
            reader.Read();
            tree._members[name] = tree.Holding(Read(ref reader, bytes, file, ref line, ref at,
                $"{pointer}/{name.Replace("~", "~0", StringComparison.Ordinal).Replace("/", "~1", StringComparison.Ordinal)}"));
        }

        return tree;
    }

    /// <summary>A text in place of this one, said to stand where this one does.</summary>
    internal JsonTree With(string text, JsonTokenType kind = JsonTokenType.String) => new(kind, File, Line, At, text);

    /// <summary>An object or list with other members, said to stand where this one does.</summary>
    /// <exception cref="DataLimitException">It is too deep or too long.</exception>
    internal JsonTree With(IEnumerable<(string Name, JsonTree Tree)> members, IEnumerable<JsonTree> items)
    {
        var made = new JsonTree(Kind, File, Line, At, null);
        foreach (var item in items)
        {
            made._items.Add(made.Holding(item));
        }

        foreach (var (name, tree) in members)
        {
            made._members[name] = made.Holding(tree);
        }

        return made.Height <= DataLimits.DeepestJson && made._items.Count <= DataLimits.MostItems && made._members.Count <= DataLimits.MostItems ? made
            : throw new DataLimitException(this, made.Height > DataLimits.DeepestJson ? $"values stand more than {DataLimits.DeepestJson} deep within each other"
                : $"a list or an object has at most {DataLimits.MostItems} entries; here there are {Math.Max(made._items.Count, made._members.Count)}");
    }

    /// <summary>Written out as JSON.</summary>
    public void WriteTo(Utf8JsonWriter writer)
    {
        ArgumentNullException.ThrowIfNull(writer);
        switch (Kind)
        {
            case JsonTokenType.StartObject:
                writer.WriteStartObject();
                foreach (var (name, child) in _members)
                {
                    writer.WritePropertyName(name);
                    child.WriteTo(writer);
                }

                writer.WriteEndObject();
                break;
            case JsonTokenType.StartArray:
                writer.WriteStartArray();
                _items.ForEach(i => i.WriteTo(writer));
                writer.WriteEndArray();
                break;
            case JsonTokenType.String:
                writer.WriteStringValue(Text);
                break;
            default:
                writer.WriteRawValue(Text!);
                break;
        }
    }

    /// <summary>The value that a path in the words of the data means (<c>lamps.aux-ready.lit</c>, <c>steps.flaps.done</c>), or the nearest around it.</summary>
    public JsonTree Find(string where)
    {
        ArgumentNullException.ThrowIfNull(where);
        return Search(where).Tree;
    }

    // The value that takes most of the path; what is meant may stand deeper than it is said, as the steps of a procedure do in its phases.
    private (JsonTree Tree, int Left) Search(string where)
    {
        var best = (Tree: this, Left: where.Length);
        void Try(JsonTree child, string rest)
        {
            if (best.Left > 0 && child.Search(rest) is var found && found.Left < best.Left)
            {
                best = found;
            }
        }

        if (where.StartsWith('[') && where.IndexOf(']', StringComparison.Ordinal) is var end and > 0
            && int.TryParse(where.AsSpan(1, end - 1), CultureInfo.InvariantCulture, out var index) && index < _items.Count)
        {
            Try(_items[index], Rest(where, end + 1));
        }

        foreach (var (name, child) in Steps().Where(s => Begins(where, s.Name)))
        {
            Try(child, Rest(where, name.Length));
        }

        foreach (var child in _items.Concat(_members.Values))
        {
            Try(child, where);
        }

        return best;
    }

    private IEnumerable<(string Name, JsonTree Tree)> Steps() => Kind == JsonTokenType.StartObject ? _members.Select(m => (m.Key, m.Value))
        : _items.SelectMany(i => Names.Where(i._members.ContainsKey).Select(n => (i._members[n].Text ?? "", i))).Where(s => s.Item1.Length > 0);

    private static bool Begins(string where, string name) => where.StartsWith(name, StringComparison.Ordinal) && (where.Length == name.Length || where[name.Length] is '.' or '[');

    private static string Rest(string where, int from) => where[from..].TrimStart('.');
}
