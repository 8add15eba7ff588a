using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace HardyEmber.Core.Conditions;

/// <summary>
/// Keeps the truth of many conditions up to date for a few comparisons: every signal that one of them reads stands in a
/// band between two neighbouring levels that it is compared with. While all stay in their bands no condition can change,
/// and none is asked. A property test holds it against asking them all.
/// </summary>
public sealed class ConditionWatch
{
    private const int Together = 4;
    private readonly Plan _plan;
    private readonly double[] _low, _high;
    private readonly bool[] _true, _due;
    private readonly int[] _asked;
    private int _askedCount;
    private bool _begun;

    public ConditionWatch(Plan plan)
    {
        _plan = plan ?? throw new ArgumentNullException(nameof(plan));
        (_low, _high) = (new double[plan.Signals.Length], new double[plan.Signals.Length]); // empty bands: every input moves at the first look
        var count = plan.Programs.Length;
        (_true, _due, _asked) = (new bool[count], new bool[count], new int[count]);
        for (; _askedCount < count; _askedCount++)
        {
            (_due[_askedCount], _asked[_askedCount]) = (true, _askedCount);
        }
    }

    /// <summary>How many looks found a signal in another band: while it stays, no condition has changed, nor any part of one.</summary>
    public long Moves { get; private set; }

    /// <summary>Whether a condition held at the last look.</summary>
    public bool this[int condition] => _true[condition];

    /// <summary>Looks at the signals; returns the conditions whose truth is another than at the last look, in no order; they are gone with the next look.</summary>
    /// <param name="hands">Whether hands were at work since: where they were not, what only they move is passed over.</param>
    public ReadOnlySpan<int> Look(double[] values, bool hands = true)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(values.Length, _plan.Reach);
        // The innermost loop of every run: the plan has vouched for its indices, and the check above for the table.
        ref var value = ref MemoryMarshal.GetArrayDataReference(values);
        ref var signal = ref MemoryMarshal.GetArrayDataReference(_plan.Signals);
        ref var low = ref MemoryMarshal.GetArrayDataReference(_low);
        ref var high = ref MemoryMarshal.GetArrayDataReference(_high);
        var moved = false;
        nint single = _low.Length - _plan.Others.Length;
        var looked = hands || !_begun ? single : single - _plan.ByHand;
        _begun = true;
        for (nint i = 0; i < looked; i += Together)
        {
            var v = Four(ref value, ref Unsafe.Add(ref signal, i));
            if (!Inside(v, ref Unsafe.Add(ref low, i), ref Unsafe.Add(ref high, i)))
            {
                moved = true;
                Move(v, (int)i);
            }
        }

        ref var other = ref MemoryMarshal.GetArrayDataReference(_plan.Others);
        for (var i = single; i < _low.Length; i += Together)
        {
            var v = Four(ref value, ref Unsafe.Add(ref signal, i)) - Four(ref value, ref Unsafe.Add(ref other, i - single));
            if (!Inside(v, ref Unsafe.Add(ref low, i), ref Unsafe.Add(ref high, i)))
            {
                moved = true;
                Move(v, (int)i);
            }
        }

        if (!moved)
        {
            return [];
        }

        Moves++;
        return Ask(values);
    }

    // Loaded one by one: the instruction that gathers four is slower.
    private static Vector256<double> Four(ref double value, ref int at) => Vector256.Create(Unsafe.Add(ref value, at), Unsafe.Add(ref value, Unsafe.Add(ref at, 1)),
        Unsafe.Add(ref value, Unsafe.Add(ref at, 2)), Unsafe.Add(ref value, Unsafe.Add(ref at, 3)));

    private static bool Inside(Vector256<double> v, ref double low, ref double high) =>
        (Vector256.GreaterThanOrEqual(v, Vector256.LoadUnsafe(ref low)) & Vector256.LessThan(v, Vector256.LoadUnsafe(ref high)))
            .ExtractMostSignificantBits() == (1 << Together) - 1;

    private void Move(Vector256<double> four, int first)
    {
        for (var i = 0; i < Together; i++)
        {
            var v = four[i];
            if (!(v >= _low[first + i] && v < _high[first + i]))
            {
                Move(first + i, v);
            }
        }
    }

    private void Move(int input, double v)
    {
        var levels = _plan.Levels[input];
        var above = 0;
        while (above < levels.Length && v >= levels[above])
        {
            above++;
        }

        _low[input] = above > 0 ? levels[above - 1] : double.NegativeInfinity;
        _high[input] = above < levels.Length ? levels[above] : double.PositiveInfinity;
        foreach (var condition in _plan.Readers[input])
        {
            if (!_due[condition])
            {
                _due[condition] = true;
                _asked[_askedCount++] = condition;
            }
        }
    }

    private ReadOnlySpan<int> Ask(double[] values)
    {
        // What has changed takes the place of what was asked: it is never ahead of it.
        var count = 0;
        foreach (var i in _asked.AsSpan(0, _askedCount))
        {
            _due[i] = false;
            var now = _plan.Programs[i].Holds(values);
            if (now != _true[i])
            {
                _true[i] = now;
                _asked[count++] = i;
            }
        }

        _askedCount = 0;
        return _asked.AsSpan(0, count);
    }

    /// <summary>What is watched: the same for every machine with the same conditions, so it is made once and shared.</summary>
    public sealed class Plan
    {
        /// <param name="byHand">Whether a signal moves by hands alone.</param>
        public Plan(IReadOnlyList<ConditionProgram> programs, Func<int, bool>? byHand = null)
        {
            ArgumentNullException.ThrowIfNull(programs);
            Programs = [.. programs];
            var inputs = new Dictionary<(int Signal, int Other), (SortedSet<double> Levels, HashSet<int> Readers)>();
            for (var i = 0; i < Programs.Length; i++)
            {
                foreach (var (signal, other, low, high) in Programs[i].Ranges)
                {
                    if (!inputs.TryGetValue((signal, other), out var input))
                    {
                        inputs[(signal, other)] = input = ([], []);
                    }

                    input.Readers.Add(i);
                    input.Levels.UnionWith(new[] { low, high }.Where(double.IsFinite));
                }
            }

            // Single signals first, those that hands move after those that move by themselves; then differences of two.
            var kinds = inputs.OrderBy(p => p.Key).ToLookup(p => p.Key.Other >= 0 ? Kind.Difference : byHand?.Invoke(p.Key.Signal) == true ? Kind.ByHand : Kind.Free,
                p => new Input(p.Key.Signal, p.Key.Other, [.. p.Value.Levels], [.. p.Value.Readers]));
            var (free, hands, two) = (Fill(kinds[Kind.Free]), Fill(kinds[Kind.ByHand]), Fill(kinds[Kind.Difference]));
            List<Input> ordered = [.. free, .. hands, .. two];
            ByHand = hands.Count;
            Signals = [.. ordered.Select(i => i.Signal)];
            Others = [.. two.Select(i => i.Other)];
            Reach = Signals.Concat(Others).DefaultIfEmpty(-1).Max() + 1;
            Levels = [.. ordered.Select(i => i.Levels)];
            Readers = [.. ordered.Select(i => i.Readers)];
        }

        private enum Kind { Free, ByHand, Difference }

        private sealed record Input(int Signal, int Other, double[] Levels, int[] Readers);

        // To whole groups of those looked at together, with what nobody reads.
        private static List<Input> Fill(IEnumerable<Input> inputs)
        {
            List<Input> filled = [.. inputs];
            while (filled.Count % Together > 0)
            {
                filled.Add(filled[0] with { Levels = [], Readers = [] });
            }

            return filled;
        }

        internal ConditionProgram[] Programs { get; }
        internal int[] Signals { get; }

        /// <summary>How many of the single signals move by hands alone, a multiple of <see cref="Together"/> like the others.</summary>
        internal int ByHand { get; }

        /// <summary>How many values there must be.</summary>
        internal int Reach { get; }

        /// <summary>What is taken off the last of <see cref="Signals"/>.</summary>
        internal int[] Others { get; }
        internal double[][] Levels { get; }
        internal int[][] Readers { get; }
    }
}
