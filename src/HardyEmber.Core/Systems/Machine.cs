using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// One aircraft, alive: the deterministic fixed-step simulation. The same header and command log give the same
/// trajectory to the last bit. No clock, no I/O, nothing allocated in <see cref="Step"/>.
/// </summary>
public sealed class Machine
{
    private const int MostPasses = 6;
    private const double LongestStrideS = 1;

    private readonly Switch[] _switches;
    private readonly ConditionWatch _watch;
    private readonly MachineSystem[] _systems;
    private readonly Pacer _pacer;
    private readonly EngineBay[] _engines;
    private readonly AuxiliaryUnit? _auxiliary;
    private readonly AirSupply _air;
    private readonly StarterBottles? _bottles;
    private readonly Electrics _electrics;
    private readonly FlightState _flight;
    private readonly MachineContext _context;
    private readonly FaultSchedule _schedule;
    private readonly Action _moved;
    private readonly int _time, _running;
    private readonly Station _station;
    private double[] _v;
    private double[] _f;
    private bool _touched = true, _calm;
    private long _carriedTo, _handsSeen;

    /// <summary>Builds a machine in the state the header describes.</summary>
    /// <param name="problems">Takes what is wrong with the aircraft's data; such a machine is not to be flown.</param>
    /// <exception cref="FormatException">The aircraft's data or the header is inconsistent; the message names the place.</exception>
    public Machine(AircraftDefinition aircraft, PlaceDefinition place, FaultCatalog faults, RunHeader header, DataProblems? problems = null)
    {
        _context = new MachineContext(aircraft, place, header, problems);
        Header = header;
        var s = _context.Signals;
        _time = s.AddNumber("time", "s", 0.1);
        _running = s.AddFlag("time.running", true);
        Controls = new Controls(_context);
        _station = Station.Of(place, header);
        _electrics = new Electrics(_context);
        _engines = [.. aircraft.Engines.Select(e => new EngineBay(_context, e))];
        _auxiliary = aircraft.AuxiliaryUnit is { } unit ? new AuxiliaryUnit(_context, unit) : null;
        _air = new AirSupply(_context);
        _bottles = aircraft.Air.Bottles is { } bottles ? new StarterBottles(_context, bottles) : null;
        _flight = new FlightState(_context, _station.PressureAltitudeFt);
        var systems = new List<MachineSystem>(_engines) { new StartAdvisor(_context), _air, _flight };
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
            systems.Add(new FireDetection(_context, fire));
        }

        if (aircraft.Inertial is { } inertial)
        {
            systems.Add(new InertialSet(_context, inertial));
        }

        if (aircraft.FuelGauges is { } gauges)
        {
            systems.Add(new FuelGauges(_context, gauges));
        }

        if (aircraft.BrakeAccumulator is { } brake)
        {
            systems.Add(new BrakeAccumulator(_context, brake));
        }

        systems.Add(new Tasks(_context));
        if (aircraft.Cooling is { } cooling)
        {
            systems.Add(new Cooling(_context, cooling));
        }

        systems.Add(_electrics);
        systems.Add(new Lamps(_context));
        var links = new ChainLinks(_context);
        systems.Add(links);
        CardNumbers.Register(_context, _station);
        _context.Close();
        _systems = [.. systems];
        _pacer = new Pacer(_systems);
        (_switches, _watch) = ([.. _context.Switches], _context.Watch());
        foreach (var system in _systems)
        {
            system.Bind(_context);
        }

        (_v, _f, _moved) = (s.Values, _context.Faults.Values, Moved);
        _schedule = new FaultSchedule(_context, faults);
        if (header.Flight is { } flight)
        {
            ArrangeFlight(flight);
        }

        // Before the first step nothing has been decided; the chain must say so, and not that all is well.
        _ = Refresh();
        links.Logic();
        _handsSeen = 0;
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
    public IReadOnlyList<Gate> Gates => _context.Gates;
    public IReadOnlyList<Load> Loads => _context.Loads;

    /// <inheritdoc cref="MachineContext.Wrong"/>
    public void Wrong(string where, string problem) => _context.Wrong(where, problem);

    /// <summary>Compiles a condition over this machine's signals.</summary>
    /// <exception cref="FormatException">It is malformed; the message begins with <paramref name="where"/>.</exception>
    public (Condition Condition, ConditionProgram Program) Compile(string? text, string where) => _context.Compile(text, where);

    /// <summary>The step about to be computed; <c>StepIndex * Steps.Seconds</c> is the time.</summary>
    public long StepIndex { get; private set; }

    public double Time => StepIndex * Steps.Seconds;

    /// <summary>How often a hand, or a spring, has moved a control or an eye has looked at something.</summary>
    public long Hands { get; private set; } = 1;

    /// <summary>The run's end was commanded.</summary>
    public bool Ended { get; private set; }

    /// <summary>Value of a signal by name, for tools and tests; the step works with indices.</summary>
    public double this[string name] => _v[(Signals.Find(name) ?? throw new ArgumentException($"no signal {name}", nameof(name))).Index];

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
        Obey(command);
    }

    /// <summary>Applies a command that has been checked.</summary>
    internal void Obey(RunCommand command)
    {
        if (command.Kind == CommandKind.End)
        {
            Ended = true;
            return;
        }

        Controls.Apply(command, _moved);
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

    /// <summary>Brings every condition up to date; true if one changed.</summary>
    private bool Refresh()
    {
        var changed = _watch.Look(_v, _handsSeen != Hands);
        _handsSeen = Hands;
        foreach (var i in changed)
        {
            _switches[i].On = _watch[i];
        }

        return changed.Length > 0;
    }

    private void Moved()
    {
        Hands++;
        Settle();
    }

    // A contactor that closes may close another, and a lamp wants to see both: decided again until nothing changes.
    private void Settle()
    {
        CarryOn();
        Wake(StepIndex / Steps.PerTick * Steps.PerTick);
        for (var pass = 0; pass < MostPasses; pass++)
        {
            if (!Refresh() && !_electrics.Changed && pass > 0)
            {
                return;
            }

            foreach (var system in _systems)
            {
                system.Logic();
            }
        }
    }

    private void Tick()
    {
        _context.Disturbed |= Refresh() | _touched;
        if (_context.Disturbed)
        {
            Wake(StepIndex - Steps.PerTick);
        }

        if (_pacer.Woken && Controls.SpringBack(_v))
        {
            Moved();
            return;
        }

        var next = 0;
        for (var due = _pacer.Due(StepIndex); due != 0 && !_context.Disturbed;)
        {
            var i = Pacer.Take(ref due);
            _systems[i].Quiet();
            next = i + 1;
        }

        for (; next < _systems.Length && _context.Disturbed; next++)
        {
            _systems[next].Logic();
        }

        if (_context.Disturbed)
        {
            _context.Disturbed = false;
            Wake(StepIndex - Steps.PerTick);
        }

        if (_electrics.Changed)
        {
            Settle();
        }
    }

    /// <summary>
    /// What only drifts is integrated every eight seconds instead of five times a second, and waits may be passed over. For
    /// many runs at a time, where nobody looks on: a flight ends within seconds of the one stepped finely, see ChanceTests.
    /// </summary>
    public bool Coarse { get; init; }

    // Something changes: whoever has lagged behind is brought up to the last tick before it does, and everybody looks again.
    private void Wake(long until)
    {
        _calm = false;
        _pacer.Wake(until);
    }

    // What runs evenly is carried on to the present step, before anything changes for it.
    private void CarryOn()
    {
        var dt = (StepIndex - _carriedTo) * Steps.Seconds;
        _carriedTo = StepIndex;
        for (; dt > 0; dt -= LongestStrideS)
        {
            CarryOn(Math.Min(dt, LongestStrideS));
        }
    }

    private void CarryOn(double dt)
    {
        _auxiliary?.Step(dt);
        if (_calm)
        {
            Flow(dt);
        }

        foreach (var engine in _engines)
        {
            if (engine.Even)
            {
                engine.Step(_air.Duct, dt);
            }
        }
    }

    /// <summary>
    /// Passes over the steps in which nothing happens: on to the first tick at or after <paramref name="until"/>, or the
    /// next that a part asks for. A coarse machine only.
    /// </summary>
    public void PassOver(long until)
    {
        if (Coarse && _calm && !_touched)
        {
            var tick = Math.Max(until, StepIndex) + Steps.PerTick - 1;
            StepIndex = Math.Min(Math.Min(tick, _schedule.NextStep + Steps.PerTick - 1) / Steps.PerTick * Steps.PerTick, _pacer.NextTick);
        }
    }

    /// <summary>Advances the machine by 20 ms.</summary>
    public void Step()
    {
        _touched |= _schedule.Apply(StepIndex);
        if (StepIndex == 0)
        {
            Settle();
        }

        if (StepIndex % Steps.PerTick == 0)
        {
            CarryOn();
            Tick();
            foreach (var engine in _engines)
            {
                SetAir(engine);
            }

            _pacer.Slow(StepIndex, Coarse);
            _v[_time] = Time;
            Fast();
        }
        else
        {
            if (_touched)
            {
                Settle();
            }

            if (!_calm)
            {
                Fast();
            }
        }

        _touched = false;
        StepIndex++;
    }

    // What changes within a tick: engines between crank and even running, the air they take, flight.
    private void Fast()
    {
        _calm = !_flight.Airborne;
        foreach (var engine in _engines)
        {
            _calm &= engine.Even;
        }

        if (_calm)
        {
            return;
        }

        Flow(Steps.Seconds);
        foreach (var engine in _engines)
        {
            if (!engine.Even)
            {
                engine.Step(_air.Duct, Steps.Seconds);
            }
        }
    }

    private void Flow(double dt)
    {
        var open = 0;
        var idle = Aircraft.Engine.IdleN2Pct;
        var above = 0.0;
        var running = 0;
        foreach (var engine in _engines)
        {
            open += engine.StarterValveOpen ? 1 : 0;
            var core = engine.Core;
            if (core.Lit && core.N2Pct > 0.6 * idle)
            {
                above += Math.Clamp((core.N2Pct - idle) / (100 - idle), 0, 1);
                running++;
            }
        }

        _air.Step(dt, _auxiliary?.GivesAir(_flight.Airborne ? _flight.HeightFt : _station.PressureAltitudeFt) ?? false, _bottles?.Share ?? 0, open);
        if (_flight.Airborne)
        {
            _flight.Step(dt, running == 0 ? -1 : above / _engines.Length);
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
