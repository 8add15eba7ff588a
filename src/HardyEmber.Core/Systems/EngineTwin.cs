namespace HardyEmber.Core.Systems;

/// <summary>What somebody who only sees the gauges takes a core to be. Units as in <see cref="Engine"/>.</summary>
internal struct EngineEstimate
{
    public double N2Pct, GasC, GaugeC, Fuel, Puddle, Flame, MetalC, OilC, Stall, UnlitS;
    public bool Lit, Stagnant;
}

/// <summary>A core that stands for another: the same equations, told what to be. It rehearses what may come.</summary>
public sealed partial class Engine
{
    /// <summary>Share of the turbine's usual work that is seen to be done; 1 for every core but a twin.</summary>
    internal double Work { get; set; } = 1;

    /// <summary>Rotating stall, 0 to 1: none is seen on a gauge, a twin keeps its own account of it.</summary>
    internal double Stall => _stall;

    /// <summary>Spread of the flame round the combustor, 0 to 1.</summary>
    internal double Flame => _flame;

    /// <summary>Air through the core as it should be at a speed, in idle airflows; as of the last <see cref="Slow"/>.</summary>
    internal double SoundAirflow(double n2) => Math.Max((n2 + _d.Gas.AirflowOffsetN2Pct) * _perAirflow, 0.01) * _densityAir
        * Math.Clamp(1 - _d.Gas.TailwindLossPerKt * In.TailwindKt, 0.35, 1.15) * (1 - StallAirLoss * _stall);

    /// <summary>Where the fan settles at a core speed while nothing hinders its air, %.</summary>
    internal static double SoundFan(double n2, bool lit) => (lit ? BurningFan : CrankedFan) * n2;

    /// <summary>Fuel that the control gives at a speed, and whether its start schedule or its governor decides.</summary>
    internal (double Flow, bool Scheduled) SoundFuel(double n2)
    {
        var schedule = Schedule(n2) * _fuelDensity * (Nudged ? 1 + _d.Stagnation!.NudgeGain : 1);
        var governed = _governorFeed + GovernorGain * (TargetPct - n2);
        return (Math.Min(schedule, governed), schedule * 1.3 < governed);
    }

    /// <summary>What turns the core at a speed without its own fire, and what its fire adds as a sound one does, in %/s.</summary>
    internal (double Cold, double Fire) Torques(double n2, double fuel, double flame, double puddle, double starterShare)
    {
        var starter = _d.Starter.AccelPctPerS * starterShare * Math.Max(0, 1 - n2 * _starterSlope);
        var drag = _dragLinear * n2 + _dragSquare * n2 * n2 + _d.Drag.Breakaway;
        return (starter - drag, _turbineGain * Shape(n2) * (1 - 0.4 * _stall) * (fuel * flame + 0.15 * puddle / PuddleBurnS));
    }

    /// <summary>Share of the fire's work that is lost at this speed where the core stagnates; 0 elsewhere, and for a type that never does.</summary>
    internal double Stagnates(double n2) => _d.Stagnation is { } s && n2 > s.FromN2Pct && n2 < s.ToN2Pct
        ? s.Loss * (1 - Math.Abs(n2 - (s.FromN2Pct + s.ToN2Pct) / 2) / ((s.ToN2Pct - s.FromN2Pct) / 2)) : 0;

    internal void Become(in EngineEstimate e, in EngineInputs inputs)
    {
        (N2Pct, GasC, GaugeC, Fuel, Puddle, MetalC, OilC) = (e.N2Pct, e.GasC, e.GaugeC, e.Fuel, e.Puddle, e.MetalC, e.OilC);
        var lightS = _d.Gas.LightOffS + (inputs.Mach < FlyingMach ? 0 : _d.Windmill.LightS);
        (_flame, _stall, _unlitFuelS, _mixtureS) = (e.Flame, e.Stall, e.UnlitS, Math.Min(e.UnlitS, 0.9 * lightS));
        (Lit, InStartCycle, Resting, _stagnant) = (e.Lit, e.Lit && e.N2Pct < _d.IdleN2Pct - 1.5, false, e.Stagnant);
        _engagedS = _d.Starter.RampS; // a fuelled core's starter has long come on
        In = inputs;
        Slow(0);
    }
}
