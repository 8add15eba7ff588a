using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;

namespace HardyEmber.Core.Simulation;

/// <summary>Runs the tasks of an aircraft; see <see cref="TaskDefinition"/>.</summary>
public sealed class Tasks : MachineSystem
{
    /// <summary>Watts that the tasks give to a bay.</summary>
    public static string HeatSignal(string bay) => $"{bay}.heat";

    private readonly RunningTask[] _tasks;
    private readonly int[] _heat;
    private readonly int[] _bayOf;
    private readonly List<(int Input, int Signal)> _faults = [];
    private readonly int[] _passing;
    private int _passingCount;
    private bool _allPass = true;
    private double[] _v = [], _f = [];

    public Tasks(MachineContext context)
    {
        ArgumentNullException.ThrowIfNull(context);
        string[] bays = [TaskDefinition.FirstBay, .. context.Aircraft.Bays.Select(b => b.Id)];
        _heat = [.. bays.Select(b => context.Signals.AddNumber(HeatSignal(b), "W", 1, hidden: true))];
        _bayOf = [.. context.Aircraft.Tasks.Select(t => Bay(bays, t, context))];
        AddFaults(context);
        var plans = context.Alike(() => TaskPlans.Of(context));
        var (flags, streams) = (new TaskFlag[plans.Flags], new Dictionary<string, RandomStream>(StringComparer.Ordinal));
        _tasks = [.. plans.Plans.Select(p => new RunningTask(p, context, flags, Stream(p.Definition, context, streams)))];
        _passing = new int[_tasks.Length];
        for (var i = 0; context.Explains && i < _tasks.Length; i++)
        {
            TaskGates.State(context, _tasks[i]);
        }
    }

    private static int Bay(string[] bays, TaskDefinition task, MachineContext context)
    {
        var bay = Array.IndexOf(bays, task.Bay);
        if (bay < 0)
        {
            context.Wrong($"tasks.{task.Id}.bay", $"there is no bay \"{task.Bay}\"{Nearest.Hint(task.Bay, bays)}");
        }

        return Math.Max(0, bay);
    }

    // A condition may ask for a fault; the signal that shows it is no instrument.
    private void AddFaults(MachineContext context)
    {
        foreach (var (name, healthy) in context.Aircraft.Tasks.SelectMany(t => t.Faults).DistinctBy(f => f.Key))
        {
            _faults.Add((context.Faults.Add(name, healthy), context.Signals.AddNumber(SignalTable.FaultPrefix + name, "", 0.01, healthy, hidden: true)));
        }
    }

    private static RandomStream Stream(TaskDefinition d, MachineContext context, Dictionary<string, RandomStream> known)
    {
        var name = d.Stream ?? d.Id;
        return known.TryGetValue(name, out var stream) ? stream : known[name] = context.Random(name);
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

        _allPass = true;
    }

    /// <summary>Nothing that it decides by has changed, and time is not passed here.</summary>
    public override void Quiet() { }

    public override void Slow(double dt)
    {
        PaceS = Asleep;
        var (count, changed) = (_allPass ? _tasks.Length : _passingCount, _allPass);
        _passingCount = 0;
        for (var n = 0; n < count; n++)
        {
            var i = _allPass ? n : _passing[n];
            var task = _tasks[i];
            changed |= task.Pass(dt);
            if (task.NextS < Asleep)
            {
                // The others stand still until something is decided anew.
                _passing[_passingCount++] = i;
                PaceS = Math.Min(PaceS, task.NextS);
            }
        }

        _allPass = false;
        if (changed)
        {
            Heat();
        }
    }

    private void Heat()
    {
        foreach (var heat in _heat)
        {
            _v[heat] = 0;
        }

        for (var i = 0; i < _tasks.Length; i++)
        {
            _v[_heat[_bayOf[i]]] += _tasks[i].HeatW;
        }
    }
}
