namespace HardyEmber.Core.Definitions;

/// <summary>
/// An engine type. Core speeds are percent of rated N2; accelerations percent per second at sea level, 15 °C.
/// Fuel is counted in units of the idle flow on a standard day.
/// </summary>
public sealed record EngineDefinition
{
    public required double IdleN2Pct { get; init; }
    public required double IdleFuelLbPerH { get; init; }
    public required double IdleGasC { get; init; }
    public required double StartLimitC { get; init; }
    public required double SettledLimitC { get; init; }

    /// <summary>Gas temperature from which the hot section is damaged at once.</summary>
    public required double DamageC { get; init; }

    /// <summary>Speeds between which fuel may be given, and what each school teaches.</summary>
    public required double FuelOnMinN2Pct { get; init; }
    public required double FuelOnMaxN2Pct { get; init; }
    public required IReadOnlyDictionary<string, double> FuelOnN2Pct { get; init; }

    /// <summary>What the advisor and the start cards go by.</summary>
    public required AdviceDefinition Advice { get; init; }
    public required StarterDefinition Starter { get; init; }
    public required DragDefinition Drag { get; init; }
    public required FuelDefinition Fuel { get; init; }
    public required GasDefinition Gas { get; init; }

    /// <summary>A speed at which the core may stick until it is given a little more throttle; none where the type has no such place.</summary>
    public StagnationDefinition? Stagnation { get; init; }
    public required OilDefinition Oil { get; init; }
    public required GeneratorDefinition Generator { get; init; }
    public required HydraulicPumpDefinition Hydraulics { get; init; }
    public required NozzleDefinition Nozzle { get; init; }

    /// <summary>Where it has one.</summary>
    public BackupControlDefinition? Backup { get; init; }
    public required WindmillDefinition Windmill { get; init; }

    /// <summary>Full power on a standard day; where nothing is said it is hardly more than idle.</summary>
    public FullPowerDefinition? Full { get; init; }

    /// <summary>What bleed for cabin and cooling costs; nothing where nothing is said.</summary>
    public BleedCostDefinition? Bleed { get; init; }

    /// <summary>Core speed that each throttle position asks of the governor, by position name.</summary>
    public required IReadOnlyDictionary<string, double> ThrottleN2Pct { get; init; }
}

/// <param name="NearLimitC">So near to the start limit it says "be ready".</param>
/// <param name="LateWet">Unburnt fuel, in idle flow seconds, from which the light is late.</param>
/// <param name="Wet">The same, from which the core is too wet to go on.</param>
/// <param name="WetAgain">Wetter than this it is given no fuel again; the fuel steps of the procedures wait for 0.2 to 0.4.</param>
/// <param name="HotAgainC">Hotter than this it is given no fuel again; the fuel steps of the procedures wait for 200 to 250 °C.</param>
/// <param name="SlowAfterS">Hardly accelerating for so long it is slow; a third of it where it is foreseen not to reach idle.</param>
/// <param name="HungAfterS">Foreseen for so long not to reach idle, it hangs.</param>
/// <param name="StuckPctPerS">Less acceleration than this is standing still.</param>
/// <param name="OilSoonPct">So far below the mark for oil pressure it is due.</param>
/// <param name="FanFromN2Pct">From this core speed the fan must be seen to turn.</param>
/// <param name="IdleBandPct">So far below idle it counts as idle.</param>
/// <param name="StarterLatePct">So far above its cut-out the starter is late to let go.</param>
public sealed record AdviceDefinition(double NearLimitC, double LateWet, double Wet, double WetAgain, double HotAgainC, double SlowAfterS, double HungAfterS, double StuckPctPerS,
    double OilSoonPct, double FanFromN2Pct, double IdleBandPct, double StarterLatePct);

/// <param name="AccelPctPerS">Acceleration at standstill with full duct pressure.</param>
/// <param name="ZeroTorqueN2Pct">Speed at which the starter's torque has fallen to nothing.</param>
/// <param name="CutoutN2Pct">Speed at which the starter valve closes by itself.</param>
/// <param name="RampS">Its torque comes within so long: a starter whose current is let on in stages.</param>
/// <param name="Duty">None where it cannot overheat, as one that each bottle drives once.</param>
public sealed record StarterDefinition(double AccelPctPerS, double ZeroTorqueN2Pct, double CutoutN2Pct, StarterDutyDefinition? Duty = null, double RampS = 0);

/// <param name="OnS">Cranking for so long without a rest overheats it; it then lets go, and refuses until one attempt fits again.</param>
/// <param name="CoolS">Rest that takes all of that heat.</param>
/// <param name="AttemptS">What one attempt needs.</param>
public sealed record StarterDutyDefinition(double OnS, double CoolS, double AttemptS);

/// <summary>drag = breakaway + linear·N2·(1 + cold·(ν−1)) + square·N2²·σ, in %/s; ν is the oil's viscosity against 15 °C.</summary>
public sealed record DragDefinition(double Breakaway, double Linear, double Square, double ColdFactor);

/// <param name="FloorRatio">Fuel at light-off, in idle flows.</param>
/// <param name="SlopeRatio">What the schedule adds between <paramref name="SlopeFromN2Pct"/> and idle, in idle flows.</param>
/// <param name="DensityExponent">How far the metering follows inlet density.</param>
/// <param name="MaxRatio">Greatest flow, in idle flows.</param>
public sealed record FuelDefinition(double FloorRatio, double SlopeRatio, double SlopeFromN2Pct, double DensityExponent, double MaxRatio);

/// <param name="LagS">Lag of the gas temperature when lit.</param>
/// <param name="GaugeLagS">Lag of the gauge behind the gas.</param>
/// <param name="DensityExponent">How far airflow falls with density (the compressor's corrected flow makes up the rest).</param>
/// <param name="LightOffMinN2Pct">Below this the igniter cannot light the mixture.</param>
/// <param name="LightOffS">Time a burnable mixture must last before it lights.</param>
/// <param name="TurbineHalfN2Pct">Speed at which the turbine's efficiency has reached half of its final value (Hill curve).</param>
/// <param name="TurbineSteepness">Exponent of that Hill curve.</param>
public sealed record GasDefinition(double LagS, double GaugeLagS, double DensityExponent, double AirflowOffsetN2Pct,
    double TailwindLossPerKt, double LightOffMinN2Pct, double LightOffS, double TurbineHalfN2Pct, double TurbineSteepness)
{
    /// <summary>Of no effect since physics 4; older data may have it.</summary>
    public double AheadTrust { get; init; } = 1;
}

/// <summary>Between two speeds the compressor rows fight each other and turbine work is lost; a nudge of the throttle carries it through.</summary>
/// <param name="Loss">Share of turbine work lost in the middle between the two speeds.</param>
/// <param name="Odds">How often a start meets it.</param>
/// <param name="NudgeGain">What a throttle above idle adds to the fuel schedule while starting.</param>
public sealed record StagnationDefinition(double FromN2Pct, double ToN2Pct, double Loss, double Odds, double NudgeGain);

/// <param name="MinPsi">The mark that must be passed by <paramref name="MinByN2Pct"/>.</param>
public sealed record OilDefinition(double IdlePsi, double MinPsi, double MinByN2Pct, double ReliefPsi);

/// <param name="RatedW">Rated power in watts.</param>
/// <param name="OverloadS">It trips after so long at a quarter more than that.</param>
public sealed record GeneratorDefinition(double OnlineN2Pct, double RatedW, double Volts, double OverloadS = 30);

public sealed record HydraulicPumpDefinition(double RatedPsi, double KneeN2Pct);

/// <summary>The simple fuel control behind the usual one: its own idle, the nozzle shut.</summary>
/// <param name="IdleN2Pct">Core speed to which it settles, throttle at idle.</param>
public sealed record BackupControlDefinition(double IdleN2Pct, double NozzleOpenPct);

/// <param name="IdleOpenPct">Opening at idle.</param>
/// <param name="Fixed">It stays as it is at idle.</param>
public sealed record NozzleDefinition(double RestOpenPct, double IdleOpenPct, bool Fixed = false);

/// <param name="N2Pct">Its speed.</param>
/// <param name="GasC">Gas temperature, settled.</param>
/// <param name="Fuel">Flow, in idle flows.</param>
public sealed record FullPowerDefinition(double N2Pct, double GasC, double Fuel);

/// <summary>At idle on a standard day.</summary>
/// <param name="N2Pct">Speed that is lost.</param>
/// <param name="GasC">Gas temperature that is added.</param>
public sealed record BleedCostDefinition(double N2Pct, double GasC);

/// <summary>Windmilling, and where a core lights in the air.</summary>
/// <param name="N2PctPerMach">The core tends to this speed a Mach number, with the time constant given.</param>
/// <param name="MinN2Pct">Slower than this no spark catches.</param>
/// <param name="MinEasKt">The slowest restart at the highest place, <paramref name="MaxAltitudeFt"/>: the thinnest air in which a spark catches.</param>
/// <param name="MaxEasKt">Faster than this the head of the air blows a young flame out.</param>
/// <param name="RamTurbineGain">Share of the turbine's work that ram air adds a Mach number, to a core that stands; none at idle.</param>
/// <param name="LightS">A spark in cold, fast air takes so much longer to catch than on the ground, s.</param>
public sealed record WindmillDefinition(double N2PctPerMach, double TimeConstantS, double MinN2Pct, double MinEasKt, double MaxEasKt, double MaxAltitudeFt,
    double RamTurbineGain, double LightS = 1.7);
