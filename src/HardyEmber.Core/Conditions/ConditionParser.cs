using System.Globalization;
using System.Text.RegularExpressions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Conditions;

/// <summary>
/// Reads the small condition language of the data files:
/// <code>
/// or-expression  := and-expression { "or" and-expression }
/// and-expression := term { "and" term }
/// term           := "not" term | "(" or-expression ")" | "seen" NAME
///                 | NAME "is" ["not"] POSITION | NAME (&lt; | &lt;= | &gt; | &gt;=) (NUMBER | NAME) | NAME
/// </code>
/// Names are those of the signal table: controls (<c>battery</c>), signals (<c>right.n2</c>), lamps (<c>lamp.oil-right</c>).
/// </summary>
public sealed partial class ConditionParser
{
    private readonly IVocabulary _signals;
    private readonly List<string> _tokens;
    private readonly string _text;
    private int _at, _deep;

    private ConditionParser(string text, IVocabulary signals)
    {
        _text = text;
        _signals = signals;
        _tokens = [.. Token().Matches(text).Take(DataLimits.MostTokens + 1).Select(m => m.Value)];
        if (_tokens.Count > DataLimits.MostTokens)
        {
            throw new FormatException($"condition \"{text[..40]}…\" has more than {DataLimits.MostTokens} words and signs");
        }

        if (Token().Replace(text, "").Trim().Length > 0)
        {
            throw new FormatException($"condition \"{text}\" holds a character that no condition uses");
        }
    }

    /// <summary>Compiles a condition; an empty or missing text always holds.</summary>
    /// <exception cref="FormatException">The text is malformed or names a signal or position that does not exist.</exception>
    public static Condition Parse(string? text, IVocabulary signals)
    {
        if (string.IsNullOrWhiteSpace(text))
        {
            return Condition.Always;
        }

        var parser = new ConditionParser(text, signals);
        var result = parser.Or();
        return parser._at == parser._tokens.Count ? result : throw parser.Error($"unexpected \"{parser.Peek}\"");
    }

    private string? Peek => _at < _tokens.Count ? _tokens[_at] : null;

    private string Next() => _at < _tokens.Count ? _tokens[_at++] : throw Error("ends too early");

    private bool Take(string token)
    {
        if (Peek != token)
        {
            return false;
        }

        _at++;
        return true;
    }

    private FormatException Error(string what) => new($"condition \"{_text}\": {what}");

    private Condition Or() => Join(And, "or", all: false);

    private Condition And() => Join(Term, "and", all: true);

    private Condition Join(Func<Condition> part, string word, bool all)
    {
        var parts = new List<Condition> { part() };
        while (Take(word))
        {
            parts.Add(part());
        }

        return parts.Count == 1 ? parts[0] : new JoinNode(all, [.. parts]);
    }

    // "not" and brackets lead deeper; a text that only opens them must not use up the stack.
    private Condition Deeper(Func<Condition> part)
    {
        if (_deep == DataLimits.DeepestCondition)
        {
            throw Error($"brackets and \"not\" stand more than {DataLimits.DeepestCondition} deep within each other");
        }

        _deep++;
        var inner = part();
        _deep--;
        return inner;
    }

    private Condition Term()
    {
        if (Take("not"))
        {
            return new NotNode(Deeper(Term));
        }

        if (Take("("))
        {
            var inner = Deeper(Or);
            return Take(")") ? inner : throw Error("\")\" is missing");
        }

        if (Take("seen"))
        {
            var seen = Next();
            return new FlagAtom(Signal(SignalTable.SeenPrefix + Signal(seen).Name).Index, SignalTable.SeenPrefix + seen);
        }

        var name = Next();
        var signal = Signal(name);
        if (Take("is"))
        {
            var not = Take("not");
            var word = Next();
            var position = signal.PositionOf(word);
            if (position < 0)
            {
                throw Error($"\"{name}\" has no position \"{word}\" ({string.Join(", ", signal.Positions)})");
            }

            var atom = new PositionAtom(signal.Index, name, position, $"{name} is {word}");
            return not ? new NotNode(atom) : atom;
        }

        if (Peek is "<" or "<=" or ">" or ">=")
        {
            var sign = Next();
            var comparison = sign switch
            {
                "<" => Comparison.Less,
                "<=" => Comparison.LessOrEqual,
                ">" => Comparison.Greater,
                _ => Comparison.GreaterOrEqual,
            };
            var right = Next();
            var text = $"{name} {sign} {right}";
            return double.TryParse(right, NumberStyles.Float, CultureInfo.InvariantCulture, out var level)
                ? new LevelAtom(signal.Index, name, comparison, level, -1, text)
                : new LevelAtom(signal.Index, name, comparison, 0, Signal(right).Index, text);
        }

        return signal.Kind == SignalKind.Flag
            ? new FlagAtom(signal.Index, name)
            : throw Error($"\"{name}\" is not a yes-or-no signal; compare it or say \"is\"");
    }

    private SignalInfo Signal(string name) =>
        _signals.Find(name) ?? throw Error($"there is no control, signal or lamp \"{name}\"{Nearest.Hint(name, _signals.Names)}");

    [GeneratedRegex(@"<=|>=|<|>|\(|\)|-?\d+(?:\.\d+)?|[a-z][a-z0-9.\-]*")]
    private static partial Regex Token();
}
