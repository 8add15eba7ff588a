namespace HardyEmber.Core.Conditions;

/// <summary>
/// A compiled truth test over the machine's signals. Built once from text by <see cref="ConditionParser"/>,
/// evaluated many times without allocating. Conditions are the only coupling between the data files and the
/// systems, so what the simulation obeys and what the guide explains cannot differ.
/// </summary>
public abstract class Condition
{
    /// <summary>Whether the condition holds for these signal values (indexed by the signal table).</summary>
    public abstract bool Holds(double[] values);

    /// <summary>Adds every elementary test that is keeping the condition from holding, nearest first.</summary>
    public abstract void CollectUnmet(double[] values, bool wanted, ICollection<Atom> into);

    /// <summary>Every signal index the condition reads.</summary>
    public abstract IEnumerable<int> Inputs { get; }

    /// <summary>The elementary tests that are unmet, in the order written.</summary>
    public IReadOnlyList<Atom> Unmet(double[] values)
    {
        var list = new List<Atom>();
        if (!Holds(values))
        {
            CollectUnmet(values, true, list);
        }

        return list;
    }

    /// <summary>The condition that always holds.</summary>
    public static Condition Always { get; } = new Constant(true);

    private sealed class Constant(bool value) : Condition
    {
        public override bool Holds(double[] values) => value;
        public override void CollectUnmet(double[] values, bool wanted, ICollection<Atom> into) { }
        public override IEnumerable<int> Inputs => [];
    }
}

/// <summary>An elementary test on one signal, kept with its text so that it can be shown to the pilot.</summary>
public abstract class Atom(int signal, string signalName, string text) : Condition
{
    public int Signal { get; } = signal;
    public string SignalName { get; } = signalName;

    /// <summary>The test as written in the data file, e.g. <c>right.n2 &gt;= 21</c>.</summary>
    public string Text { get; } = text;

    /// <summary>The signal compared with, or −1.</summary>
    public virtual int Other => -1;

    /// <summary>The test as a half-open range: low ≤ value &lt; high (value minus the other signal, where there is one).</summary>
    public abstract (double Low, double High) Range { get; }

    public override IEnumerable<int> Inputs => Other >= 0 ? [Signal, Other] : [Signal];

    public override bool Holds(double[] values)
    {
        var v = Other >= 0 ? values[Signal] - values[Other] : values[Signal];
        return v >= Range.Low && v < Range.High;
    }

    public override void CollectUnmet(double[] values, bool wanted, ICollection<Atom> into)
    {
        if (Holds(values) != wanted)
        {
            into.Add(this);
        }
    }
}

internal sealed class FlagAtom(int signal, string name) : Atom(signal, name, name)
{
    public override (double, double) Range => (0.5, double.PositiveInfinity);
}

internal sealed class PositionAtom(int signal, string name, int position, string text) : Atom(signal, name, text)
{
    // Positions are small integers stored as doubles; the tolerance costs nothing and forgives nothing else.
    public override (double, double) Range => (position - 0.5, position + 0.5);
}

internal enum Comparison { Less, LessOrEqual, Greater, GreaterOrEqual }

/// <summary>A signal against a level, or against another signal (then the level is 0).</summary>
internal sealed class LevelAtom(int signal, string name, Comparison comparison, double level, int other, string text)
    : Atom(signal, name, text)
{
    public override int Other => other;

    // "Greater than" is "at least the next number up": exact, and one kind of test for all.
    public override (double, double) Range => comparison switch
    {
        Comparison.Less => (double.NegativeInfinity, level),
        Comparison.LessOrEqual => (double.NegativeInfinity, Math.BitIncrement(level)),
        Comparison.Greater => (Math.BitIncrement(level), double.PositiveInfinity),
        _ => (level, double.PositiveInfinity),
    };
}

internal sealed class NotNode(Condition inner) : Condition
{
    public Condition Inner => inner;
    public override bool Holds(double[] values) => !inner.Holds(values);
    public override void CollectUnmet(double[] values, bool wanted, ICollection<Atom> into) => inner.CollectUnmet(values, !wanted, into);
    public override IEnumerable<int> Inputs => inner.Inputs;
}

internal sealed class JoinNode(bool all, Condition[] parts) : Condition
{
    public bool All => all;
    public Condition[] Parts => parts;

    public override bool Holds(double[] values)
    {
        foreach (var part in parts)
        {
            if (part.Holds(values) != all)
            {
                return !all;
            }
        }

        return all;
    }

    public override void CollectUnmet(double[] values, bool wanted, ICollection<Atom> into)
    {
        foreach (var part in parts)
        {
            part.CollectUnmet(values, wanted, into);
        }
    }

    public override IEnumerable<int> Inputs => parts.SelectMany(p => p.Inputs);
}
