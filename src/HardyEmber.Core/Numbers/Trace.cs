namespace HardyEmber.Core.Numbers;

/// <summary>
/// A signal's past in few points: the lines between them pass what was seen within a tolerance. It doubles where the points become too many.
/// </summary>
/// <param name="within">The tolerance at first, in the signal's unit.</param>
public sealed class Trace(double within)
{
    /// <summary>Points that are kept at most.</summary>
    public const int Most = 1000;

    private readonly List<(float T, float V)> _kept = [];
    private (float T, float V) _last;
    private double _within = within, _least, _steepest;

    /// <summary>What was kept, and the last that was seen.</summary>
    public int Count => _kept.Count + (_kept.Count > 0 && _last.T > _kept[^1].T ? 1 : 0);

    /// <summary>Takes the next value. What is no later than the one before is not taken.</summary>
    /// <param name="t">Seconds.</param>
    public void Add(double t, double value)
    {
        if (_kept.Count == Most)
        {
            Thin();
        }

        var point = (T: (float)t, V: (float)value);
        if (_kept.Count == 0)
        {
            Keep(point);
        }
        else if (point.T > _last.T)
        {
            // Of all lines from the last kept point those remain that pass everything seen since; one to here must be among them.
            var slope = Slope(point, 0);
            if (slope < _least || slope > _steepest)
            {
                Keep(_last);
            }

            (_least, _steepest, _last) = (Math.Max(_least, Slope(point, -_within)), Math.Min(_steepest, Slope(point, _within)), point);
        }
    }

    /// <summary>The values at these times, in seconds and in order; before the first it is what it was then.</summary>
    public IReadOnlyList<float> At(IReadOnlyList<float> times)
    {
        ArgumentNullException.ThrowIfNull(times);
        var found = new float[times.Count];
        for (int i = 0, next = 0; i < found.Length; i++)
        {
            while (next < Count && Point(next).T < times[i])
            {
                next++;
            }

            var (before, after) = (Point(Math.Max(0, next - 1)), Point(Math.Min(next, Count - 1)));
            found[i] = (float)Math.Round(after.T > before.T ? before.V + (after.V - before.V) * (times[i] - before.T) / (after.T - before.T) : after.V, 1);
        }

        return found;
    }

    private (float T, float V) Point(int at) => at < _kept.Count ? _kept[at] : _last;

    private double Slope((float T, float V) to, double off) => (to.V + off - _kept[^1].V) / ((double)to.T - _kept[^1].T);

    private void Keep((float T, float V) point)
    {
        _kept.Add(point);
        (_last, _least, _steepest) = (point, double.NegativeInfinity, double.PositiveInfinity);
    }

    private void Thin()
    {
        (float T, float V)[] points = [.. _kept, _last];
        _kept.Clear();
        _within *= 2;
        foreach (var (t, value) in points)
        {
            Add(t, value);
        }
    }
}
