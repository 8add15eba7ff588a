using HardyEmber.Core.Numbers;

namespace HardyEmber.Core.Systems;

/// <summary>What lets a core light in the air: pressure in its combustor, enough speed, and not too much wind through it.</summary>
public sealed partial class Engine
{
    /// <summary>Pressure rise of a core at full speed over its inlet, above one; it goes with the square of the speed.</summary>
    private const double CoreRise = 3;

    /// <summary>Pressure in the combustor over that of a standard day at sea level: δ·(1 + 0.2·M²)^3.5·(1 + 3·(N2/100)²).</summary>
    private static double CombustorPressure(double altitudeFt, double mach, double n2Pct)
    {
        var ram = 1 + 0.2 * mach * mach;
        return Atmosphere.PressureRatio(altitudeFt) * ram * ram * ram * Math.Sqrt(ram) * (1 + CoreRise * n2Pct * n2Pct / 10_000);
    }

    // The file's slowest and highest windmill restart is the thinnest air in which a spark still catches.
    private double LeastPressure()
    {
        var w = _d.Windmill;
        var delta = Atmosphere.PressureRatio(w.MaxAltitudeFt);
        var t = Atmosphere.StandardTemperatureK(w.MaxAltitudeFt);
        var mach = Atmosphere.Mach(Atmosphere.TrueFromEquivalent(w.MinEasKt, Atmosphere.DensityRatio(delta, t)) * Atmosphere.MpsPerKnot, t);
        return CombustorPressure(w.MaxAltitudeFt, mach, w.N2PctPerMach * mach);
    }

    /// <summary>
    /// In the air a spark catches where the combustor has pressure (height, ram and core speed together), the core turns fast enough, the spark is not in too
    /// thin an air by itself, and the head of the air, which goes with the square of the equivalent airspeed, does not blow a young flame out.
    /// </summary>
    private bool AirRestartPossible() => In.Mach < FlyingMach
        || N2Pct >= _d.Windmill.MinN2Pct && In.EasKt <= _d.Windmill.MaxEasKt && In.PressureAltitudeFt <= _d.Windmill.MaxAltitudeFt
            && CombustorPressure(In.PressureAltitudeFt, In.Mach, N2Pct) >= _curves.LeastPressure;

    // Ram air does part of the turbine's work while the core turns slowly; at idle it is on its own.
    private double RamGain(double n2) => In.Mach < FlyingMach || n2 >= _d.IdleN2Pct ? 0 : _d.Windmill.RamTurbineGain * In.Mach * (1 - n2 / _d.IdleN2Pct);

    /// <summary>So near the stall the air before the intake breaks away: the compressor surges, and the flame is gone until the wing is eased.</summary>
    private const double SurgeShare = 0.9;

    /// <summary>It bangs: the air before its intake has broken away.</summary>
    public bool Surges => In.LiftShare > SurgeShare && In.Mach > FlyingMach;

    /// <summary>What cabin and cooling take, as a share of the air of a core; more than so many times that is a torn duct.</summary>
    private const double AirPerBleed = 0.05, TornBleed = 2;

    /// <summary>A flame that burns holds at this share of the pressure in which a spark catches.</summary>
    private const double HoldsShare = 0.7;

    /// <summary>The flame went out because so much air was lost behind the compressor that the combustor had no pressure left. From then on its bleed stays shut.</summary>
    public bool Robbed { get; private set; }

    /// <summary>It once turned so much slower than asked while a torn duct took its air. From then on its bleed stays shut: opened, it would slow again.</summary>
    public bool ShortOfAir { get; private set; }

    private const double SagsPct = 3;

    private bool Sags() => Lit && In.Bleed > TornBleed && In.Mach > FlyingMach && N2Pct < In.TargetN2Pct - SagsPct && !InStartCycle;

    private bool Robs() => In.Bleed > TornBleed && In.Mach > FlyingMach
        && CombustorPressure(In.PressureAltitudeFt, In.Mach, N2Pct) * (1 - AirPerBleed * In.Bleed) < HoldsShare * _curves.LeastPressure;

    /// <summary>Over this share of its idle speed a core that has just flamed out may light by itself.</summary>
    internal const double SparksShare = 0.62;

    /// <summary>A broken core windmills at such a share of a sound one's speed.</summary>
    private const double BrokenShare = 0.4;

    /// <summary>Faster than this, the air turns the core too.</summary>
    internal const double FlyingMach = 0.05;
}
