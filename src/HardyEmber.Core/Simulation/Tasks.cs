using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Simulation;

/// <summary>Runs the tasks of an aircraft; see <see cref="TaskDefinition"/>.</summary>
public sealed class Tasks : MachineSystem
{
    /// <summary>Watts that the tasks give to the avionics bay.</summary>
    public const string HeatSignal = "cabinet.heat";

    private readonly RunningTask[] _tasks;
    private readonly Dictionary<string, RandomStream> _streams = [];
    private readonly int _heat;
    private readonly List<(int Input, int Signal)> _faults = [];
    private double[] _v = [], _f = [];

    public Tasks(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        _heat = context.Signals.AddNumber(HeatSignal, "W", 1, hidden: true);
        AddFaults(context);
        var flags = new Dictionary<string, TaskFlag>(StringComparer.Ordinal);
        _tasks = [.. context.Aircraft.Tasks.Select(d => new RunningTask(d, context, flags, Stream(d, context)))];
        for (var i = 0; context.Explains && i < _tasks.Length; i++)
        {
            TaskGates.State(context, _tasks[i]);
        }
    }

    // A condition may ask for a fault; the signal that shows it is no instrument.
    private void AddFaults(MachineContext context)
    {
        foreach (var (name, healthy) in context.Aircraft.Tasks.SelectMany(t => t.Faults).DistinctBy(f => f.Key))
        {
            _faults.Add((context.Faults.Add(name, healthy), context.Signals.AddNumber(SignalTable.FaultPrefix + name, "", 0.01, healthy, hidden: true)));
        }
    }

    private RandomStream Stream(TaskDefinition d, MachineContext context)
    {
        var name = d.Stream ?? d.Id;
        return _streams.TryGetValue(name, out var known) ? known : _streams[name] = context.Random(name);
    }

    public override void Bind(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        (_v, _f) = (context.Signals.Values, context.Faults.Values);
        foreach (var task in _tasks)
        {
            task.Bind(_v);
        }
    }

    public override void Logic()
    {
        foreach (var (input, signal) in _faults)
        {
            _v[signal] = _f[input];
        }

        foreach (var task in _tasks)
        {
            task.Look();
        }
    }

    public override void Slow(double dt)
    {
        (PaceS, var heat) = (Asleep, 0.0);
        foreach (var task in _tasks)
        {
            task.Pass(dt);
            PaceS = Math.Min(PaceS, task.NextS);
            heat += task.HeatW;
        }

        _v[_heat] = heat;
    }
}

/// <summary>A flag, and how many tasks give it now.</summary>
internal sealed class TaskFlag(int signal)
{
    public int Signal { get; } = signal;
    public int Given { get; set; }
}

/// <summary>A state with its conditions.</summary>
internal sealed class RunningState(TaskState definition, Switch held, (Switch When, Switch? Forced, int To)[] exits, (Switch When, int To)[] ends, (TaskFlag Flag, Switch When)[] gives, int[] leaves, int broken)
{
    public TaskState Definition { get; } = definition;
    public Switch Held { get; } = held;

    /// <summary>Every condition of it.</summary>
    public IEnumerable<Switch> Switches => [Held, .. Exits.Select(e => e.When), .. Exits.Select(e => e.Forced).OfType<Switch>(), .. Ends.Select(e => e.When), .. Gives.Select(g => g.When)];
    public (Switch When, Switch? Forced, int To)[] Exits { get; } = exits;
    public (Switch When, int To)[] Ends { get; } = ends;
    public (TaskFlag Flag, Switch When)[] Gives { get; } = gives;

    /// <summary>Flags that stand from its beginning on.</summary>
    public int[] Leaves { get; } = leaves;
    public int Broken { get; } = broken;

    /// <summary>Seconds of the states that come before and after it in one wait.</summary>
    public double BeforeS { get; set; }
    public double AfterS { get; set; }
    public double MeanS => Definition.Seconds is { Count: > 0 } s ? s.Average() : 0;
}

/// <summary>One task as it stands.</summary>
internal sealed class RunningTask
{
    private const int MostAtOnce = 8;
    private readonly RandomStream _random;
    private readonly int _state, _left, _progress, _since, _time;
    private double[] _v = [];
    private ulong _given, _armed = ulong.MaxValue, _drawn;
    private double _leftS, _wholeS, _outS;

    public RunningTask(TaskDefinition d, MachineContext context, Dictionary<string, TaskFlag> flags, RandomStream random)
    {
        (Definition, _random) = (d, random);
        var (s, where) = (context.Signals, $"tasks.{d.Id}");
        if (d.Load is { } load)
        {
            _ = context.AddLoad(load.Id, load.Label, load.Bus, load.Watts, context.Switch(load.When, $"{where}.load.when"), load.HoldUpS);
        }

        (_state, _left) = (s.AddPositions($"{d.Id}.state", [.. d.States.Select(x => x.Id)], 0), s.AddNumber($"{d.Id}.left", "s", 1));
        (_progress, _since) = (s.AddNumber($"{d.Id}.progress", "%", 1), s.AddNumber($"{d.Id}.since", "s", 1));
        _time = s.Find("time")!.Index;
        States = [.. d.States.Select((x, i) => Make(x, i, where, context, flags))];
        foreach (var state in States)
        {
            state.AfterS = Wait(state, States.Length);
        }

        foreach (var state in States.Where(x => x.Definition.Seconds is not null))
        {
            foreach (var (_, to) in state.Ends)
            {
                States[to].BeforeS = Math.Max(States[to].BeforeS, States[to].Definition.Seconds is null ? 0 : state.BeforeS + state.MeanS);
            }
        }
    }

    public TaskDefinition Definition { get; }
    public RunningState[] States { get; }
    public int At { get; private set; }
    public double HeatW => States[At].Definition.HeatW;

    /// <summary>Seconds to the next thing that it does by itself.</summary>
    public double NextS { get; private set; } = MachineSystem.Asleep;

    // What is still to be waited for after a state, along the last of its ends: the way it goes when nothing is wrong.
    private double Wait(RunningState state, int deepest) => state.Definition.Seconds is null || deepest == 0 || state.Ends is [] ? 0
        : States[state.Ends[^1].To] is { Definition.Seconds: not null } next ? next.MeanS + Wait(next, deepest - 1) : 0;

    private RunningState Make(TaskState x, int at, string task, MachineContext context, Dictionary<string, TaskFlag> flags)
    {
        var where = $"{task}.states.{x.Id}";
        int Place(string? name, int otherwise)
        {
            var place = name is null ? otherwise : Definition.States.Select(s => s.Id).ToList().IndexOf(name);
            if (place < 0 || place >= Definition.States.Count)
            {
                context.Wrong(where, name is null ? "it ends, and no state follows" : $"there is no state \"{name}\"{Numbers.Nearest.Hint(name, Definition.States.Select(s => s.Id))}");
            }

            return Math.Clamp(place, 0, Definition.States.Count - 1);
        }

        if (x.Seconds is { } times && (times.Count is 0 or > 2 || times.Any(t => !(t >= 0)) || times[^1] < times[0]))
        {
            context.Wrong($"{where}.seconds", "give one time, or the least and the most");
        }

        if (x.Keeps is { } keeps && keeps != TaskState.Previous)
        {
            _ = Place(keeps, 0);
        }

        if (x.Exits.Count > 64 || x.Gives.Count > 64)
        {
            context.Wrong(where, "at most 64 exits and flags");
        }

        var ends = x.Seconds is null ? [] : x.Ends.Count > 0 ? x.Ends : [new TaskExit(Definition.States.ElementAtOrDefault(at + 1)?.Id ?? "")];
        return new RunningState(x, context.Switch(x.While, $"{where}.while"),
            [.. x.Exits.Select((e, i) => (context.Switch(e.When, $"{where}.exits[{i}].when"), e.Forced is null ? null : context.Switch(e.Forced, $"{where}.exits[{i}].forced"), Place(e.To, 0)))],
            [.. ends.Select((e, i) => (context.Switch(e.When, $"{where}.ends[{i}].when"), Place(e.To.Length > 0 ? e.To : null, at + 1)))],
            [.. GivenBy(x, Definition.States.Count).Select(g => (Flag(g.Key, context, flags), context.Switch(g.Value, $"{where}.gives.{g.Key}")))],
            [.. x.Leaves.Select(name => Flag(name, context, flags).Signal)], Place(x.Broken, 0));
    }

    // What it gives itself comes first.
    private IEnumerable<KeyValuePair<string, string>> GivenBy(TaskState x, int deepest)
    {
        var at = Definition.States.ToList().IndexOf(x);
        var kept = x.Keeps is null || deepest == 0 ? null : x.Keeps == TaskState.Previous ? Definition.States.ElementAtOrDefault(at - 1) : Definition.States.FirstOrDefault(s => s.Id == x.Keeps);
        return x.Gives.Concat(kept is null ? [] : GivenBy(kept, deepest - 1)).DistinctBy(g => g.Key);
    }

    private static TaskFlag Flag(string name, MachineContext context, Dictionary<string, TaskFlag> flags) =>
        flags.TryGetValue(name, out var known) ? known : flags[name] = new TaskFlag(context.Signals.AddFlag(name));

    public void Bind(double[] values) => _v = values;

    /// <summary>Leaves its state where something says so.</summary>
    public void Look()
    {
        // A state that goes on at once to another is not seen by anybody.
        for (var n = 0; n < MostAtOnce && Leave(); n++)
        {
        }

        Publish();
    }

    private bool Leave()
    {
        var state = States[At];
        for (var i = 0; i < state.Exits.Length; i++)
        {
            var (when, forced, to) = state.Exits[i];
            var (exit, bit) = (state.Definition.Exits[i], 1UL << i);
            if (!when.On)
            {
                _armed |= bit;
            }
            else if ((!exit.Anew || (_armed & bit) != 0) && Chances(exit, forced, bit))
            {
                Enter(to);
                return true;
            }
        }

        if (!state.Held.On && state.Definition.PatienceS <= 0 && state.Broken != At)
        {
            Enter(state.Broken);
            return true;
        }

        return false;
    }

    private bool Chances(TaskExit exit, Switch? forced, ulong bit)
    {
        if (exit.Odds >= 1 || (_drawn & bit) != 0)
        {
            return exit.Odds >= 1;
        }

        _drawn |= bit;
        return _random.Next() < exit.Odds || forced is { On: true };
    }

    private void Enter(int to)
    {
        At = to;
        (_armed, _drawn, _outS) = (0, 0, 0);
        var seconds = States[to].Definition.Seconds;
        _leftS = _wholeS = seconds is null ? 0 : seconds.Count == 1 ? seconds[0] : _random.Between(seconds[0], seconds[1]);
        (_v[_state], _v[_since]) = (to, _v[_time]);
        foreach (var flag in States[to].Leaves)
        {
            _v[flag] = 1;
        }
    }

    /// <summary>Lets time pass.</summary>
    public void Pass(double dt)
    {
        var state = States[At];
        NextS = MachineSystem.Asleep;
        if (!state.Held.On)
        {
            _outS += dt;
            if (_outS > state.Definition.PatienceS && state.Broken != At)
            {
                Enter(state.Broken);
            }

            NextS = 0;
        }
        else
        {
            _outS = 0;
            if (state.Definition.Seconds is not null)
            {
                _leftS -= dt;
                if (_leftS < 1e-9)
                {
                    End(state);
                }
            }
        }

        NextS = Math.Min(NextS, States[At].Definition.Seconds is null ? MachineSystem.Asleep : Math.Max(0, _leftS));
        if (States[At] != state)
        {
            Look();
        }
        else
        {
            Publish();
        }
    }

    private void End(RunningState state)
    {
        foreach (var (when, to) in state.Ends)
        {
            if (when.On)
            {
                // What a tick was too long for one wait belongs to the next.
                var over = Math.Min(0, _leftS);
                Enter(to);
                _leftS += States[to].Definition.Seconds is null ? 0 : over;
                return;
            }
        }
    }

    private void Publish()
    {
        var state = States[At];
        var given = 0UL;
        for (var i = 0; i < state.Gives.Length; i++)
        {
            given |= (state.Gives[i].When.On ? 1UL : 0) << i;
        }

        if (given != _given || _givenBy != At)
        {
            Give(States[_givenBy], _given, -1);
            Give(state, given, 1);
            (_given, _givenBy) = (given, At);
        }

        var left = Math.Max(0, _leftS);
        var waits = state.Definition.Seconds is not null;
        _v[_left] = waits && state.Held.On ? left + state.AfterS : 0;
        _v[_progress] = !waits ? 0 : 100 * (state.BeforeS + _wholeS - left) / Math.Max(1e-9, state.BeforeS + _wholeS + state.AfterS);
    }

    private int _givenBy;

    private void Give(RunningState state, ulong given, int by)
    {
        for (var i = 0; i < state.Gives.Length; i++)
        {
            if ((given >> i & 1) != 0)
            {
                var flag = state.Gives[i].Flag;
                flag.Given += by;
                _v[flag.Signal] = flag.Given > 0 ? 1 : 0;
            }
        }
    }
}
