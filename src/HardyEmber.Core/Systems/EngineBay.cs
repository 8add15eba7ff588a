using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>One engine in the aircraft: its controls, faults and generator on the input side, its signals on the output side.</summary>
public sealed class EngineBay : MovingSystem
{
    private const double LongDryS = 999;

    /// <summary>Cut off so near its idle speed it was running.</summary>
    private const double CutRunningShare = 0.9;

    /// <summary>So warm nothing of the ice is left, °C.</summary>
    private const double MeltsC = 4;

    /// <summary>Somebody may wait for it to cool and drain: it is looked at more often than what only drifts.</summary>
    private const double CooledS = 2;

    /// <summary>Slower than this the probe counts nothing, and makes no noise of it, % N2.</summary>
    private const double ProbeFromPct = 2;
    private readonly Switch _fuelOn, _starter, _igniter, _generator, _ignitionPower, _crossFeed;
    private readonly double[] _throttleN2;
    private readonly Switch? _backup;
    private readonly int _throttle, _n2, _trueN2, _n1, _gas, _trueGas, _peak, _over, _fuel, _oil, _hyd, _nozzle, _lit, _cycle, _gen, _puddle,
        _starterS, _torch, _valve, _refused, _unitVolts, _maxPeak, _totalOver, _oilC, _fuelOns, _fuelValve;
    private readonly int _fIgniter, _fTrim, _fOil, _fBlock, _fGen, _fStick, _fShaft, _fDrop, _fFan, _fGauge, _fProbe, _fFeed, _fIce, _fBroken, _fDrip, _tailFire, _flamedOut,
        _flameOuts, _feedLost, _iced, _surge, _robbed, _shortOfAir, _cutRunning, _still, _dropped, _stuck, _late, _dry, _heat, _hot, _restS, _triesLeft;
    private readonly MachineContext _context;
    private readonly EngineDefinition _d;
    private readonly EngineSideDefinition _side;
    private readonly GuardDefinition _guard;
    private readonly StarterHeat _starterHeat;
    private readonly Load? _electric;
    private readonly double _starterNominalV, _starterW, _starterZeroN2, _cutoutN2, _lateN2;
    private Generator _unit = null!; // found when all are bound
    private double[] _v = [], _f = [];
    private int _rival = -1, _starterBus, _duct, _airC, _density, _tailwind, _altitude, _mach, _eas, _lift, _bleed, _draw = -1;
    private double _crankS, _n2Before, _peakShown = double.MinValue;
    private readonly RandomStream _probe;
    private double _noisePct, _leverBegan;
    private bool _begun, _leverStands, _drops, _valveOpen, _lost, _spent, _fuelWas, _burnt;

    public EngineBay(MachineContext context, EngineSideDefinition side)
    {
        var d = _d = context.Aircraft.EngineOf(side);
        Even = false; // until it has been seen to stand still or turn smoothly
        (_context, _side, _guard) = (context, side, context.Aircraft.Electrics.Guard);
        Core = new Engine(d, context.Header.Conditions.OatC, context.Random($"engine-{side.Id}"));
        Core.Soak(context.Soak.OilC, context.Soak.MetalC);
        _fuelOn = context.Switch(side.FuelOn, $"engines.{side.Id}.fuelOn");
        _starter = context.Switch(side.StarterValve, $"engines.{side.Id}.starterValve");
        _igniter = context.Switch(side.Igniter, $"engines.{side.Id}.igniter");
        _generator = context.Switch(side.GeneratorSwitch, $"engines.{side.Id}.generatorSwitch");
        _backup = d.Backup is not null && side.Backup is { } asked ? context.Switch(asked, $"engines.{side.Id}.backup") : null;
        if (_backup is not null && context.Explains)
        {
            context.Explained([_backup]); // it changes what the governor aims at, and no flag
        }

        _ignitionPower = context.Switch($"bus.{side.IgniterBus}.live", $"engines.{side.Id}.igniterBus");
        var s = context.Signals;
        var throttle = s.Find(side.Throttle) ?? throw new FormatException($"engines.{side.Id}.throttle: there is no control \"{side.Throttle}\"");
        _throttle = throttle.Index;
        if (context.Explains && new[] { side.CutOff, side.Idle }.FirstOrDefault(p => throttle.PositionOf(p) < 0) is { } missing)
        {
            context.Wrong($"engines.{side.Id}.throttle", $"\"{side.Throttle}\" has no position \"{missing}\"{Nearest.Hint(missing, throttle.Positions)}");
        }

        _throttleN2 = [.. throttle.Positions.Select(p => d.ThrottleN2Pct.TryGetValue(p, out var n2) ? n2
            : throw new FormatException($"engine.throttleN2Pct: the throttle's position \"{p}\" is missing"))];
        var oat = context.Header.Conditions.OatC;
        (_n2, _trueN2, _n1) = (s.AddNumber($"{Id}.n2", "%", 0.1), s.AddNumber(TrueSpeedSignal(Id), "%", 0.1, hidden: true), s.AddNumber($"{Id}.fan", "%", 0.1));
        _probe = context.Random($"speed-probe-{Id}");
        (_gas, _trueGas) = (s.AddNumber($"{Id}.egt", "°C", 1, oat), s.AddNumber($"{Id}.egt-true", "°C", 1, oat, hidden: true));
        _peak = s.AddNumber($"{Id}.egt-peak", "°C", 1, oat);
        _dry = s.AddNumber($"{Id}.dry", "s", 1, LongDryS);
        (_over, _fuel) = (s.AddNumber($"{Id}.over-limit", "s", 0.1), s.AddNumber($"{Id}.fuel-flow", "lb/h", 5));
        (_oil, _hyd) = (s.AddNumber($"{Id}.oil", "psi", 1), s.AddNumber($"{Id}.hydraulics", "psi", 10));
        (_nozzle, _lit) = (s.AddNumber($"{Id}.nozzle", "%", 1), s.AddFlag($"{Id}.lit"));
        (_cycle, _gen) = (s.AddFlag($"{Id}.start-cycle"), s.AddFlag($"{Id}.generator"));
        (_puddle, _starterS) = (s.AddNumber($"{Id}.puddle", "", 0.05), s.AddNumber($"{Id}.starter-time", "s", 0.2));
        _torch = s.AddFlag($"{Id}.torching");
        (_maxPeak, _totalOver) = (s.AddNumber($"{Id}.egt-highest", "°C", 1, oat, hidden: true), s.AddNumber($"{Id}.over-limit-total", "s", 0.1, hidden: true));
        _oilC = s.AddNumber($"{Id}.oil-temperature", "°C", 1, Core.OilC);
        _fuelOns = s.AddNumber($"{Id}.fuel-ons", "", 1);
        _fuelValve = s.AddFlag($"{Id}.fuel-valve");
        _valve = s.AddFlag($"{Id}.starter-valve");
        _refused = s.AddFlag($"{Id}.generator-refused");
        _still = s.AddFlag($"{Id}.no-rotation");
        _stuck = s.AddNumber($"{Id}.stuck", "s", 0.2);
        _late = s.AddFlag($"{Id}.starter-late");
        _dropped = s.AddFlag($"{Id}.starter-dropped");
        (_heat, _hot) = (s.AddNumber($"{Id}.starter-heat", "%", 1), s.AddFlag($"{Id}.starter-hot"));
        (_restS, _triesLeft) = (s.AddNumber($"{Id}.starter-rest", "s", 1), s.AddNumber($"{Id}.starter-tries", "", 1, StartAttempts.Most));
        _starterHeat = new StarterHeat(d.Starter.Duty);
        _cutoutN2 = d.Starter.CutoutN2Pct;
        _lateN2 = _cutoutN2 + Math.Min(d.Advice.StarterLatePct, (d.IdleN2Pct - _cutoutN2) / 2); // where idle is near, it must still be seen
        _unitVolts = context.Faults.Add($"{Id}.generator-volts", 1);
        if (side.StarterBus is { } bus)
        {
            _starterNominalV = context.Aircraft.Electrics.Buses.FirstOrDefault(b => b.Id == bus)?.Volts ?? 0; // a bus that is not there is told of with the load
            _electric = context.AddLoad($"{Id}-starter", $"{side.Label} starter", bus, side.StarterW, _starter, starterV: _starterNominalV);
            _starterW = side.StarterW;
        }

        _starterZeroN2 = d.Starter.ZeroTorqueN2Pct;

        _crossFeed = context.Switch(context.Aircraft.Air.CrossFeed, "air.crossFeed");
        _feedLost = s.AddFlag($"{Id}.feed-lost");
        if (context.Explains)
        {
            Explain(context, side, d);
        }

        _fIgniter = context.Faults.Add($"{Id}.igniter", 1);
        _fTrim = context.Faults.Add($"{Id}.fuel-trim", 1);
        _fOil = context.Faults.Add($"{Id}.oil-pump", 1);
        _fBlock = context.Faults.Add($"{Id}.inlet-blockage", 0);
        _fGen = context.Faults.Add($"{Id}.generator", 1);
        _fStick = context.Faults.Add($"{Id}.starter-sticks", 0);
        _fShaft = context.Faults.Add($"{Id}.starter-shaft", 1);
        _fDrop = context.Faults.Add($"{Id}.starter-drops", 1);
        _fFan = context.Faults.Add($"{Id}.fan-seized", 0);
        (_fGauge, _fProbe) = (context.Faults.Add($"{Id}.gauge-sticks", 0), context.Faults.Add($"{Id}.speed-probe", 0));
        (_fFeed, _fIce, _fBroken) = (context.Faults.Add($"{Id}.fuel-feed", 1), context.Faults.Add($"{Id}.inlet-ice", 0), context.Faults.Add($"{Id}.broken", 0));
        (_fDrip, _tailFire) = (context.Faults.Add($"{Id}.drip", 0), s.AddFlag($"{Id}.tail-fire"));
        (_flamedOut, _flameOuts) = (s.AddFlag($"{Id}.flamed-out"), s.AddNumber($"{Id}.flame-outs", "", 1));
        _iced = s.AddFlag($"{Id}.iced");
        (_surge, _robbed, _cutRunning) = (s.AddFlag($"{Id}.surge"), s.AddFlag($"{Id}.robbed"), s.AddFlag($"{Id}.cut-running"));
        _shortOfAir = s.AddFlag($"{Id}.short-of-air");
    }

    private void Explain(MachineContext context, EngineSideDefinition side, EngineDefinition d)
    {
        var where = $"engines.{Id}";
        var air = side.StarterBus is null ? $"air.duct > 1 or {Id}.lit or flight.airborne" : $"load.{Id}-starter or {Id}.lit";
        context.Gate($"{Id}.starter-valve", GateKind.Comes, where, $"{side.Label} starter: engaged",
            Term.All(_starter, Term.Fact($"not {Id}.starter-hot"), side.Rival is { } rival ? Term.Fact($"not {rival}.starter-valve") : null));
        context.Gate($"{Id}.starter-hot", GateKind.Goes, where, $"{side.Label} starter: too hot, it refuses", Term.All(), "Only rest cools it.");
        context.Gate($"{Id}.n2", GateKind.Moves, where, $"{side.Label} core: speed", Term.All(Term.Fact($"{Id}.starter-valve or {Id}.lit or flight.airborne"), Term.Fact(air)));
        context.Gate($"{Id}.dry", GateKind.Moves, where, $"{side.Label} core: seconds without fuel", Term.Not(_fuelOn), "Motor it: air blows out fuel and heat.");
        context.Gate($"{Id}.fuel-valve", GateKind.Is, where, $"{side.Label} fuel: open", _fuelOn);
        context.Gate($"{Id}.fuel-flow", GateKind.Moves, where, $"{side.Label} fuel: flow",
            Term.All(Term.Fact($"{Id}.fuel-valve"), Term.Any(Term.Fact($"not {Id}.feed-lost"), _crossFeed)));
        context.Gate($"{Id}.lit", GateKind.Comes, where, $"{side.Label} core: alight",
            Term.All(Term.Fact($"{Id}.fuel-valve"), _igniter, _ignitionPower, Term.Fact(FormattableString.Invariant($"{Id}.n2 >= {d.Gas.LightOffMinN2Pct}"))));
        context.Gate($"{Id}.generator", GateKind.Is, where, $"{side.Label} generator: on line",
            Term.All(_generator, Term.Fact(FormattableString.Invariant($"{Id}.n2 >= {d.Generator.OnlineN2Pct}")), Term.Fact($"not {Id}.generator-tripped")),
                "Its voltage must be right too.");
        context.Gate($"{Id}.hydraulics", GateKind.Moves, where, $"{side.Label} hydraulics: pressure", Term.Fact($"{Id}.n2 > 10"));
        context.Gate($"{Id}.oil", GateKind.Moves, where, $"{side.Label} oil: pressure", Term.Fact($"{Id}.n2 > 5"));
    }

    /// <summary>The speed itself, %: what its probe says of it, and gauges and controls go by, is <c>ENGINE.n2</c>.</summary>
    public static string TrueSpeedSignal(string engine) => $"{engine}.n2-true";

    public override string Name => $"engine {Id}";
    private string Id => _side.Id;
    private Engine Core { get; }
    private bool StarterValveOpen => _valveOpen;
    private bool GeneratorOnline { get; set; }

    public override void Bind(MachineContext context)
    {
        _v = context.Signals.Values;
        _f = context.Faults.Values;
        _rival = Rival(context);
        _unit = context.GeneratorOf(_side.Id);
        _starterBus = _side.StarterBus is { } bus ? context.Reads($"bus.{bus}", Phase.Move) : -1;
        _duct = context.Reads(AirSupply.ShareSignal, Phase.Move);
        if (context.Signals.Find(Surfaces.DrawSignal) is { } draw)
        {
            context.Reads(_draw = draw.Index, Phase.Before);
        }

        _bleed = context.Reads(AirSupply.BleedSignal(Id), Phase.Move);
        (_airC, _density) = (context.Reads(FlightState.TemperatureSignal, Phase.Move), context.Reads(FlightState.DensitySignal, Phase.Move));
        (_tailwind, _altitude) = (context.Reads(FlightState.TailwindSignal, Phase.Move), context.Reads(FlightState.AltitudeSignal, Phase.Move));
        (_mach, _eas) = (context.Reads("flight.mach", Phase.Move), context.Reads("flight.eas", Phase.Move));
        _lift = context.Reads(FlightState.LiftSignal, Phase.Move);
        Publish();
    }

    // Its valve is seen as it was: each looks at the other, and who comes first in the data gets the air.
    private int Rival(MachineContext context)
    {
        if (_side.Rival is not { } id)
        {
            return -1;
        }

        if (context.Signals.Find($"{id}.starter-valve") is not { } valve)
        {
            context.Wrong($"engines.{Id}.rival", $"there is no engine \"{id}\"");
            return -1;
        }

        context.Reads(valve.Index, Phase.Before);
        return valve.Index;
    }

    /// <summary>In flight one engine has flamed out, and the other idles or is lost for good.</summary>
    public override void Begin()
    {
        TakeAir();
        if (_context.Header.Flight is not { } flight)
        {
            return;
        }

        var (dead, idles) = (Id == flight.Dead, flight.Other == RunFlight.IdleOther || flight.Dead == RunFlight.NoneDead);
        Core.In.TargetN2Pct = _d.IdleN2Pct;
        var turns = _d.Windmill.N2PctPerMach * Core.In.Mach;
        Core.StartAt(!dead && idles ? _d.IdleN2Pct : dead ? flight.CoreN2Pct ?? turns : turns, !dead && idles);
        Publish();
        _lost = !dead && !idles;
        if (!_lost)
        {
            // It flamed out with the throttle where it was: to cut off is the first act.
            _v[_throttle] = _leverBegan = _context.Signals.All[_throttle].PositionOf(_side.Idle);
            _leverStands = dead;
        }
    }

    public override void Logic()
    {
        // A lever that the last pilot left forward is no attempt of this one, nor one that stands where the flame went out, though fuel may come and go by itself.
        _leverStands &= _v[_throttle] == _leverBegan;
        if (_fuelOn.On && !_fuelWas && !Core.Lit && _begun && !_leverStands)
        {
            _v[_fuelOns] += 1;
        }

        (_begun, _fuelWas) = (true, _fuelOn.On);
        // A tank that no longer feeds it: the other one does where the cross-feed is open.
        _v[_feedLost] = _f[_fFeed] > 0.5 ? 0 : 1;
        Take(ref Core.In.FuelOn, _fuelOn.On && (_f[_fFeed] > 0.5 || _crossFeed.On));
        Take(ref Core.In.Boosted, _ignitionPower.On);
        _v[_fuelValve] = _fuelOn.On ? 1 : 0;
        Take(ref Core.In.Igniter, _igniter.On && _ignitionPower.On);
        var backup = _backup is { On: true };
        Take(ref Core.In.Backup, backup);
        Take(ref Core.In.TargetN2Pct, Math.Max(_throttleN2[(int)_v[_throttle]], backup ? _d.Backup!.IdleN2Pct : 0));
        Take(ref Core.Faults.Igniter, _lost ? 0 : _f[_fIgniter]);
        Take(ref Core.Faults.FuelTrim, _f[_fTrim]);
        Take(ref Core.Faults.OilPump, _f[_fOil]);
        Take(ref Core.Faults.Broken, _f[_fBroken] > 0.5);
        Take(ref Core.Faults.Drip, _f[_fDrip]);
        var sound = _f[_fGen] > 0.5 && _f[_unitVolts] > _guard.LowestPerUnit && _f[_unitVolts] < _guard.HighestPerUnit;
        // A probe has teeth to count only while something turns.
        _noisePct = _f[_fProbe] > 0 && Core.N2Pct > ProbeFromPct ? _f[_fProbe] * _probe.Between(-1, 1) : 0;
        var ready = _v[_n2] >= _d.Generator.OnlineN2Pct;
        var online = _unit.Decide(ready && sound, _generator.On);
        _context.Disturbed |= online != GeneratorOnline;
        GeneratorOnline = online;
        // One that has let go for heat is not taken again before its switch has been worked.
        _spent = _starterHeat.Hot || _spent && _starter.On;
        var engages = _starter.On && !_spent && (_rival < 0 || _v[_rival] < 0.5);
        if (engages && !StarterValveOpen && Core.N2Pct < 1)
        {
            Core.BeginAttempt();
            _peakShown = _v[_gas];
        }

        // A valve that sticks stays where it was, whatever the switch says.
        // Two that ask in the same moment: the first in the data gets it, the other sees its valve open.
        // One that drops too early stays shut until the crank is let go.
        _drops = _starter.On && (_drops || StarterValveOpen && _f[_fDrop] < 1 && Core.N2Pct > _f[_fDrop] * _cutoutN2);
        Take(ref _valveOpen, engages && !_drops || _valveOpen && _f[_fStick] > 0.5);
        _v[_valve] = StarterValveOpen ? 1 : 0;
        _v[_dropped] = _drops ? 1 : 0;
        _v[_refused] = ready && _generator.On && !sound ? 1 : 0;
        _v[_gen] = GeneratorOnline ? 1 : 0;
    }

    // What changes for the core ends its even running.
    private void Take<T>(ref T held, T now)
        where T : IEquatable<T>
    {
        if (!held.Equals(now))
        {
            held = now;
            Even = false;
        }
    }

    // Ice before the intake holds in frost and is gone where the air is a few degrees over it.
    private double Blockage()
    {
        var ice = _f[_fIce] <= 0 ? 0 : _f[_fIce] * Math.Clamp(1 - _v[_airC] / MeltsC, 0, 1);
        _v[_iced] = ice > 0 ? 1 : 0;
        return Math.Max(_f[_fBlock], ice);
    }

    // A flame that goes out in flight while its fuel is still asked for.
    private void SeeFlame()
    {
        var was = _v[_flamedOut] > 0.5;
        var isOut = !Core.Lit && _fuelOn.On && (was || _burnt && Core.In.Mach > Engine.FlyingMach);
        if (_burnt && !Core.Lit && !_fuelOn.On && Core.In.Mach > Engine.FlyingMach && Core.N2Pct > CutRunningShare * _d.IdleN2Pct)
        {
            _v[_cutRunning] = 1;
        }

        (_v[_surge], _v[_robbed], _v[_tailFire]) = (Core.Surges ? 1 : 0, Core.Robbed ? 1 : 0, Core.TailFire ? 1 : 0);
        _v[_shortOfAir] = Core.ShortOfAir ? 1 : 0;
        (_v[_flamedOut], _v[_flameOuts], _burnt) = (isOut ? 1 : 0, _v[_flameOuts] + (isOut && !was ? 1 : 0), Core.Lit);
    }

    public override void Slow(double dt)
    {
        Take(ref Core.Faults.InletBlockage, Blockage());
        SeeFlame();
        Core.In.Draw = _draw >= 0 ? _v[_draw] : 0;
        Core.Slow(dt);
        if (_electric is not null)
        {
            _context.Disturbed |= _electric.Powered;
            _electric.Watts = _starterW * Math.Clamp(1 - Core.N2Pct / _starterZeroN2, 0.1, 1);
        }

        _v[_nozzle] = Core.NozzlePct;
        _v[_puddle] = Core.Puddle;
        _v[_starterS] = Core.StarterS;
        _context.Disturbed |= _starterHeat.Slow(StarterValveOpen, dt);
        (_v[_heat], _v[_hot]) = (100 * _starterHeat.Share, _starterHeat.Hot ? 1 : 0);
        (_v[_restS], _v[_triesLeft]) = (_starterHeat.RestS, _starterHeat.Tries);
        _v[_torch] = Core.Torching ? 1 : 0;
        _v[_maxPeak] = Math.Max(_v[_maxPeak], Core.PeakC);
        _v[_totalOver] = Math.Max(_v[_totalOver], Core.OverLimitS);
        _v[_oilC] = Core.OilC;
        _v[_n1] = _f[_fFan] > 0.5 ? 0 : Core.N1Pct;
        _crankS = StarterValveOpen && Core.N2Pct < 2 ? _crankS + dt : 0;
        _v[_still] = _crankS > 5 ? 1 : 0;
        // Alight, below idle, and no longer accelerating.
        var stands = Core.InStartCycle && dt > 0 && Math.Abs(Core.N2Pct - _n2Before) / dt < _d.Advice.StuckPctPerS;
        _n2Before = Core.N2Pct;
        _v[_stuck] = stands ? _v[_stuck] + dt : 0;
        _v[_late] = StarterValveOpen && Core.N2Pct > _lateN2 ? 1 : 0;
        _v[_hyd] = Core.HydraulicPsi;
        _v[_dry] = _fuelOn.On ? 0 : Math.Min(LongDryS, _v[_dry] + dt);
        if (dt > 0)
        {
            Even = (Core.Resting && !StarterValveOpen || Core.Smooth) && _noisePct == 0; // asked in the very step of a change it would answer from before it
        }

        PaceS = dt > 0 || Even ? Pace() : 0; // what has just changed has not shown yet how fast it goes
        if (Core.Resting)
        {
            Publish();
        }
    }

    private double Pace()
    {
        if (_noisePct != 0)
        {
            return 0;
        }

        if (Core.Resting && Even)
        {
            return Core.Cold && _v[_dry] >= LongDryS && _starterHeat.Share <= 0 ? Asleep : CooledS;
        }

        // A core that is cranked without fuel waits for a speed: whoever gives fuel at it should not see it late.
        return Core.Steady ? Drifting : Core.Smooth && Core.Lit ? Easing : 0;
    }

    private void TakeAir()
    {
        ref var input = ref Core.In;
        (input.AirC, input.DensityRatio, input.TailwindKt) = (_v[_airC], _v[_density], _v[_tailwind]);
        (input.PressureAltitudeFt, input.Mach, input.EasKt, input.LiftShare) = (_v[_altitude], _v[_mach], _v[_eas], _v[_lift]);
    }

    /// <inheritdoc/>
    public override void Move(double dt)
    {
        TakeAir();
        // An electric starter's torque goes with the square of its voltage.
        Core.In.Duct = _f[_fShaft] < 0.5 ? 0 : _electric is null ? _v[_duct] : _electric.Powered ? Math.Pow(_v[_starterBus] / _starterNominalV, 2) : 0;
        Core.In.StarterValve = StarterValveOpen;
        Take(ref Core.In.Bleed, _v[_bleed]);
        Core.Step(dt);
        if (!Core.Resting)
        {
            Publish();
        }
    }

    // Writes the fast signals.
    private void Publish()
    {
        (_v[_trueN2], _v[_n2]) = (Core.N2Pct, Math.Max(0, Core.N2Pct + _noisePct));
        _v[_gas] = _f[_fGauge] > 0.5 ? _v[_gas] : Core.GaugeC;
        _v[_trueGas] = Core.GasC;
        _peakShown = Math.Max(_peakShown, _v[_gas]);
        _v[_peak] = _peakShown; // the highest the gauge has shown: it lags behind the gas itself, which the judge goes by
        _v[_over] = Core.OverLimitS;
        _v[_fuel] = Core.FuelLbPerH;
        _v[_oil] = Core.OilPsi;
        _v[_lit] = Core.Lit ? 1 : 0;
        _v[_cycle] = Core.InStartCycle ? 1 : 0;
    }
}
