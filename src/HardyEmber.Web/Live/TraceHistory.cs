using HardyEmber.Core.Conditions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Web.Live;

/// <summary>
/// What the traces of a page show of the past: engines and flight, twice a second at first. When it is full, every second point
/// of the older half is dropped, so that six hours take no more room than twenty minutes.
/// </summary>
internal sealed class TraceHistory
{
    private const int EverySteps = 25;
    private const int Most = 2400;
    private readonly SignalInfo[] _signals;
    private readonly List<float> _t = [];
    private readonly List<float>[] _values;

    public TraceHistory(Machine machine)
    {
        _signals = [.. machine.Aircraft.Engines.SelectMany(e => new[] { $"{e.Id}.n2", $"{e.Id}.egt" }).Append("flight.height").Append("flight.eas").Select(n => machine.Signals.Find(n)!)];
        _values = [.. _signals.Select(_ => new List<float>())];
    }

    /// <summary>Looks at the machine; call before each step.</summary>
    public void Look(Machine machine)
    {
        if (machine.StepIndex % EverySteps != 0)
        {
            return;
        }

        if (_t.Count >= Most)
        {
            Thin(_t);
            Array.ForEach(_values, Thin);
        }

        _t.Add((float)machine.Time);
        for (var i = 0; i < _signals.Length; i++)
        {
            _values[i].Add((float)Math.Round(machine.Signals.Values[_signals[i].Index], 1));
        }
    }

    public HistoryView View() => new([.. _t], _signals.Zip(_values).ToDictionary(p => p.First.Name, p => (IReadOnlyList<float>)[.. p.Second]));

    private static void Thin(List<float> points)
    {
        var kept = 0;
        for (var i = 0; i < points.Count; i++)
        {
            if (i >= Most / 2 || i % 2 == 0)
            {
                points[kept++] = points[i];
            }
        }

        points.RemoveRange(kept, points.Count - kept);
    }
}
