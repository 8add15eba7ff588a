using System.Globalization;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// A small gas turbine beside the engines (an auxiliary unit, or a starter unit): spun up from an accumulator or by an
/// electric starter, governed, gives air when on speed and below its ceiling. Speed in %, gas temperature in °C.
/// </summary>
public sealed class AuxiliaryUnit : MovingSystem
{
    /// <summary>It gives air here: on speed and below its ceiling.</summary>
    public const string GivesAirSignal = "aux.gives-air";

    private const double GovernorGain = 0.8;
    private const double LateFactor = 1.35;
    private const double LongestStepS = 0.2;
    private const double NearLimitC = 40;
    private readonly AuxiliaryUnitDefinition _d;
    private readonly Switch _run, _needs, _stop, _generator;
    private readonly MachineContext _context;
    private readonly Load _control;
    private readonly Load? _starter;
    private Generator? _unit;
    private readonly Accumulator? _accumulator;
    private readonly double _ambientC, _accelPctPerS;
    private readonly int _n, _gas, _ready, _running, _left, _cooling, _tries, _armed, _tripped, _late, _noLight, _hot, _noTurn, _online, _givesAir, _starts;
    private readonly int _fPower, _fHeat, _fIgniter, _fShaft, _fDoor;
    private double _speed, _gasC, _gasBehindC, _stopClock, _runS, _coolS;
    private int _triesLeft;
    private bool _started, _sheared, _begun, _onSpeed;
    private int[] _starters = [];
    private int _cabin, _starterBus, _altitude;
    private double[] _v = [], _f = [];

    public AuxiliaryUnit(MachineContext context, AuxiliaryUnitDefinition definition)
    {
        (_context, _d) = (context, definition);
        _run = context.Switch(_d.Run, "auxiliaryUnit.run");
        _needs = context.Switch(_d.Needs, "auxiliaryUnit.needs");
        _stop = context.Switch(_d.StopWhen, "auxiliaryUnit.stopWhen");
        _generator = context.Switch(_d.GeneratorSwitch, "auxiliaryUnit.generatorSwitch");
        var s = context.Signals;
        var warm = context.Header.Beginning == "turnaround" ? context.Random("aux-left").Between(20, 90) : 0;
        _ambientC = context.Header.Conditions.OatC;
        _gasC = _ambientC + warm;
        _accelPctPerS = AccelerationFor(_d);
        _triesLeft = _d.Duty.Starts;
        (_n, _gas) = (s.AddNumber("aux.n", "%", 0.1), s.AddNumber("aux.gas", "°C", 1, _gasC));
        (_ready, _running) = (s.AddFlag("aux.ready"), s.AddFlag("aux.running"));
        (_left, _cooling) = (s.AddNumber("aux.left", "s", 0.2), s.AddNumber("aux.cooling", "s", 1));
        (_tries, _armed) = (s.AddNumber("aux.tries", "", 1, _triesLeft), s.AddFlag("aux.armed", true));
        (_tripped, _late) = (s.AddFlag("aux.tripped"), s.AddFlag("aux.late"));
        (_noLight, _hot) = (s.AddFlag("aux.no-light"), s.AddFlag("aux.hot"));
        (_noTurn, _online) = (s.AddFlag("aux.no-rotation"), s.AddFlag("aux.generator"));
        _givesAir = s.AddFlag(GivesAirSignal);
        (_fPower, _fHeat, _fIgniter) = (context.Faults.Add("aux.power", 1), context.Faults.Add("aux.heat", 1), context.Faults.Add("aux.light-off", 1));
        (_fShaft, _fDoor) = (context.Faults.Add("aux.shaft", 1), context.Faults.Add("aux.door", 1));
        _control = context.AddLoad("auxiliary-control", $"{_d.Label} control", _d.Bus, 120, _run);
        if (_d.Accumulator is { } store)
        {
            _accumulator = new Accumulator(context, store, "aux.accumulator", "auxiliaryUnit.accumulator", "Start accumulator");
            _starts = s.AddNumber("aux.accumulator-starts", "", 1, StartAttempts.Most);
        }

        if (_d.StarterW > 0)
        {
            if (context.Explains && _d.StarterV <= 0)
            {
                context.Wrong("auxiliaryUnit.starterV", "an electric starter needs the voltage at which it gives its full torque");
            }

            _starter = context.AddLoad("auxiliary-starter", $"{_d.Label} starter", _d.Bus, _d.StarterW,
                context.Switch(FormattableString.Invariant($"aux.running and aux.n < {_d.StarterOutPct}"), "auxiliaryUnit.starterW"), starterV: _d.StarterV);
        }

        if (context.Explains)
        {
            Explain(context);
        }
    }

    private void Explain(MachineContext context)
    {
        const string where = "auxiliaryUnit";
        var pressure = _d.Accumulator is { } a ? string.Create(CultureInfo.InvariantCulture, $"aux.accumulator >= {a.MinPsi}") : null;
        // Its own starter may pull down at once what it needed to begin: what it needs, it needs to begin.
        var begin = Term.All(Term.Fact("aux.armed"), Term.Fact("load.auxiliary-control"), pressure is null ? null : Term.Fact(pressure), Term.Fact("aux.cooling < 0.5"),
            Term.Fact("not aux.tripped"), _needs);
        context.Gate("aux.running", GateKind.Comes, where, $"{_d.Label}: running", Term.All(_run, Term.Any(Term.Fact("aux.running"), begin)));
        context.Gate("aux.running", GateKind.Ends, $"{where}.stopWhen", $"{_d.Label}: stops itself", _stop,
            FormattableString.Invariant($"It stops {_d.StopAfterS:0} s after that."));
        context.Gate("aux.armed", GateKind.Comes, where, $"{_d.Label}: switch was off since its last start", Term.Not(_run));
        context.Gate("aux.tripped", GateKind.Comes, where, $"{_d.Label}: stopped itself for safety", Term.Fact("aux.running"), "It stays stopped until the crew has looked at it.");
        context.Gate("aux.cooling", GateKind.Moves, where, $"{_d.Label}: cooling", Term.All(), "Only time cools it.");
        context.Gate("aux.ready", GateKind.Is, where, $"{_d.Label}: ready", Term.All(Term.Fact("aux.running"), Term.Fact(FormattableString.Invariant($"aux.n >= {_d.ReadyPct}"))));
        context.Gate("aux.n", GateKind.Moves, where, $"{_d.Label}: speed", Term.Fact("aux.running"));
        if (_d.GeneratorW > 0)
        {
            context.Gate("aux.generator", GateKind.Is, where, $"{_d.Label}: generator on line",
                Term.All(Term.Fact("aux.ready"), _generator, Term.Fact("not aux.generator-tripped")));
        }
    }


    private bool GeneratorOnline { get; set; }

    /// <summary>The constant acceleration that, followed by the governor's approach, reaches the ready speed in the time given.</summary>
    private static double AccelerationFor(AuxiliaryUnitDefinition d)
    {
        double low = 1, high = 40;
        for (var i = 0; i < 60; i++)
        {
            var rate = (low + high) / 2;
            var knee = 100 - rate / GovernorGain;
            var time = knee <= 0 ? 0 : knee / rate + Math.Log(rate / GovernorGain / (100 - d.ReadyPct)) / GovernorGain;
            (low, high) = time > d.ReadyS ? (rate, high) : (low, rate);
        }

        return low;
    }

    public override void Bind(MachineContext context)
    {
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
        _accumulator?.Bind(context);
        _unit = _d.GeneratorW > 0 ? context.GeneratorOf("aux") : null;
        _starters = [.. context.Aircraft.Engines.Select(e => context.Reads($"{e.Id}.starter-valve", Phase.Before))];
        _cabin = context.Reads(AirSupply.CabinSignal, Phase.Before);
        _starterBus = context.Reads($"bus.{_d.Bus}", Phase.Move);
        _altitude = context.Reads(FlightState.AltitudeSignal, Phase.Before);
    }

    // Share of its air that is taken: a starter takes all it can give.
    private double AirTaken()
    {
        foreach (var starter in _starters)
        {
            if (_v[starter] > 0.5)
            {
                return 1;
            }
        }

        return _v[_cabin] > 0.5 ? _d.CabinShare : 0;
    }

    public override void Logic()
    {
        if (!_begun && _run.On)
        {
            _v[_armed] = 0; // the last pilot left the switch on: it must be worked
        }

        _begun = true;
        if (!_run.On)
        {
            _v[_armed] = 1;
            _started = false;
        }
        else if (_v[_armed] > 0.5 && !_started && MayStart)
        {
            StartUp();
        }

        _v[_running] = _started ? 1 : 0;
        GeneratorOnline = _unit?.Decide(_onSpeed && !_sheared, _generator.On) == true;
        var online = GeneratorOnline ? 1 : 0;
        _context.Disturbed |= _v[_online] != online;
        _v[_online] = online;
    }

    private bool MayStart => _control.Powered && _needs.On && _coolS < 0.5 && _v[_tripped] < 0.5
        && (_accumulator is null || _accumulator.Psi >= _accumulator.MinPsi);

    private void StartUp()
    {
        _started = true;
        _v[_armed] = 0;
        _runS = 0;
        _accumulator?.Spend(_d.AccumulatorUsePsi);
        _triesLeft--;
    }

    private void Stop(bool forSafety)
    {
        _started = false;
        _v[_tripped] = forSafety ? 1 : _v[_tripped];
        _v[_running] = 0;
    }

    /// <inheritdoc/>
    public override void Move(double dt)
    {
        for (; (_started || _speed > 0) && dt > 1e-9; dt -= LongestStepS)
        {
            Stride(Math.Min(dt, LongestStepS));
        }

        _v[_givesAir] = _onSpeed && !_sheared && _v[_altitude] <= _d.CeilingFt ? 1 : 0;
    }

    private void Stride(double dt)
    {
        if (_started)
        {
            Turn(dt);
            Burn(dt);
        }
        else
        {
            _speed = Math.Max(0, _speed - dt * (2 + _speed * 0.09));
            _gasC += dt / 25 * (_ambientC - _gasC);
        }

        _onSpeed = _started && _speed >= _d.ReadyPct;
        _v[_n] = _speed;
        _v[_gas] = _gasC;
        _v[_ready] = _onSpeed ? 1 : 0;
    }

    private void Turn(double dt)
    {
        if (_f[_fDoor] < 0.5 && _speed < 1)
        {
            return; // behind a shut door nothing turns
        }

        if (_f[_fShaft] < 0.5 && _speed > 92)
        {
            _sheared = true; // nothing left to carry: it runs away
        }

        if (_sheared)
        {
            _speed += dt * 9;
            if (_speed > _d.OverspeedPct)
            {
                Stop(forSafety: true);
            }

            return;
        }

        var lit = _f[_fIgniter] > 0.5;
        var power = _f[_fPower];
        var electric = _starter is not null && _speed < _d.StarterOutPct;
        // An electric starter's torque goes with the square of its voltage.
        var starter = electric ? Math.Pow(Math.Clamp(_v[_starterBus] / _d.StarterV, 0, 1.1), 2) : 1;
        var accel = Math.Min(_accelPctPerS * power * starter, (100 - _speed) * GovernorGain);
        if (!lit)
        {
            accel = Math.Min(accel, 0.35 * (28 - _speed)); // the starter alone
        }
        else if (power < 0.4 && _speed > 45)
        {
            accel = 0.1 * (45 - _speed); // a sick unit hangs where its starter lets go
        }

        _speed = Math.Max(0, _speed + dt * accel);
    }

    private void Burn(double dt)
    {
        var lit = _f[_fIgniter] > 0.5 && _speed > _d.LightsAtPct;
        var load = _d.LoadC * (0.7 * AirTaken() + (GeneratorOnline ? 0.3 : 0));
        var target = !lit ? _ambientC + 12 : (_speed < 88 ? _d.PeakC / Math.Max(0.85, _f[_fPower]) : _d.SettleC + load) * _f[_fHeat];
        _gasBehindC = Math.Abs(target - _gasC);
        _gasC += dt / 2.2 * (target - _gasC);
        if (_gasC > _d.TripC)
        {
            Stop(forSafety: true);
        }
    }

    public override void Slow(double dt)
    {
        _runS = _started ? _runS + dt : 0;
        if (_starter is not null)
        {
            _context.Disturbed |= _starter.Powered;
            _starter.Watts = _d.StarterW * Math.Clamp(1 - _speed / (_d.StarterOutPct + 20), 0.2, 1);
        }

        Rest(dt);
        _v[_left] = _started && !_onSpeed ? Math.Clamp((_d.ReadyPct - _speed) / (_accelPctPerS * Math.Max(0.05, _f[_fPower])), 0, 999) : 0;
        _v[_cooling] = _coolS;
        _v[_tries] = _triesLeft;
        _v[_noTurn] = _started && _runS > 4 && _speed < 3 ? 1 : 0;
        _v[_noLight] = _started && _runS > 9 && _speed > 8 && _gasC < _ambientC + 60 ? 1 : 0;
        _v[_hot] = _gasC > _d.LimitC ? 1 : 0;
        _v[_late] = _started && !_onSpeed && _runS > _d.ReadyS * LateFactor ? 1 : 0;
        // The running unit pumps its own accumulator up again within about a minute.
        _accumulator?.Slow(dt, _onSpeed ? _d.Accumulator!.FullPsi : 0);
        if (_accumulator is not null)
        {
            _v[_starts] = _accumulator.Spends(_d.AccumulatorUsePsi, StartAttempts.Most);
        }

        _stopClock = _stop.On && _started ? _stopClock + dt : 0;
        if (_stopClock >= _d.StopAfterS)
        {
            Stop(forSafety: false);
        }

        var settled = _started ? _onSpeed && !_sheared && Math.Abs(100 - _speed) < 0.05 && _gasBehindC < 1 : _speed <= 0;
        PaceS = settled ? Rests() : Pace();
    }

    // Who waits for the unit waits for its ready lamp: the run-up holds no surprise but heat.
    private double Pace() => _onSpeed || _gasC > _d.LimitC - NearLimitC ? Easing : Math.Clamp(_v[_left], Easing, Drifting);

    private double Rests() => _stopClock > 0 ? _d.StopAfterS - _stopClock : _accumulator is null && !_started && _coolS <= 0 ? Asleep : Drifting;

    // Cooling is counted from the end of an attempt; the last of the allowed ones costs the long rest.
    private bool _wasStarted;

    private void Rest(double dt)
    {
        if (_wasStarted && !_started)
        {
            _coolS = _triesLeft > 0 ? _d.Duty.BetweenS : _d.Duty.CoolS;
        }

        _wasStarted = _started;
        if (_coolS > 0)
        {
            _coolS = Math.Max(0, _coolS - dt);
            if (_coolS <= 0 && _triesLeft <= 0)
            {
                _triesLeft = _d.Duty.Starts;
            }
        }
    }
}
