using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;
using HardyEmber.Core.Numbers;

namespace HardyEmber.Core.Definitions;

/// <summary>
/// What several places of the data have in common, written once with parameters (<c>fleet/parts/*.json</c>), and put in where a list says so:
/// <code>
/// { "use": "crank", "engine": "{first}" }                     the part's items, with its parameters filled in
/// { "for": "zone", "in": ["left", "right"], "do": [ … ] }     the items once for each
/// { "if": "{cooled}", … }                                     only where that is something
/// </code>
/// Inside, <c>{engine}</c> is the parameter (<c>{Engine}</c> the same with a capital), <c>{zone#}</c> the number of a turn, counted from 1, <c>{zone%}</c>
/// that number as a share of all, <c>{zone.label}</c> a member, <c>{psi,}</c> a number with its thousands set apart. Names that are no parameter stay as they are. Each
/// value remembers where it was written.
/// </summary>
public sealed partial class Parts
{
    private readonly Dictionary<string, JsonTree> _parts = new(StringComparer.Ordinal);
    private readonly ICollection<(JsonTree Tree, string Problem)> _problems;
    private IReadOnlyDictionary<string, JsonTree> _known = new Dictionary<string, JsonTree>();
    private DataBudget _budget = new(CancellationToken.None);

    /// <param name="problems">Takes what is wrong, with its place.</param>
    public Parts(ICollection<(JsonTree Tree, string Problem)> problems) => _problems = problems;

    /// <summary>Takes the parts of a file of the format hardy-ember/parts.</summary>
    public void Add(JsonTree file)
    {
        ArgumentNullException.ThrowIfNull(file);
        foreach (var (name, part) in file.Members.GetValueOrDefault("parts")?.Members ?? new Dictionary<string, JsonTree>())
        {
            if (part.Members.GetValueOrDefault("give") is not { Kind: JsonTokenType.StartArray })
            {
                _problems.Add((part, "a part needs a list \"give\""));
            }
            else if (!_parts.TryAdd(name, part))
            {
                _problems.Add((part, $"there are two parts \"{name}\""));
            }
        }
    }

    /// <summary>The same tree with every part put in.</summary>
    /// <param name="known">What may be named anywhere in it.</param>
    /// <param name="cancel">Nobody waits for it any more.</param>
    /// <exception cref="DataLimitException">It would be larger, deeper or more work than a file may be.</exception>
    public JsonTree Expand(JsonTree tree, IReadOnlyDictionary<string, JsonTree>? known = null, CancellationToken cancel = default)
    {
        ArgumentNullException.ThrowIfNull(tree);
        _budget = new DataBudget(cancel);
        _known = known ?? new Dictionary<string, JsonTree>();
        return Expand(tree, new Dictionary<string, JsonTree>(_known), 0) ?? tree;
    }

    // Null where a member is to be left out: its parameter has no value.
    private JsonTree? Expand(JsonTree tree, Dictionary<string, JsonTree> scope, int depth)
    {
        _budget.Spend(1, tree);
        switch (tree.Kind)
        {
            case JsonTokenType.StartArray:
                return tree.With([], tree.Items.SelectMany(i => Items(i, scope, depth)));
            case JsonTokenType.StartObject:
                return tree.With(tree.Members.Where(m => m.Key != "if").Select(m => (Fill(m.Key, m.Value, scope), Expand(m.Value, scope, depth)!))
                    .Where(m => m.Item2 is not null), []);
            case JsonTokenType.String when scope.Count > 0 && Whole().Match(tree.Text!) is { Success: true } whole && Value(whole.Groups[1].Value, scope) is { } value:
                _budget.Spend(value.Weight, tree);
                return value.Kind == JsonTokenType.Null ? null : value;
            case JsonTokenType.String when scope.Count > 0:
                return tree.With(Fill(tree.Text!, tree, scope));
            default:
                return tree;
        }
    }

    private IEnumerable<JsonTree> Items(JsonTree item, Dictionary<string, JsonTree> scope, int depth)
    {
        _budget.Spend(1, item);
        if (depth > DataLimits.DeepestParts)
        {
            _problems.Add((item, "parts use each other without an end"));
            return [];
        }

        if (item.Members.TryGetValue("if", out var test) && Expand(test, scope, depth) is null or { Kind: JsonTokenType.False } or { Text: "" }
            or { Kind: JsonTokenType.StartArray, Items.Count: 0 })
        {
            return [];
        }

        return item.Members.TryGetValue("use", out var name) ? Use(item, name.Text ?? "", scope, depth)
            : item.Members.TryGetValue("for", out var turn) ? Each(item, turn.Text ?? "", scope, depth)
            : Expand(item, scope, depth) is { } one ? [one] : [];
    }

    private IEnumerable<JsonTree> Use(JsonTree item, string name, Dictionary<string, JsonTree> scope, int depth)
    {
        if (!_parts.TryGetValue(name, out var part))
        {
            _problems.Add((item.Members["use"], $"there is no part \"{name}\"{Nearest.Hint(name, _parts.Keys)}"));
            return [];
        }

        var parameters = part.Members.GetValueOrDefault("with")?.Members ?? new Dictionary<string, JsonTree>();
        var given = new Dictionary<string, JsonTree>(_known);
        foreach (var (key, value) in item.Members.Where(m => m.Key is not ("use" or "if")))
        {
            if (!parameters.ContainsKey(key))
            {
                _problems.Add((value, $"the part \"{name}\" has no parameter \"{key}\"{Nearest.Hint(key, parameters.Keys)}"));
            }
            else if (Expand(value, scope, depth) is { } filled)
            {
                given[key] = filled;
            }
        }

        foreach (var (key, value) in parameters.Where(p => !given.ContainsKey(p.Key)))
        {
            if (value.Kind == JsonTokenType.String && value.Text == Required)
            {
                _problems.Add((item, $"the part \"{name}\" needs \"{key}\""));
            }

            // What a parameter is by itself may be said in terms of the ones before it.
            given[key] = Expand(value, given, depth) ?? value;
        }

        return part.Members["give"].Items.SelectMany(i => Items(i, given, depth + 1));
    }

    private IEnumerable<JsonTree> Each(JsonTree item, string turn, Dictionary<string, JsonTree> scope, int depth)
    {
        if (item.Members.GetValueOrDefault("in") is not { } list || Expand(list, scope, depth) is not { Kind: JsonTokenType.StartArray } all
            || item.Members.GetValueOrDefault("do") is not { Kind: JsonTokenType.StartArray } work)
        {
            _problems.Add((item, "\"for\" needs a list \"in\" and a list \"do\""));
            return [];
        }

        return all.Items.SelectMany((value, i) =>
        {
            _budget.Spend(1 + scope.Count, item);
            var inside = new Dictionary<string, JsonTree>(scope)
            {
                [turn] = value,
                [turn + "#"] = value.With((i + 1).ToString(CultureInfo.InvariantCulture), JsonTokenType.Number),
                [turn + "%"] = value.With(Math.Round((i + 1.0) / all.Items.Count, 4).ToString(CultureInfo.InvariantCulture), JsonTokenType.Number),
            };
            return work.Items.SelectMany(w => Items(w, inside, depth + 1));
        });
    }

    private static JsonTree? Value(string name, Dictionary<string, JsonTree> scope)
    {
        var path = name.Split('.');
        var value = scope.GetValueOrDefault(path[0]);
        if (value is null && scope.GetValueOrDefault(char.ToLowerInvariant(name[0]) + path[0][1..]) is { Text: { } text } small)
        {
            // The capital of what will be filled in later is the capital of its name.
            var at = text.StartsWith('{') ? 1 : 0;
            value = small.With(text.Length > at ? text[..at] + char.ToUpperInvariant(text[at]) + text[(at + 1)..] : text);
        }

        return path.Skip(1).Aggregate(value, (v, member) => v is null ? null : v.Members.GetValueOrDefault(member) ?? v.With("null", JsonTokenType.Null));
    }

    private string Fill(string text, JsonTree at, Dictionary<string, JsonTree> scope)
    {
        if (scope.Count == 0 || !text.Contains('{', StringComparison.Ordinal))
        {
            return text;
        }

        var length = text.Length;
        return Hole().Replace(text, m =>
        {
            if (Value(m.Groups[1].Value, scope) is not { } value)
            {
                return m.Value;
            }

            if (value.Text is null)
            {
                _problems.Add((at, $"\"{m.Value}\" is a list or an object and cannot stand within a text"));
            }

            var filled = value.Kind == JsonTokenType.Null ? "" : m.Groups[2].Length == 0 ? value.Text ?? "" : Apart(value.Text);
            length += filled.Length;
            _budget.Spend(filled.Length / 8, at);
            return length <= DataLimits.LongestText ? filled
                : throw new DataLimitException(at, $"the text grows longer than {DataLimits.LongestText} characters when its parameters are filled in");
        });
    }

    // A thousand is set apart, and never broken from its hundreds at the end of a line.
    private static string Apart(string? number) => double.TryParse(number, NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
        ? value.ToString("N0", CultureInfo.InvariantCulture).Replace(',', '\u00a0') : number ?? "";

    /// <summary>The default of a parameter that must be given.</summary>
    private const string Required = "!";

    [GeneratedRegex(@"^\{([A-Za-z][A-Za-z0-9]*[#%]?(?:\.[a-zA-Z0-9]+)*)\}$")]
    private static partial Regex Whole();

    [GeneratedRegex(@"\{([A-Za-z][A-Za-z0-9]*[#%]?(?:\.[a-zA-Z0-9]+)*)(,?)\}")]
    private static partial Regex Hole();
}
