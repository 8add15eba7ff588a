namespace HardyEmber.Core.Systems;

/// <summary>The fuel control of a core, and the look two seconds ahead that rests on it.</summary>
public sealed partial class Engine
{
    /// <summary>The acceleration schedule of a running engine in shares of the fuel that holds its present speed; how far below the start limit it keeps; from how far below idle it holds.</summary>
    private const double LeastAcceleration = 1.05, MostAcceleration = 1.3, AccelerationBelowLimitC = 60, RunningFromPct = 4;

    /// <summary>The leanest that a core above idle is given, well over what puts its flame out.</summary>
    private const double DecelerationMixture = 0.22;

    /// <summary>The moment that stands for the two seconds ahead, when it is asked how much air the heat will meet.</summary>
    private const double AheadMeanS = 1.2;

    /// <summary>A flame smaller than this says too little of the heat to come.</summary>
    private const double LeastFlame = 0.1;

    /// <summary>The temperature two seconds ahead, from its slope and the known lags of gas and gauge (the gauge's own lag taken out).</summary>
    public double AheadC { get; private set; }

    /// <summary>The least and the most that the temperature may be two seconds ahead: the flame spreads no further, or all the heat not yet lit still comes.</summary>
    public double AheadLowC { get; private set; }

    /// <inheritdoc cref="AheadLowC"/>
    public double AheadHighC { get; private set; }

    /// <summary>The start schedule at a speed on a standard day, in idle flows.</summary>
    private double Schedule(double n2) => _d.Fuel.FloorRatio + Math.Max(0, _fuelSlope * (n2 - _d.Fuel.SlopeFromN2Pct));

    // The start schedule ends at idle: above it, fuel follows the running line (what holds the present speed) with a margin, as long
    // as more speed is asked for; less of a margin where thin air would make that too hot.
    private double RunningFeed(double sigma)
    {
        if (InStartCycle || N2Pct <= _d.IdleN2Pct - RunningFromPct || In.TargetN2Pct <= _d.IdleN2Pct)
        {
            return 0;
        }

        var holds = Drag(N2Pct, sigma, _viscosity) / (_turbineGain * Shape(N2Pct));
        var cool = (_d.StartLimitC - AccelerationBelowLimitC - In.AirC) / (_d.IdleGasC - 15) * _airflow;
        return Math.Clamp(cool, LeastAcceleration * holds, MostAcceleration * holds);
    }

    // The acceleration schedule, clipped by the governor.
    private double WantedFuel()
    {
        var schedule = Schedule(N2Pct) * _fuelDensity;
        schedule = Math.Max(schedule, _runningFeed) * Faults.FuelTrim;
        if (_stagnant && In.TargetN2Pct > _d.IdleN2Pct + 5)
        {
            schedule *= 1 + _d.Stagnation!.NudgeGain;
        }

        // A lever pulled back at full power must not starve the flame: what is given falls with the air, not at once.
        var least = Math.Max(0.25 * _governorFeed, N2Pct > _d.IdleN2Pct ? DecelerationMixture * _airflow : 0);
        var governed = Math.Max(_governorFeed + 0.09 * (In.TargetN2Pct - N2Pct), least);
        return Math.Min(Math.Min(schedule, governed), _d.Fuel.MaxRatio);
    }

    private void Project(double slope, double dt)
    {
        // The slope tells the heat now released (first-order gas lag); while the flame still spreads round the combustor,
        // the heat to come is larger by the share not yet lit. What of it arrives within two seconds is the projection.
        var released = GasC + slope * _d.Gas.LagS;
        var full = Lit && _flame < 1 ? In.AirC + (released - In.AirC) / Math.Max(_flame - 0.5 * dt / LightRoundS, LeastFlame) : released;
        // A core that accelerates has more air for it by then, and a little more fuel.
        var ease = Ease();
        (released, full) = (In.AirC + (released - In.AirC) * ease, In.AirC + (full - In.AirC) * ease);
        // Least: the flame spreads no further. Most: all that is not yet lit still comes.
        AheadLowC = GasC + (released - GasC) * _aheadShare;
        AheadHighC = GasC + (full - GasC) * _aheadShare;
        AheadC = AheadLowC + _d.Gas.AheadTrust * (AheadHighC - AheadLowC);
    }

    // What becomes of the heat of one flow by then: more air, and a little more fuel.
    private double Ease()
    {
        if (!Lit || _accel <= 0)
        {
            return 1;
        }

        var soon = N2Pct + _accel * AheadMeanS;
        var air = (N2Pct + _d.Gas.AirflowOffsetN2Pct) / (soon + _d.Gas.AirflowOffsetN2Pct);
        return air * Schedule(soon) / Schedule(N2Pct);
    }
}
