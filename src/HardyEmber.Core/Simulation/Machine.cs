using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Simulation;

/// <summary>Makes the parts of one kind that an aircraft has: none, one, or one an engine. Of several, each is made when it is asked for: what it registers is its own.</summary>
public delegate IEnumerable<MachineSystem> SystemKind(MachineContext context);

/// <summary>
/// One aircraft, alive: the deterministic fixed-step simulation. The same header and command log give the same
/// trajectory to the last bit. No clock, no I/O, nothing allocated in <see cref="Step"/>.
/// It names no system: the parts come from a registry, and the order of the step from what they read and write.
/// </summary>
public sealed class Machine
{
    private const int MostPasses = 6;
    private const double LongestStrideS = 1;

    private readonly List<Switch> _switches;
    private readonly ConditionWatch _watch;
    private readonly MachineSystem[] _systems;
    private readonly int[] _order;
    private readonly MovingSystem[] _movers;
    private readonly Calendar _calendar;
    private readonly MachineContext _context;
    private readonly FaultSchedule _schedule;
    private readonly Action _moved;
    private readonly int _time;
    private readonly double[] _v;
    private bool _touched = true, _calm;
    private long _carriedTo, _handsSeen;

    /// <summary>Builds a machine in the state the header describes.</summary>
    /// <param name="registry">Makes the parts that the aircraft's data ask for, each in its turn.</param>
    /// <param name="problems">Takes what is wrong with the aircraft's data; such a machine is not to be flown.</param>
    /// <exception cref="FormatException">The aircraft's data or the header is inconsistent; the message names the place.</exception>
    public Machine(AircraftDefinition aircraft, PlaceDefinition place, FaultCatalog faults, RunHeader header, IEnumerable<SystemKind> registry, DataProblems? problems = null)
    {
        ArgumentNullException.ThrowIfNull(registry);
        _context = new MachineContext(aircraft, place, header, problems);
        Header = header;
        var s = _context.Signals;
        _time = s.AddNumber("time", "s", 0.1);
        _ = s.AddFlag("time.running", true);
        Controls = new Controls(_context);
        _systems = [.. Make(registry)];
        _context.Close();
        (_switches, _watch) = (_context.Switches, _context.Watch());
        for (var i = 0; i < _systems.Length; i++)
        {
            _context.Binding(i);
            _systems[i].Bind(_context);
        }

        var order = _context.Finish(_systems);
        (_order, _movers) = (order.Tick, [.. order.Move.Select(i => _systems[i]).OfType<MovingSystem>()]);
        (_v, _moved) = (s.Values, Moved);
        _schedule = new FaultSchedule(_context, faults);
        _calendar = new Calendar(_systems, _order, _schedule);
        foreach (var i in _order)
        {
            // Each begins with what those before it have said.
            _ = Refresh();
            _systems[i].Begin();
        }

        // A part may have moved a control as it began: unseen, a hand that moves it back in the first instant would change nothing.
        _handsSeen = 0;
        _ = Refresh();
    }

    private IEnumerable<MachineSystem> Make(IEnumerable<SystemKind> registry)
    {
        var count = 0;
        foreach (var kind in registry)
        {
            _context.Registering(count);
            foreach (var system in kind(_context))
            {
                yield return system;
                _context.Registering(++count);
            }
        }

        _context.Registering(-1);
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

    /// <summary>The first signal whose value is no number; null where all are. Only odd data, such as a run's file may carry, can bring that about.</summary>
    public string? NoNumber()
    {
        var values = Signals.Values;
        for (var i = 0; i < values.Length; i++)
        {
            if (!double.IsFinite(values[i]))
            {
                return Signals.All.FirstOrDefault(s => s.Index == i)?.Name ?? "a signal";
            }
        }

        return null;
    }

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
            if (!Refresh() && !_context.Undecided && pass > 0)
            {
                return;
            }

            _context.Undecided = false;
            foreach (var i in _order)
            {
                _systems[i].Logic();
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

        if (_calendar.Woken && Controls.SpringBack(_v))
        {
            Moved();
            return;
        }

        if (!_context.Disturbed && !_calendar.AnyDue(StepIndex))
        {
            return;
        }

        _context.Undecided = false;
        foreach (var i in _order)
        {
            if (_context.Disturbed)
            {
                _systems[i].Logic();
            }
            else if (_calendar.IsDue(i))
            {
                _systems[i].Quiet();
            }
        }

        if (_context.Disturbed)
        {
            _context.Disturbed = false;
            Wake(StepIndex - Steps.PerTick);
        }

        if (_context.Undecided)
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
        _calendar.Wake(until);
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
        foreach (var mover in _movers)
        {
            if (mover.Even && (_calm || !mover.Follows))
            {
                mover.Move(dt);
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
            StepIndex = _calendar.Next(Math.Max(until, StepIndex));
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
            _calendar.Slow(StepIndex, Coarse);
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
        _calm = true;
        foreach (var mover in _movers)
        {
            _calm &= mover.Even;
        }

        if (_calm)
        {
            return;
        }

        foreach (var mover in _movers)
        {
            if (!mover.Even || mover.Follows)
            {
                mover.Move(Steps.Seconds);
            }
        }
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
