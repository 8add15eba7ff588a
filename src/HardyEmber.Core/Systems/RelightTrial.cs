using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>How an attempt to light a dead core ended, flown ahead. Heights in ft above the pressure datum, times in s from its beginning.</summary>
/// <param name="Idle">It came to idle above the floor.</param>
/// <param name="LitS">When it lit; below 0 where it never did.</param>
/// <param name="EndFt">Height at idle, or where it was given up.</param>
/// <param name="Cool">It stayed under the start limit.</param>
public readonly record struct RelightOutcome(bool Idle, double LitS, double EndS, double EndFt, bool Cool);

/// <summary>
/// Flies one windmill restart ahead with nothing but the core's own equations and the point mass: dive to a speed, give fuel, hold it while the core
/// comes up. It is what the envelope is drawn from, and says at which speed a dive pays best.
/// </summary>
public sealed class RelightTrial
{
    private const double StepS = 0.04, TickS = 0.2, LongestS = 150, NearKt = 4;

    /// <summary>So far under idle a core counts as running, % N2.</summary>
    private const double IdleBandPct = 2;

    private readonly AircraftDefinition _aircraft;
    private readonly RunHeader _header;
    private readonly Station _station;
    private readonly EngineDefinition _d;

    /// <param name="engine">The dead one.</param>
    public RelightTrial(AircraftDefinition aircraft, RunHeader header, Station station, string engine)
    {
        (_aircraft, _header, _station) = (aircraft ?? throw new ArgumentNullException(nameof(aircraft)), header ?? throw new ArgumentNullException(nameof(header)), station);
        _d = aircraft.EngineOf(engine);
    }

    /// <summary>Flies it.</summary>
    /// <param name="targetKt">The speed at which fuel is given, and which is held from then on.</param>
    /// <param name="floorFt">Lower than this it is given up.</param>
    /// <param name="litWithinS">Not lit by then, it is given up too.</param>
    public RelightOutcome Fly(double heightFt, double easKt, double targetKt, double floorFt, double litWithinS = LongestS)
    {
        var jet = FlightState.JetOf(_aircraft, _header, _station);
        jet.Begin(heightFt, easKt);
        var core = new Engine(_d, jet.TemperatureC, new RandomStream(0, "relight"));
        TakeAir(core, jet);
        core.In.TargetN2Pct = _d.IdleN2Pct;
        core.In.Boosted = true;
        core.StartAt(_d.Windmill.N2PctPerMach * jet.Mach, lit: false);
        var (t, slowAt, litS) = (0.0, 0.0, -1.0);
        var fuel = false;
        while (t < LongestS)
        {
            fuel |= Math.Abs(jet.EasKt - targetKt) < NearKt || jet.EasKt > targetKt;
            (core.In.FuelOn, core.In.Igniter) = (fuel, fuel);
            TakeAir(core, jet);
            if (t >= slowAt)
            {
                slowAt += TickS;
                core.Slow(TickS);
            }

            core.Step(StepS);
            var path = jet.EasKt < targetKt - NearKt && !fuel ? _aircraft.Numbers.DivePathDeg : jet.PathFor(targetKt, 0);
            jet.Step(StepS, path, 0);
            t += StepS;
            litS = core.Lit && litS < 0 ? t : litS;
            if (core.Lit && core.N2Pct >= _d.IdleN2Pct - IdleBandPct)
            {
                return new RelightOutcome(true, litS, t, jet.HeightFt, core.PeakC < _d.StartLimitC);
            }

            if (jet.HeightFt < floorFt || litS < 0 && t > litWithinS)
            {
                break;
            }
        }

        return new RelightOutcome(false, litS, t, jet.HeightFt, core.PeakC < _d.StartLimitC);
    }

    private static void TakeAir(Engine core, PointMass jet)
    {
        (core.In.AirC, core.In.DensityRatio, core.In.Mach) = (jet.TemperatureC, jet.RamDensityRatio, jet.Mach);
        (core.In.PressureAltitudeFt, core.In.EasKt, core.In.LiftShare) = (jet.HeightFt, jet.EasKt, jet.LiftShare);
    }
}
