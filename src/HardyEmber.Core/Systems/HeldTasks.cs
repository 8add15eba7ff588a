using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>Self-tests, keys and sweeps: done once their condition has held without a break for the time given.</summary>
public sealed class HeldTasks : MachineSystem
{
    private readonly HeldTask[] _tasks;
    private double[] _v = [];

    private sealed class HeldTask(double seconds, Switch held, Switch needs, Switch lost, int done, int progress)
    {
        public double Seconds { get; } = seconds;
        public Switch Held { get; } = held;
        public Switch Needs { get; } = needs;
        public Switch Lost { get; } = lost;
        public int Done { get; } = done;
        public int Progress { get; } = progress;
        public double HeldS;
    }

    public HeldTasks(MachineContext context)
    {
        var s = context.Signals;
        _tasks = [.. context.Aircraft.HeldTasks.Select(t => new HeldTask(t.Seconds,
            context.Switch(t.While, $"heldTasks.{t.Id}.while"),
            context.Switch(t.Needs, $"heldTasks.{t.Id}.needs"),
            context.Switch(t.LostWhen ?? "not time.running", $"heldTasks.{t.Id}.lostWhen"),
            s.AddFlag($"task.{t.Id}"), s.AddNumber($"task.{t.Id}.progress", "%", 1)))];
        foreach (var (d, task) in context.Explains ? context.Aircraft.HeldTasks.Zip(_tasks) : [])
        {
            var where = $"heldTasks.{d.Id}";
            context.Gate($"task.{d.Id}", GateKind.Comes, where, d.Label, Term.All(task.Needs, task.Held), FormattableString.Invariant($"Hold it {d.Seconds} s without a break."));
            context.Gate($"task.{d.Id}", GateKind.Ends, where, $"{d.Label}: lost again", task.Lost);
        }
    }

    public override void Bind(MachineContext context) => _v = context.Signals.Values;

    public override void Slow(double dt)
    {
        PaceS = Asleep;
        foreach (var task in _tasks)
        {
            if (task.Lost.On)
            {
                _v[task.Done] = 0;
            }

            var held = task.Held.On && task.Needs.On;
            task.HeldS = held ? task.HeldS + dt : 0;
            _v[task.Progress] = Math.Min(100, 100 * task.HeldS / task.Seconds);
            if (task.HeldS >= task.Seconds - 1e-9)
            {
                _v[task.Done] = 1;
            }
            else if (held)
            {
                PaceS = Math.Min(PaceS, task.Seconds - task.HeldS);
            }
        }
    }
}
