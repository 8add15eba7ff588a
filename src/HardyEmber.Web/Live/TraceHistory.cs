using HardyEmber.Core.Conditions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Web.Live;

/// <summary>
/// What the traces of a page show of the past: engines and flight, looked at twice a second. A page that joins gets the last ten minutes so fine, and
/// as many points of all that was before.
/// </summary>
internal sealed class TraceHistory
{
    private const int EverySteps = 25, Fine = 1200;

    // Less than a pixel of the strips and plots: percent, degrees, feet, knots.
    private const double SpeedPct = 0.1, GasC = 1, HeightFt = 5, AirspeedKt = 0.2;
    private readonly (SignalInfo Signal, Trace Trace)[] _traces;
    private double _begun = double.NaN, _seen;

    public TraceHistory(Machine machine)
    {
        _traces = [.. machine.Aircraft.Engines.SelectMany(e => new[] { Of($"{e.Id}.n2", SpeedPct), Of($"{e.Id}.egt", GasC) }),
            Of("flight.height", HeightFt), Of("flight.eas", AirspeedKt)];
        (SignalInfo, Trace) Of(string name, double within) => (machine.Signals.Find(name)!, new Trace(within));
    }

    /// <summary>Looks at the machine; call before each step.</summary>
    public void Look(Machine machine)
    {
        if (machine.StepIndex % EverySteps != 0)
        {
            return;
        }

        (_begun, _seen) = (double.IsNaN(_begun) ? machine.Time : _begun, machine.Time);
        foreach (var (signal, trace) in _traces)
        {
            trace.Add(machine.Time, machine.Signals.Values[signal.Index]);
        }
    }

    public HistoryView View()
    {
        IReadOnlyList<float> times = double.IsNaN(_begun) ? [] : [.. Times()];
        return new(times, _traces.ToDictionary(t => t.Signal.Name, t => t.Trace.At(times)));
    }

    private IEnumerable<float> Times()
    {
        const double every = EverySteps * Steps.Seconds;
        var count = (int)Math.Round((_seen - _begun) / every) + 1;
        var old = Math.Max(0, count - Fine);
        for (var i = 0; i < Math.Min(old, Fine); i++)
        {
            yield return (float)(_begun + Math.Floor((double)i * Math.Max(old, Fine) / Fine) * every);
        }

        for (var i = old; i < count; i++)
        {
            yield return (float)(_begun + i * every);
        }
    }
}
