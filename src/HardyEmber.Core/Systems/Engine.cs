using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>What the rest of the aircraft gives an engine. Set by the machine before each step.</summary>
public struct EngineInputs
{
    /// <summary>Duct pressure at the starter, 0 to 1.</summary>
    public double Duct;
    public bool StarterValve;
    public bool FuelOn;

    /// <summary>Pumps press fuel to the valve; a turning core has its own.</summary>
    public bool Boosted;
    public bool Igniter;

    /// <summary>Governor target, % N2.</summary>
    public double TargetN2Pct;

    /// <summary>The backup control has it.</summary>
    public bool Backup;

    /// <summary>Surrounding air (ram included): temperature in °C, density ratio σ, tailwind in kt, Mach number.</summary>
    public double AirC, DensityRatio, TailwindKt, Mach;

    /// <summary>Air taken from it for others, as a share of what cabin and cooling take.</summary>
    public double Bleed;

    /// <summary>Flow drawn from its hydraulic pump, as a share of what it gives.</summary>
    public double Draw;

    /// <summary>Height and equivalent airspeed, which bound an air restart; 0 on the ground.</summary>
    public double PressureAltitudeFt, EasKt;

    /// <summary>What the wing is asked for, as a share of what it can lift: the nearer to the stall, the worse the air before the intake.</summary>
    public double LiftShare;
}

/// <summary>Fault factors of one engine; 1 is healthy unless said otherwise.</summary>
public struct EngineFaults()
{
    public double Igniter = 1, FuelTrim = 1, OilPump = 1, InletBlockage;

    /// <summary>How much of it drips past its shut fuel valve, 0 to 1.</summary>
    public double Drip;

    /// <summary>Blades are gone: it does not burn, and the air turns it slowly.</summary>
    public bool Broken;
}

/// <summary>
/// One gas-turbine core: torque balance of starter, turbine and drag; fuel schedule clipped by the governor; light-off
/// with a puddle of unburnt fuel; first-order gas temperature. See docs/models/engine.md for sources and figures.
/// Speeds in %, temperatures in °C, fuel in idle flows, time in seconds.
/// </summary>
public sealed partial class Engine
{
    private const double Dt = 0.02;
    internal const double PuddleBurnS = 1.5;

    /// <summary>The metering valve follows what the control wants within this lag.</summary>
    internal const double FuelLagS = 0.25;

    private const double PuddleMax = 2.6;

    /// <summary>Dry motoring at 20 % blows half of it out in this time.</summary>
    internal const double PuddleHalfS = 10;

    /// <summary>So much of what flows into a core that does not burn stays there; the rest goes out with the air.</summary>
    internal const double UnburntShare = 0.45;

    private const double DrainHalfS = 45;

    /// <summary>Time the flame takes to spread round the combustor.</summary>
    internal const double LightRoundS = 1.2;

    private const double SmoothPctPerS = 3, SmoothCPerS = 10, SmoothFuel = 0.05, SteadyPctPerS = 0.05, TurningPct = 1, BelowLimitC = 20;

    /// <summary>Above idle the airflow grows with this power of speed besides, where the type's file does not tell its full power.</summary>
    private const double AboveIdleExponent = 0.42;

    /// <summary>What a pump loses of its pressure when all that it gives is drawn.</summary>
    private const double FlowDip = 0.15;

    /// <summary>Fastest speed that is computed, %.</summary>
    private const double FastestPct = 112;

    /// <summary>The fan follows the air that the core draws within this lag, at such a share of its speed: cranked, and burning.</summary>
    internal const double FanLagS = 1.6;
    private const double CrankedFan = 0.32, BurningFan = 0.55;

    /// <summary>Share of its air that a core in full rotating stall loses.</summary>
    private const double StallAirLoss = 0.22;

    /// <summary>Leaner or richer than this the flame goes out, or slower than this share of the speed at which it can be lit.</summary>
    private const double LeanestMixture = 0.12, RichestMixture = 6, SlowestBurning = 0.6;

    /// <summary>Fuel given before this time fills manifolds and burns with the light-off; only what comes later lies as a puddle.</summary>
    internal const double FillS = 1.5;

    private readonly EngineDefinition _d;
    private readonly RandomStream _random;
    private readonly double _turbineGain;
    private readonly double _perAirflow, _fuelSlope, _starterSlope;

    // Coefficients that change slowly, refreshed by Slow().
    private double _airflowFactor = 1, _fuelDensity = 1, _viscosity = 1, _governorFeed = 1, _runningFeed, _lightOffNeedS;
    private double _flame, _airflow, _unlitFuelS, _mixtureS, _gasBefore, _stall, _sigmaBefore = -1, _densityAir = 1, _dragLinear, _dragSquare;
    private bool _slowDone, _stagnant;

    public EngineInputs In;
    public EngineFaults Faults = new();

    public Engine(EngineDefinition definition, double ambientC, RandomStream random)
    {
        _d = definition;
        _random = random;
        _turbineGain = IdleDrag(_d.IdleN2Pct, 1, 1) / TurbineShape(_d.IdleN2Pct);
        GasC = GaugeC = MetalC = OilC = PeakC = _gasBefore = ambientC;
        _lightOffNeedS = _d.Gas.LightOffS;
        _perAirflow = 1 / (_d.IdleN2Pct + _d.Gas.AirflowOffsetN2Pct);
        _fuelSlope = _d.Fuel.SlopeRatio / (_d.IdleN2Pct - _d.Fuel.SlopeFromN2Pct);
        _starterSlope = 1 / _d.Starter.ZeroTorqueN2Pct;
        NozzlePct = _d.Nozzle.RestOpenPct;
        _curves = AllCurves.GetValue(definition, _ => CurvesOf());
    }

    public double N2Pct { get; private set; }
    public double N1Pct { get; private set; }

    /// <summary>Gas temperature at the turbine.</summary>
    public double GasC { get; private set; }

    /// <summary>What the gauge shows: the gas behind its own lag.</summary>
    public double GaugeC { get; private set; }

    /// <summary>Highest gas temperature since the last time the core stood still.</summary>
    public double PeakC { get; private set; }

    /// <summary>Seconds above the start limit since the last time the core stood still.</summary>
    public double OverLimitS { get; private set; }

    /// <summary>Fuel flow in idle flows.</summary>
    public double Fuel { get; private set; }

    /// <summary>Unburnt fuel lying in the core, in idle flow seconds.</summary>
    public double Puddle { get; private set; }
    public bool Lit { get; private set; }
    public double OilPsi { get; private set; }
    public double OilC { get; private set; }
    public double MetalC { get; private set; }
    public double HydraulicPsi { get; private set; }
    public double NozzlePct { get; private set; }
    public double StarterS { get; private set; }
    public bool Torching { get; private set; }
    public double FuelLbPerH => Fuel * _d.IdleFuelLbPerH;

    /// <summary>True while between first fuel and idle: the time in which the eyes belong to this engine.</summary>
    public bool InStartCycle { get; private set; }

    /// <summary>Puts the engine in a steady state at idle or windmilling: the beginning of an in-flight run.</summary>
    public void StartAt(double n2Pct, bool lit)
    {
        N2Pct = n2Pct;
        N1Pct = 0.6 * n2Pct;
        Lit = lit;
        Fuel = _flame = lit ? 1 : 0;
        GasC = GaugeC = _gasBefore = PeakC = lit ? _d.IdleGasC : _d.IdleGasC * 0.55;
        MetalC = GasC;
        OilC = 70;
        Slow(0);
        OilPsi = OilTarget();
        HydraulicPsi = HydraulicTarget();
        NozzlePct = NozzleTarget();
    }

    /// <summary>A core that has stood warmer than the air.</summary>
    public void Soak(double oilC, double metalC)
    {
        var warm = metalC - MetalC;
        (OilC, MetalC) = (oilC, metalC);
        GasC = GaugeC = _gasBefore = PeakC = GasC + 0.3 * warm;
    }

    private double TurbineShape(double n2)
    {
        var x = Math.Pow(n2 / _d.Gas.TurbineHalfN2Pct, _d.Gas.TurbineSteepness);
        return x / (1 + x);
    }

    private double Drag(double n2, double sigma, double viscosity) => Above(_curves.Drag, n2) * IdleDrag(n2, sigma, viscosity);

    private double IdleDrag(double n2, double sigma, double viscosity) =>
        _d.Drag.Linear * n2 * (1 + _d.Drag.ColdFactor * (viscosity - 1)) + _d.Drag.Square * n2 * n2 * sigma;

    /// <summary>Refreshes the slow coefficients and the slow states. <paramref name="dt"/> in seconds, 0 to only refresh.</summary>
    public void Slow(double dt)
    {
        _slowDone = true;
        var sigma = Math.Max(In.DensityRatio, 0.05);
        var tail = Math.Clamp(1 - _d.Gas.TailwindLossPerKt * In.TailwindKt, 0.35, 1.15);
        var sameAir = sigma == _sigmaBefore;
        if (!sameAir)
        {
            (_sigmaBefore, _densityAir, _fuelDensity) = (sigma, Math.Pow(sigma, _d.Gas.DensityExponent), Math.Pow(sigma, _d.Fuel.DensityExponent));
        }

        _airflowFactor = _densityAir * tail * Math.Clamp(1 - Faults.InletBlockage, 0.1, 1);
        _viscosity = Math.Clamp(Math.Exp((15 - OilC) / 38), 0.5, 5);
        (_dragLinear, _dragSquare) = (_d.Drag.Linear * (1 + _d.Drag.ColdFactor * (_viscosity - 1)), _d.Drag.Square * sigma);
        // Torque of one idle flow at this density: less air, less expansion work for the same fuel.
        _governorFeed = Drag(TargetPct, sigma, _viscosity) / (_turbineGain * Shape(Math.Clamp(TargetPct, 1, FastestPct)));
        _runningFeed = RunningFeed(sigma);
        if (dt <= 0)
        {
            return;
        }

        Follow(dt);
        Tail(dt);
        if (Resting)
        {
            Seep(dt);
        }

        var air = In.AirC;
        OilC += dt * ((air - OilC) / 900 + (Lit ? (85 - OilC) / 150 * (N2Pct / _d.IdleN2Pct) : N2Pct * 0.002));
        MetalC += dt * ((GasC - MetalC) / 60 * (0.2 + N2Pct / 100) + (air - MetalC) / 2400);
        // A core that burns but does not accelerate slides into rotating stall: less air, creeping temperature.
        var stalled = Lit && N2Pct < _d.IdleN2Pct * 0.7 && Math.Abs(_accel) < 0.4;
        _stall = Math.Clamp(_stall + dt * (stalled ? 1.0 / 45 : -1.0 / 8), 0, 1);
        var slope = (GasC - _gasBefore) / dt;
        _gasBefore = GasC;
        NozzlePct += Math.Clamp(NozzleTarget() - NozzlePct, -9 * dt, 9 * dt) * (HydraulicPsi > 300 || N2Pct > 20 ? 1 : 0);
        var burns = Lit && _flame >= 1 && Puddle <= 0 && _stall <= 0 && In.FuelOn && (slope <= 0 || !InStartCycle) && Math.Abs(WantedFuel() - Fuel) < SmoothFuel;
        var chases = TargetPct > _d.IdleN2Pct && Math.Abs(TargetPct - N2Pct) > 1; // the running line is followed step by step
        var turns = !Lit && !TailFire && !In.FuelOn && Fuel <= 0 && N2Pct > TurningPct;
        Smooth = (burns && !chases || turns) && sameAir && In.Mach < FlyingMach && Math.Abs(_accel) < SmoothPctPerS && Math.Abs(slope) < SmoothCPerS
            && GasC < _d.StartLimitC - BelowLimitC;
        Steady = Smooth && Lit && !InStartCycle && !In.StarterValve && Math.Abs(_accel) < SteadyPctPerS;
    }

    /// <summary>It burns evenly, or turns without fuel: until an input changes, five steps a second follow it.</summary>
    public bool Smooth { get; private set; }

    /// <summary>It runs at its governed speed.</summary>
    public bool Steady { get; private set; }

    private double _accel, _engagedS;

    /// <summary>Advances the engine by one step: 20 ms, or up to a second while <see cref="Smooth"/>.</summary>
    public void Step(double dt = Dt)
    {
        if (!_slowDone)
        {
            Slow(0);
        }

        var starting = In.StarterValve && In.Duct > 0.02;
        if (N2Pct < 0.02 && !starting && !Lit && In.Mach < FlyingMach)
        {
            if (!Resting)
            {
                Rest();
            }

            return;
        }

        Resting = false;
        StepCombustion(dt);
        StepSpool(starting, dt);
    }

    /// <summary>It stands still and nothing turns it: only heat and fuel seep, and five looks a second see that.</summary>
    public bool Resting { get; private set; }

    /// <summary>At rest, drained, and as warm as the air about it: nothing is left to move.</summary>
    public bool Cold => Resting && !TailFire && Puddle <= 0 && !In.FuelOn && OilPsi <= 0 && HydraulicPsi <= 0 && N1Pct <= 0
        && Math.Abs(GasC - In.AirC) < 0.01 && Math.Abs(MetalC - In.AirC) < 0.01 && Math.Abs(OilC - In.AirC) < 0.01 && Math.Abs(GaugeC - In.AirC) < 0.01;

    private void Rest()
    {
        Resting = true;
        N2Pct = 0;
        Fuel = 0;
        _mixtureS = 0;
        _accel = 0;
        InStartCycle = false;
        Torching = false;
    }

    private void Seep(double dt)
    {
        if (In.FuelOn && In.Boosted && Puddle < PuddleMax)
        {
            Puddle += dt * 0.2;
        }
        else if (!In.FuelOn)
        {
            Puddle = Puddle < 1e-6 ? 0 : Puddle * (1 - dt * 0.6931 / DrainHalfS); // what lies in a core at rest runs out by its drain
        }

        GasC += dt / 40 * (In.AirC + 0.3 * (MetalC - In.AirC) - GasC);
        GaugeC += Math.Min(1, dt / _d.Gas.GaugeLagS) * (GasC - GaugeC);
    }

    private static double Share(double dt, double lagS) => Math.Min(1, dt / lagS);

    // To the end of the way: an endless approach to nothing would end in denormal numbers, which are slow.
    private static double Towards(double target, double value, double share) =>
        Math.Abs(target - value) < 1e-6 ? target : value + Math.Min(1, share) * (target - value);

    // What hangs on the spool and follows it within seconds: five looks a second are enough.
    private void Follow(double dt)
    {
        var turns = N2Pct > 0;
        OilPsi = Towards(OilTarget(), OilPsi, dt / (turns ? 0.8 + 0.5 * _viscosity : 1.5));
        HydraulicPsi = Towards(HydraulicTarget(), HydraulicPsi, dt / (turns ? 0.9 : 3));
        N1Pct = Towards(SoundFan(N2Pct, Lit) * Math.Clamp(1 - Faults.InletBlockage, 0.1, 1), N1Pct, dt / (turns ? FanLagS : 6));
    }

    private void StepCombustion(double dt)
    {
        var n = N2Pct;
        _airflow = Math.Max((n + _d.Gas.AirflowOffsetN2Pct) * _perAirflow, 0.01)
            * _airflowFactor * (1 - StallAirLoss * _stall);
        _airflow *= Above(_curves.Air, n); // near its design speed a compressor passes more than its share

        if (In.FuelOn)
        {
            Fuel += Share(dt, FuelLagS) * (WantedFuel() - Fuel);
        }
        else
        {
            Fuel += Share(dt, 0.08) * -Fuel;
            if (Fuel < 1e-4)
            {
                Fuel = 0;
            }
        }

        var mixture = (Fuel + (Lit ? 0 : 0.1 * Puddle)) / _airflow;
        if (!Lit)
        {
            StepUnlit(mixture, dt);
        }
        else if (Fuel < 0.05 && Puddle < 0.02 || _airflow < 0.02 || mixture is < LeanestMixture or > RichestMixture || n < SlowestBurning * _d.Gas.LightOffMinN2Pct
            || Faults.Broken || Surges || Robs())
        {
            Robbed |= Robs();
            Lit = false;
            InStartCycle = false;
        }

        ShortOfAir |= Sags();
        double target;
        if (Lit)
        {
            _flame = Math.Min(1, _flame + dt / LightRoundS);
            var burst = Puddle / PuddleBurnS * _flame;
            Puddle = Math.Max(0, Puddle - dt * (burst + 0.02));
            target = In.AirC + (_d.IdleGasC - 15) * (Fuel * _flame + burst) / _airflow;
            GasC += Share(dt, _d.Gas.LagS) * (Math.Min(target, 1600) - GasC);
            Torching = burst > 0.35;
        }
        else
        {
            Torching = false;
            target = In.AirC + 0.35 * (MetalC - In.AirC) / (1 + 4 * _airflow);
            GasC += dt / (4 + 8 / (0.2 + _airflow)) * (target - GasC);
        }

        GaugeC += Share(dt, _d.Gas.GaugeLagS) * (GasC - GaugeC);
        if (GasC > PeakC)
        {
            PeakC = GasC;
        }

        if (GasC > _d.StartLimitC)
        {
            OverLimitS += dt;
        }

        if (InStartCycle && n > _d.IdleN2Pct - 1.5)
        {
            InStartCycle = false;
        }
    }

    private void StepUnlit(double mixture, double dt)
    {
        _unlitFuelS = In.FuelOn ? _unlitFuelS + dt : 0;
        if (_unlitFuelS > FillS)
        {
            Puddle = Math.Min(PuddleMax, Puddle + dt * Fuel * UnburntShare);
        }

        // Dry motoring blows the puddle out: half of it in ten seconds at 20 % (and faster with speed).
        if (Fuel < 0.05)
        {
            Puddle = Puddle < 1e-6 ? 0 : Puddle * (1 - dt * 0.6931 / PuddleHalfS / 20 * N2Pct);
        }

        var burnable = In.Igniter && Faults.Igniter > 0.5 && Fuel > 0.05 && mixture is > 0.45 and < 7
            && N2Pct >= _d.Gas.LightOffMinN2Pct && !Faults.Broken && !Surges && AirRestartPossible();
        if (!burnable)
        {
            _mixtureS = Math.Max(0, _mixtureS - dt);
            return;
        }

        if (_mixtureS <= 0)
        {
            // Each attempt takes a little longer or shorter; cold fuel atomises badly.
            _lightOffNeedS = _d.Gas.LightOffS * (1 + 0.06 * _random.Normal() + Math.Max(0, -In.AirC) * 0.006) + (In.Mach < FlyingMach ? 0 : _d.Windmill.LightS);
        }

        _mixtureS += dt;
        if (_mixtureS >= _lightOffNeedS)
        {
            Lit = true;
            InStartCycle = true;
            _stagnant = _d.Stagnation is { } s && In.Mach < FlyingMach && _random.Next() < s.Odds;
            _mixtureS = 0;
            _flame = 0;
            _unlitFuelS = 0;
        }
    }

    private void StepSpool(bool starting, double dt)
    {
        var n = N2Pct;
        var starter = 0.0;
        if (starting)
        {
            _engagedS += dt;
            starter = _d.Starter.AccelPctPerS * In.Duct * Math.Max(0, 1 - n * _starterSlope) * (_engagedS < _d.Starter.RampS ? _engagedS / _d.Starter.RampS : 1);
            StarterS += dt;
        }
        else
        {
            _engagedS = 0;
        }

        var turbine = 0.0;
        if (Lit)
        {
            turbine = Work * _turbineGain * Shape(n) * (1 - 0.4 * _stall) * (Fuel * _flame + 0.15 * Puddle / PuddleBurnS) * (1 + RamGain(n)) * (1 - _curves.BleedLoss * In.Bleed);
        }

        if (_stagnant)
        {
            turbine *= 1 - Stagnates(n);
        }

        var drag = Above(_curves.Drag, n) * (_dragLinear * n + _dragSquare * n * n) + (n > 0.05 || starter > _d.Drag.Breakaway ? _d.Drag.Breakaway : starter);
        var windmill = 0.0;
        if (In.Mach > FlyingMach)
        {
            // Ram air carries the core towards its windmilling speed and, below it, pays for the drag.
            var free = _d.Windmill.N2PctPerMach * In.Mach * (Faults.Broken ? BrokenShare : 1);
            windmill = Math.Max(0, (free - n) / _d.Windmill.TimeConstantS + _dragLinear * Math.Min(n, free) + _dragSquare * Math.Pow(Math.Min(n, free), 2) + _d.Drag.Breakaway);
        }

        _accel = starter + turbine + windmill - drag;
        N2Pct = Math.Clamp(n + dt * _accel, 0, FastestPct);
    }

    private double OilTarget()
    {
        var pumped = _d.Oil.IdlePsi * N2Pct / _d.IdleN2Pct * (0.55 + 0.45 * _viscosity) * Faults.OilPump;
        return pumped <= _d.Oil.ReliefPsi ? pumped : _d.Oil.ReliefPsi + 0.15 * (pumped - _d.Oil.ReliefPsi);
    }

    private double HydraulicTarget() =>
        _d.Hydraulics.RatedPsi * Math.Min(1, N2Pct / _d.Hydraulics.KneeN2Pct) * (1 - FlowDip * Math.Min(In.Draw, 3));

    private double NozzleTarget() => _d.Nozzle.Fixed ? _d.Nozzle.IdleOpenPct : !Lit ? _d.Nozzle.RestOpenPct
        : In.Backup ? _d.Backup!.NozzleOpenPct
        : Math.Clamp(_d.Nozzle.IdleOpenPct * (1 - Math.Max(0, N2Pct - _d.IdleN2Pct) / 32), 8, 100);

    /// <summary>Forgets the peak and the time over the limit: a new start attempt begins.</summary>
    public void BeginAttempt()
    {
        PeakC = GasC;
        OverLimitS = 0;
        StarterS = 0;
    }
}
