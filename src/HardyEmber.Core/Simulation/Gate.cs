namespace HardyEmber.Core.Simulation;

/// <summary>How a gate holds its signal.</summary>
public enum GateKind
{
    /// <summary>The flag is the condition, read anew at every decision; a fault can only take it away.</summary>
    Is,

    /// <summary>The flag comes up only while the condition holds, and may stay when it goes.</summary>
    Comes,

    /// <summary>The flag goes out only while the condition holds; what brings it up is something that happens.</summary>
    Goes,

    /// <summary>The number moves towards what is wanted only while the condition holds.</summary>
    Moves,

    /// <summary>The condition puts the flag out, or keeps it from coming; other things may as well.</summary>
    Ends,

    /// <summary>The condition moves a control back from one of its positions.</summary>
    Springs,
}

/// <summary>
/// What a signal rests on. It is made of the very switches that its system obeys, so what is explained is what decides; where a switch
/// is in no gate, the first machine of the aircraft is not built.
/// </summary>
/// <param name="Signal">What it holds: a flag, a number, or for <see cref="GateKind.Springs"/> a control.</param>
/// <param name="Text">The whole condition in the condition language.</param>
/// <param name="Where">Its place in the aircraft's file.</param>
/// <param name="Label">What it gives, in the pilot's words.</param>
/// <param name="Remedy">What to do besides, where hands alone do not cure it; null where they do.</param>
/// <param name="Aside">It comes with something else: nobody moves a switch for it.</param>
/// <param name="Position">For <see cref="GateKind.Springs"/>: the position that is left.</param>
public sealed record Gate(string Signal, GateKind Kind, string Text, string Where, string Label, string? Remedy = null, string? Position = null, bool Aside = false);

/// <summary>A part of a gate's condition.</summary>
public abstract class Term
{
    /// <summary>In the condition language; empty where it always holds.</summary>
    public abstract string Text { get; }

    /// <summary>The switches in it.</summary>
    internal abstract IEnumerable<Switch> Switches { get; }

    /// <summary>A flag or number of the machine that a system goes by within its own step, where no switch can be as quick.</summary>
    public static Term Fact(string text) => new Stated(text, []);

    public static Term All(params Term?[] terms) => Join(" and ", terms);

    public static Term Any(params Term?[] terms) => Join(" or ", terms);

    public static Term Not(Term term)
    {
        ArgumentNullException.ThrowIfNull(term);
        return new Stated($"not ({term.Text})", [.. term.Switches]);
    }

    // What always holds adds nothing to "all" and decides "any".
    private static Stated Join(string word, Term?[] terms)
    {
        List<Term> some = [.. terms.OfType<Term>()];
        var open = some.RemoveAll(t => string.IsNullOrWhiteSpace(t.Text));
        return new Stated(open > 0 && word == " or " ? "" : string.Join(word, some.Select(t => $"({t.Text})")), [.. terms.OfType<Term>().SelectMany(t => t.Switches)]);
    }

    private sealed class Stated(string text, IReadOnlyList<Switch> switches) : Term
    {
        public override string Text => text;
        internal override IEnumerable<Switch> Switches => switches;
    }
}

/// <summary>What a switch says; the same on every machine of an aircraft.</summary>
/// <param name="Where">Where in the data file it stands, for errors.</param>
internal sealed record SwitchWords(string Text, string Where);

/// <summary>A condition a system obeys, with its cached truth. Kept up to date by the machine, read in the step.</summary>
public sealed class Switch : Term
{
    internal Switch(SwitchWords words) => (Words, On) = (words, string.IsNullOrWhiteSpace(words.Text));

    internal SwitchWords Words { get; }
    public override string Text => Words.Text;
    public string Where => Words.Where;
    public bool On { get; internal set; }
    internal override IEnumerable<Switch> Switches => [this];
}
