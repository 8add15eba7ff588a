using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Simulation;

/// <summary>
/// One aircraft, alive: the deterministic fixed-step simulation. The same header and command log give the same
/// trajectory to the last bit. No clock, no I/O, nothing allocated in <see cref="Step"/>.
/// </summary>
public sealed class Machine
{
    public const double StepSeconds = 0.02;
    private const int SlowEvery = 10;
    private const int MostPasses = 6;
    private const double SlowSeconds = StepSeconds * SlowEvery;

    private readonly Switch[] _handSwitches, _liveSwitches;
    private readonly MachineSystem[] _systems;
    private readonly EngineBay[] _engines;
    private readonly AuxiliaryUnit? _auxiliary;
    private readonly AirSupply _air;
    private readonly StarterBottles? _bottles;
    private readonly Electrics _electrics;
    private readonly FlightState _flight;
    private readonly MachineContext _context;
    private readonly FaultSchedule _schedule;
    private readonly int _time, _running;
    private readonly Station _station;
    private double[] _v;
    private double[] _f;
    private bool _touched = true;

    /// <summary>Builds a machine in the state the header describes.</summary>
    /// <exception cref="FormatException">The aircraft's data or the header is inconsistent; the message names the place.</exception>
    public Machine(AircraftDefinition aircraft, PlaceDefinition place, FaultCatalog faults, RunHeader header)
    {
        _context = new MachineContext(aircraft, place, header);
        Header = header;
        var s = _context.Signals;
        _time = s.AddNumber("time", "s", 0.1);
        _running = s.AddFlag("time.running", true);
        Controls = new Controls(_context);
        _station = Station.Of(place, header);
        _electrics = new Electrics(_context, GeneratorOnline);
        _engines = [.. aircraft.Engines.Select(e => new EngineBay(_context, e))];
        _auxiliary = aircraft.AuxiliaryUnit is { } unit ? new AuxiliaryUnit(_context, unit, AirTaken) : null;
        _air = new AirSupply(_context);
        _bottles = aircraft.Air.Bottles is { } bottles ? new StarterBottles(_context, bottles) : null;
        _flight = new FlightState(_context, _station.PressureAltitudeFt);
        var systems = new List<MachineSystem>(_engines) { _air, _flight };
        if (_auxiliary is not null)
        {
            systems.Add(_auxiliary);
        }

        if (_bottles is not null)
        {
            systems.Add(_bottles);
        }

        if (aircraft.FireDetection is { } fire)
        {
            systems.Add(new FireDetection(_context, fire, _air));
        }

        if (aircraft.Inertial is { } inertial)
        {
            systems.Add(new InertialSet(_context, inertial));
        }

        if (aircraft.FuelGauges is { } gauges)
        {
            systems.Add(new FuelGauges(_context, gauges));
        }

        systems.Add(new BrakeAccumulator(_context, BestHydraulics));
        systems.Add(new Boxes(_context, _air));
        systems.Add(new Crew(_context));
        systems.Add(new HeldTasks(_context));
        systems.Add(_electrics);
        systems.Add(new Lamps(_context));
        systems.Add(new ChainLinks(_context));
        CardNumbers.Register(_context, _station);
        foreach (var info in s.All.ToArray())
        {
            s.AddFlag(SignalTable.SeenPrefix + info.Name);
        }

        _systems = [.. systems];
        foreach (var made in _context.Switches)
        {
            var (condition, program) = _context.Compile(made.Text, made.Where);
            made.Compile(condition, program);
        }

        var hands = aircraft.Controls.Where(c => c.Returns.Count == 0).Select(c => s.Find(c.Id)!.Index).ToHashSet();
        var texts = _context.Switches.Where(w => w.Text is not null).ToList();
        // A condition on controls alone changes only when hands do: no need to ask it five times a second.
        _handSwitches = [.. texts.Where(w => w.Condition.Inputs.All(hands.Contains))];
        _liveSwitches = [.. texts.Where(w => !w.Condition.Inputs.All(hands.Contains))];
        foreach (var system in _systems)
        {
            system.Bind(_context);
        }

        (_v, _f) = (s.Values, _context.Faults.Values);
        _schedule = new FaultSchedule(_context, faults);
        if (header.Flight is { } flight)
        {
            ArrangeFlight(flight);
        }
    }

    public RunHeader Header { get; }

    /// <summary>The faults it carries: named in the header, and drawn.</summary>
    public IReadOnlyList<RunFault> Faults => _schedule.Faults;

    /// <summary>Names of the places where a fault can take hold.</summary>
    public IEnumerable<string> FaultInputNames => _context.Faults.Names;
    public Controls Controls { get; }
    public SignalTable Signals => _context.Signals;
    public AircraftDefinition Aircraft => _context.Aircraft;
    public PlaceDefinition Place => _context.Place;

    /// <summary>What every derived signal rests on.</summary>
    public IReadOnlyList<Rule> Rules => _context.Rules;
    public IReadOnlyList<Load> Loads => _context.Loads;

    /// <summary>Compiles a condition over this machine's signals.</summary>
    /// <exception cref="FormatException">It is malformed; the message begins with <paramref name="where"/>.</exception>
    public (Condition Condition, ConditionProgram Program) Compile(string? text, string where) => _context.Compile(text, where);

    /// <summary>The step about to be computed; <c>StepIndex * StepSeconds</c> is the time.</summary>
    public long StepIndex { get; private set; }

    public double Time => StepIndex * StepSeconds;

    /// <summary>The run's end was commanded.</summary>
    public bool Ended { get; private set; }

    /// <summary>Value of a signal by name, for tools and tests; the step works with indices.</summary>
    public double this[string name] => _v[(Signals.Find(name) ?? throw new ArgumentException($"no signal {name}", nameof(name))).Index];

    private bool GeneratorOnline(string drive)
    {
        if (drive == "aux")
        {
            return _auxiliary?.GeneratorOnline ?? false;
        }

        foreach (var engine in _engines)
        {
            if (engine.Id == drive)
            {
                return engine.GeneratorOnline;
            }
        }

        return false;
    }

    private double AirTaken()
    {
        foreach (var engine in _engines)
        {
            if (engine.StarterValveOpen)
            {
                return 1;
            }
        }

        return _air.CabinAir ? 0.4 : 0;
    }

    private double BestHydraulics()
    {
        var best = 0.0;
        foreach (var engine in _engines)
        {
            best = Math.Max(best, engine.Core.HydraulicPsi);
        }

        return best;
    }

    private void ArrangeFlight(RunFlight flight)
    {
        if (_engines.All(e => e.Id != flight.Dead))
        {
            throw new FormatException($"flight.dead: there is no engine \"{flight.Dead}\"");
        }

        foreach (var engine in _engines)
        {
            var running = engine.Id != flight.Dead && flight.Other == "idle";
            SetAir(engine);
            engine.Core.In.TargetN2Pct = Aircraft.Engine.IdleN2Pct;
            var windmill = Aircraft.Engine.Windmill.N2PctPerMach * _flight.Mach;
            engine.Core.StartAt(running ? Aircraft.Engine.IdleN2Pct : windmill, running);
            engine.Publish();
        }

        foreach (var side in Aircraft.Engines)
        {
            if (side.Id == flight.Dead || flight.Other == "idle")
            {
                // It flamed out with the throttle where it was: to cut off is the first act.
                var throttle = Signals.Find(side.Throttle)!;
                _v[throttle.Index] = Math.Max(0, throttle.PositionOf("idle"));
            }
            else
            {
                _f[_context.Faults.Find($"{side.Id}.igniter")] = 0; // lost for good
            }
        }

        foreach (var (control, position) in Aircraft.Flight.Positions)
        {
            var info = Signals.Find(control);
            var index = info?.PositionOf(position) ?? -1;
            _v[info?.Index ?? 0] = index >= 0 ? index : throw new FormatException($"flight.positions.{control}: there is no position \"{position}\"");
        }
    }

    /// <summary>Checks and applies a command before the next step.</summary>
    /// <exception cref="CommandException">It cannot be obeyed; nothing was changed.</exception>
    public void Apply(RunCommand command)
    {
        Check(command);
        if (command.Kind == CommandKind.End)
        {
            Ended = true;
            return;
        }

        Controls.Apply(command, Decide);
        _touched = true;
    }

    /// <summary>Checks that a command could be applied now.</summary>
    public void Check(RunCommand command)
    {
        if (Ended)
        {
            throw new CommandException("t", "the run has ended");
        }

        if (command.Kind == CommandKind.Report)
        {
            _schedule.CheckReport(command);
            return;
        }

        Controls.Check(command);
    }

    private void Decide()
    {
        foreach (var made in _handSwitches)
        {
            made.Refresh(_v);
        }

        Settle();
    }

    // A contactor that closes may close another, and lamps want to see both: at least two passes, more while power moves on.
    private void Settle()
    {
        for (var pass = 0; pass < 2 || _electrics.Changed && pass < MostPasses; pass++)
        {
            foreach (var made in _liveSwitches)
            {
                made.Refresh(_v);
            }

            foreach (var system in _systems)
            {
                system.Logic();
            }
        }
    }

    private void Tick()
    {
        foreach (var made in _liveSwitches)
        {
            made.Refresh(_v);
        }

        if (Controls.SpringBack(_v))
        {
            Decide();
            return;
        }

        foreach (var system in _systems)
        {
            system.Logic();
        }

        if (_electrics.Changed)
        {
            Settle();
        }
    }

    /// <summary>Advances the machine by 20 ms.</summary>
    public void Step()
    {
        _touched |= _schedule.Apply(StepIndex);
        if (StepIndex == 0)
        {
            Decide();
        }

        if (StepIndex % SlowEvery == 0)
        {
            Tick();
            foreach (var engine in _engines)
            {
                SetAir(engine);
            }

            foreach (var system in _systems)
            {
                system.Slow(StepIndex == 0 ? 0 : SlowSeconds);
            }

            _v[_time] = Time;
        }
        else if (_touched)
        {
            Settle();
        }

        _touched = false;
        Fast();
        StepIndex++;
    }

    private void Fast()
    {
        var open = 0;
        var bestBleed = 0.0;
        var idle = Aircraft.Engine.IdleN2Pct;
        var above = 0.0;
        var running = 0;
        foreach (var engine in _engines)
        {
            open += engine.StarterValveOpen ? 1 : 0;
            var core = engine.Core;
            if (core.Lit && core.N2Pct > 0.6 * idle)
            {
                bestBleed = Math.Max(bestBleed, core.N2Pct);
                above += Math.Clamp((core.N2Pct - idle) / (100 - idle), 0, 1);
                running++;
            }
        }

        _auxiliary?.Step(StepSeconds);
        _air.Step(StepSeconds, _auxiliary?.GivesAir(_flight.Airborne ? _flight.HeightFt : _station.PressureAltitudeFt) ?? false, bestBleed, _bottles?.Share ?? 0, open);
        if (_flight.Airborne)
        {
            _flight.Step(StepSeconds, running == 0 ? -1 : above / _engines.Length);
        }

        foreach (var engine in _engines)
        {
            engine.Step(_air.Duct);
        }
    }

    private void SetAir(EngineBay engine)
    {
        ref var input = ref engine.Core.In;
        if (_flight.Airborne)
        {
            input.AirC = _flight.TemperatureC;
            input.DensityRatio = _flight.RamDensityRatio;
            input.Mach = _flight.Mach;
            input.EasKt = _flight.EasKt;
            input.PressureAltitudeFt = _flight.HeightFt;
            input.TailwindKt = 0;
            return;
        }

        input.AirC = _station.OatC;
        input.DensityRatio = _station.DensityRatio;
        input.TailwindKt = _station.TailwindKt;
        input.Mach = 0;
        input.EasKt = 0;
        input.PressureAltitudeFt = _station.PressureAltitudeFt;
    }

    /// <summary>A digest of every value, bit by bit, continued from <paramref name="before"/> (FNV-1a): equal digests, equal trajectories.</summary>
    public ulong Digest(ulong before = 14695981039346656037UL)
    {
        for (var i = 0; i < Signals.Count; i++)
        {
            before = (before ^ (ulong)BitConverter.DoubleToInt64Bits(_v[i])) * 1099511628211UL;
        }

        return before;
    }
}
