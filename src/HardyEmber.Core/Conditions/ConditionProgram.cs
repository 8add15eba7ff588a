namespace HardyEmber.Core.Conditions;

/// <summary>
/// A condition flattened for the step loop: range tests on signals joined by jumps, evaluated without a virtual call. The
/// tree (<see cref="Condition"/>) stays for explanations; a property test holds the two together.
/// </summary>
public sealed class ConditionProgram
{
    private const int True = -1;
    private const int False = -2;

    // lo ≤ v < hi; for a pair of signals, lo ≤ v − w < hi.
    private readonly record struct Test(int Signal, int Other, double Low, double High, int IfTrue, int IfFalse);

    private readonly Test[] _tests;
    private readonly int _entry;

    private ConditionProgram(Test[] tests, int entry) => (_tests, _entry) = (tests, entry);

    /// <summary>The ranges it tests: a signal, or the difference of two (−1 where there is one only), low ≤ value &lt; high.</summary>
    public IEnumerable<(int Signal, int Other, double Low, double High)> Ranges => _tests.Select(t => (t.Signal, t.Other, t.Low, t.High));

    public bool Holds(double[] values)
    {
        var at = _entry;
        while (at >= 0)
        {
            ref readonly var test = ref _tests[at];
            var v = values[test.Signal];
            if (test.Other >= 0)
            {
                v -= values[test.Other];
            }

            at = v >= test.Low && v < test.High ? test.IfTrue : test.IfFalse;
        }

        return at == True;
    }

    public static ConditionProgram Compile(Condition condition)
    {
        var tests = new List<Test>();
        var entry = Emit(condition, True, False, tests);
        return new ConditionProgram([.. tests], entry);
    }

    // Written from the back: what comes next is known before what comes first.
    private static int Emit(Condition condition, int ifTrue, int ifFalse, List<Test> into)
    {
        switch (condition)
        {
            case NotNode not:
                return Emit(not.Inner, ifFalse, ifTrue, into);
            case JoinNode join:
                var next = join.All ? ifTrue : ifFalse;
                for (var i = join.Parts.Length - 1; i >= 0; i--)
                {
                    next = join.All ? Emit(join.Parts[i], next, ifFalse, into) : Emit(join.Parts[i], ifTrue, next, into);
                }

                return next;
            case Atom atom:
                var (low, high) = atom.Range;
                into.Add(new Test(atom.Signal, atom.Other, low, high, ifTrue, ifFalse));
                return into.Count - 1;
            default:
                return condition.Holds([]) ? ifTrue : ifFalse;
        }
    }
}
