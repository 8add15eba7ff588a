namespace HardyEmber.Core.Systems;

/// <summary>The fuel control of a core.</summary>
public sealed partial class Engine
{
    /// <summary>The acceleration schedule of a running engine in shares of the fuel that holds its present speed; how far below the start limit it keeps; from how far
    /// below idle it holds.</summary>
    private const double LeastAcceleration = 1.12, MostAcceleration = 1.6, AccelerationBelowLimitC = 40, RunningFromPct = 4;

    /// <summary>The leanest that a core above idle is given, well over what puts its flame out.</summary>
    private const double DecelerationMixture = 0.22;

    /// <summary>Idle flows for each percent that the core is slower than asked.</summary>
    private const double GovernorGain = 0.09;

    /// <summary>What the governor aims at: less while air is taken from the core.</summary>
    private double TargetPct => In.TargetN2Pct - _curves.BleedTargetPct * In.Bleed;

    /// <summary>The start schedule at a speed on a standard day, in idle flows.</summary>
    private double Schedule(double n2) => _d.Fuel.FloorRatio + Math.Max(0, _fuelSlope * (n2 - _d.Fuel.SlopeFromN2Pct));

    // The start schedule ends at idle: above it, fuel follows the running line (what holds the present speed) with a margin, as long
    // as more speed is asked for; less of a margin where thin air would make that too hot.
    private double RunningFeed(double sigma)
    {
        if (InStartCycle || N2Pct <= _d.IdleN2Pct - RunningFromPct || TargetPct <= _d.IdleN2Pct)
        {
            return 0;
        }

        var holds = Drag(N2Pct, sigma, _viscosity) / (_turbineGain * Shape(N2Pct));
        var cool = (_d.StartLimitC - AccelerationBelowLimitC - In.AirC) / (_d.IdleGasC - 15) * _airflow;
        return Math.Clamp(cool, LeastAcceleration * holds, MostAcceleration * holds);
    }

    // A throttle opened against stagnation.
    private bool Nudged => _stagnant && In.TargetN2Pct > _d.IdleN2Pct + 5;

    // The acceleration schedule, clipped by the governor.
    private double WantedFuel()
    {
        var schedule = Schedule(N2Pct) * _fuelDensity;
        schedule = Math.Max(schedule, _runningFeed) * Faults.FuelTrim;
        if (Nudged)
        {
            schedule *= 1 + _d.Stagnation!.NudgeGain;
        }

        // A lever pulled back at full power must not starve the flame: what is given falls with the air, not at once.
        var least = Math.Max(0.25 * _governorFeed, N2Pct > _d.IdleN2Pct ? DecelerationMixture * _airflow : 0);
        var governed = Math.Max(_governorFeed + GovernorGain * (TargetPct - N2Pct), least);
        return Math.Min(Math.Min(schedule, governed), Math.Max(_d.Fuel.MaxRatio, MostAcceleration * (_d.Full?.Fuel ?? 0)));
    }
}
