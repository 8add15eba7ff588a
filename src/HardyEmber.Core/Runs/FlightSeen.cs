using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Runs;

/// <summary>When the engine that a flight is about went out and when it idled again, and how high that was: seen while it is flown.</summary>
public sealed class FlightSeen
{
    private readonly Machine _machine;
    private readonly int _lit, _n2, _height, _aboveDecision;
    private readonly double _idleN2Pct;
    private double? _aboveFt;

    internal FlightSeen(Machine machine, RunFlight flight)
    {
        _machine = machine;
        Engine = machine.Header.RestartEngine(machine.Aircraft);
        _idleN2Pct = machine.Aircraft.EngineOf(Engine).IdleN2Pct - RelightOutlook.IdleBandPct;
        (_lit, _n2, _height, _aboveDecision) = (Of($"{Engine}.lit"), Of($"{Engine}.n2"), Of("flight.height"), Of("flight.above-decision"));
        (OutS, OutFt) = (flight.Dead == RunFlight.NoneDead ? null : 0, flight.HeightFt);

        int Of(string name) => machine.Signals.Find(name)!.Index;
    }

    /// <summary>The engine that it is about. Whoever still flies is to find out for himself.</summary>
    public string Engine { get; }

    /// <summary>When its flame was out, s: the beginning, or the first flame-out; null where none ever was.</summary>
    public double? OutS { get; private set; }

    /// <summary>Height then, ft.</summary>
    public double OutFt { get; private set; }

    /// <summary>The step of the machine then.</summary>
    public long OutStep { get; private set; }

    /// <summary>Height at the light that came to something, ft; null where none did, or has not yet.</summary>
    public double? LitFt { get; private set; }

    /// <summary>Height at idle, ft.</summary>
    public double? IdleFt { get; private set; }

    /// <summary>Seconds from the flame-out to idle.</summary>
    public double? IdleS { get; private set; }

    /// <summary>Height above the decision height at idle, ft; as it is now where idle never came.</summary>
    public double AboveFt => _aboveFt ?? _machine.Signals.Values[_aboveDecision];

    /// <summary>Looks at the machine as it stands.</summary>
    internal void Look()
    {
        var values = _machine.Signals.Values;
        var (burns, heightFt) = (values[_lit] > 0.5, values[_height]);
        if (OutS is null && !burns)
        {
            (OutS, OutFt, OutStep) = (_machine.Time, heightFt, _machine.StepIndex);
        }
        else if (OutS is { } outS && IdleFt is null)
        {
            LitFt = burns ? LitFt ?? heightFt : null;
            if (burns && values[_n2] >= _idleN2Pct)
            {
                (IdleFt, IdleS, _aboveFt) = (heightFt, _machine.Time - outS, values[_aboveDecision]);
            }
        }
    }
}
