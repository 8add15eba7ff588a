using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Simulation;

/// <summary>A flag of a machine, and how many of its tasks give it now.</summary>
internal struct TaskFlag
{
    public int Signal;
    public int Given;
}

/// <summary>One task as it stands.</summary>
internal sealed class RunningTask
{
    private const int MostAtOnce = 8;
    private readonly RandomStream _random;
    private readonly int _state, _left, _progress, _since, _time;
    private readonly PlannedState[] _states;
    private readonly List<Switch> _switches;
    private readonly int _firstSwitch;
    private readonly TaskFlag[] _flags;
    private readonly int[] _places;
    private double[] _v = [];
    private ulong _given, _armed = ulong.MaxValue, _drawn;
    private double _leftS, _wholeS, _outS;
    private int _at, _givenBy;

    /// <param name="flags">All flags that tasks of the machine give; it registers those that none before it does.</param>
    public RunningTask(TaskPlan plan, MachineContext context, TaskFlag[] flags, RandomStream random)
    {
        (Plan, _states, _random, _flags, _places) = (plan, plan.States, random, flags, plan.Places);
        var (s, d) = (context.Signals, plan.Definition);
        if (d.Load is { } load)
        {
            _ = context.AddLoad(load.Id, load.Label, load.Bus, load.Watts, context.Switch(load.When, $"tasks.{d.Id}.load.when"), load.HoldUpS);
        }

        (_state, _left) = (s.AddPositions($"{d.Id}.state", plan.StateNames, 0), s.AddNumber($"{d.Id}.left", "s", 1));
        (_progress, _since) = (s.AddNumber($"{d.Id}.progress", "%", 1), s.AddNumber($"{d.Id}.since", "s", 1));
        _time = s.Find("time")!.Index;
        (_switches, _firstSwitch) = (context.Switches, context.Switches.Count);
        foreach (var (text, where) in plan.Conditions)
        {
            _ = context.Switch(text, where);
        }

        for (var i = 0; i < _places.Length; i++)
        {
            ref var flag = ref flags[_places[i]];
            if (flag.Signal == 0)
            {
                flag.Signal = s.AddFlag(plan.Flags[i]);
            }
        }
    }

    public TaskPlan Plan { get; }
    public double HeatW => _states[_at].Definition.HeatW;

    /// <summary>Seconds to the next thing that it does by itself.</summary>
    public double NextS { get; private set; } = MachineSystem.Asleep;

    /// <summary>A condition by its place; null where it always holds.</summary>
    public Switch? Condition(int place) => place < 0 ? null : _switches[_firstSwitch + place];

    public IEnumerable<Switch> Switches => _switches.Skip(_firstSwitch).Take(Plan.Conditions.Count);

    /// <summary>The signal of a flag by its place.</summary>
    public int Signal(int flag) => _flags[_places[flag]].Signal;

    public void Bind(double[] values) => _v = values;

    private bool On(int condition) => condition < 0 || _switches[_firstSwitch + condition].On;

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
        var state = _states[_at];
        for (var i = 0; i < state.Exits.Length; i++)
        {
            var (when, forced, to) = state.Exits[i];
            var (exit, bit) = (state.Definition.Exits[i], 1UL << i);
            if (!On(when))
            {
                _armed |= bit;
            }
            else if ((!exit.Anew || (_armed & bit) != 0) && Chances(exit, forced, bit))
            {
                Enter(to);
                return true;
            }
        }

        if (!On(state.Held) && state.Definition.PatienceS <= 0 && state.Broken != _at)
        {
            Enter(state.Broken);
            return true;
        }

        return false;
    }

    private bool Chances(TaskExit exit, int forced, ulong bit)
    {
        if (exit.Odds >= 1 || (_drawn & bit) != 0)
        {
            return exit.Odds >= 1;
        }

        _drawn |= bit;
        return _random.Next() < exit.Odds || forced >= 0 && On(forced);
    }

    private void Enter(int to)
    {
        _at = to;
        (_armed, _drawn, _outS) = (0, 0, 0);
        var seconds = _states[to].Definition.Seconds;
        _leftS = _wholeS = seconds is null ? 0 : seconds.Count == 1 ? seconds[0] : _random.Between(seconds[0], seconds[1]);
        (_v[_state], _v[_since]) = (to, _v[_time]);
        foreach (var flag in _states[to].Leaves)
        {
            _v[Signal(flag)] = 1;
        }
    }

    /// <summary>Lets time pass; true if that brought another state.</summary>
    public bool Pass(double dt)
    {
        var (at, state) = (_at, _states[_at]);
        NextS = MachineSystem.Asleep;
        if (state.Definition.Seconds is null && On(state.Held))
        {
            _outS = 0;
            return false; // nothing of it moves by itself
        }

        if (!On(state.Held))
        {
            _outS += dt;
            if (_outS > state.Definition.PatienceS && state.Broken != _at)
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

        NextS = Math.Min(NextS, _states[_at].Definition.Seconds is null ? MachineSystem.Asleep : Math.Max(0, _leftS));
        if (_at == at)
        {
            Publish();
            return false;
        }

        Look();
        return true;
    }

    private void End(PlannedState state)
    {
        foreach (var (when, to) in state.Ends)
        {
            if (On(when))
            {
                // What a tick was too long for one wait belongs to the next.
                var over = Math.Min(0, _leftS);
                Enter(to);
                _leftS += _states[to].Definition.Seconds is null ? 0 : over;
                return;
            }
        }
    }

    private void Publish()
    {
        var state = _states[_at];
        var given = 0UL;
        for (var i = 0; i < state.Gives.Length; i++)
        {
            given |= (On(state.Gives[i].When) ? 1UL : 0) << i;
        }

        if (given != _given || _givenBy != _at)
        {
            Give(_states[_givenBy], _given, -1);
            Give(state, given, 1);
            (_given, _givenBy) = (given, _at);
        }

        var left = Math.Max(0, _leftS);
        var waits = state.Definition.Seconds is not null;
        _v[_left] = waits && On(state.Held) ? left + state.AfterS : 0;
        _v[_progress] = !waits ? 0 : 100 * (state.BeforeS + _wholeS - left) / Math.Max(1e-9, state.BeforeS + _wholeS + state.AfterS);
    }

    private void Give(PlannedState state, ulong given, int by)
    {
        for (var i = 0; i < state.Gives.Length; i++)
        {
            if ((given >> i & 1) != 0)
            {
                ref var flag = ref _flags[_places[state.Gives[i].Flag]];
                flag.Given += by;
                _v[flag.Signal] = flag.Given > 0 ? 1 : 0;
            }
        }
    }
}
