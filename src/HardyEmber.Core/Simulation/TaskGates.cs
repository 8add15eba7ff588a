namespace HardyEmber.Core.Simulation;

/// <summary>What the flags of a task rest on, read off its states: the gates are made of the very switches that it obeys.</summary>
internal sealed class TaskGates
{
    private readonly MachineContext _context;
    private readonly RunningTask _task;
    private readonly PlannedState[] _states;
    private readonly string _id, _where;

    private TaskGates(MachineContext context, RunningTask task) =>
        (_context, _task, _states, _id, _where) = (context, task, task.Plan.States, task.Plan.Definition.Id, $"tasks.{task.Plan.Definition.Id}");

    /// <summary>States the gates of a task; of a flag that several tasks give, the first names it and each tells its way.</summary>
    public static void State(MachineContext context, RunningTask task)
    {
        var gates = new TaskGates(context, task);
        foreach (var flag in gates._states.Where(s => !s.Definition.Fails).SelectMany(s => s.Gives.Select(g => g.Flag).Concat(s.Leaves)).Distinct())
        {
            gates.Flag(flag);
        }

        // Nobody wants what fails to come; but it can be ended.
        foreach (var flag in gates._states.Where(s => s.Definition.Fails).SelectMany(s => s.Gives.Select(g => g.Flag)).Distinct())
        {
            gates.End(flag);
        }

        // A state that gives nothing does nothing: what leads there needs no word.
        context.Explained(task.Switches);
    }

    private void Flag(int flag)
    {
        var name = _context.Signals.All[_task.Signal(flag)].Name;
        var giving = Giving(flag);
        // Where one giving state leads to another, to come into the first is enough.
        var first = giving.Where(at => !giving.Exists(other => other != at && Before(at).Contains(other))).ToList();
        var label = Label(name, _states[giving[0]]);
        var ways = first.Select(at => Reach(at, flag)).OfType<Term>().ToArray();
        if (_context.HasGate(name))
        {
            if (ways.Length > 0)
            {
                _context.OtherWay(name, GateKind.Comes, Term.Any(ways));
            }

            return;
        }

        if (ways.Length > 0)
        {
            _context.Gate(name, GateKind.Comes, _where, label, Term.Any(ways), _task.Plan.Definition.Remedy ?? Remedy(first[0]),
                aside: !name.StartsWith(_id, StringComparison.Ordinal));
        }

        End(flag);
    }

    private List<int> Giving(int flag) => [.. Enumerable.Range(0, _states.Length)
        .Where(i => _states[i].Leaves.Contains(flag) || Array.Exists(_states[i].Gives, g => g.Flag == flag))];

    // What stays by itself is lost by what leads away from it.
    private void End(int flag)
    {
        var (name, giving) = (_context.Signals.All[_task.Signal(flag)].Name, Giving(flag));
        if (!_context.HasEnd(name) && giving.TrueForAll(at => _states[at].Definition is { While: null, Seconds: null })
            && Known(giving.SelectMany(at => _states[at].Exits).Where(e => !giving.Contains(e.To)).Select(e => e.When)) is { Count: > 0 } leaves)
        {
            _context.Gate(name, GateKind.Ends, _where, $"{Label(name, _states[giving[0]])}: lost again", Term.Any([.. leaves]));
        }
    }

    private string Label(string name, PlannedState first) =>
        name == _id || first.Definition.Word is not { } word ? _task.Plan.Definition.Label : $"{_task.Plan.Definition.Label}: {word}";

    private string? Remedy(int at) => Before(at).Sum(i => _states[i].MeanS) is var wait and > 0 ? FormattableString.Invariant($"It takes {wait:0.#} s without a break.") : null;

    /// <summary>The states that lead to one by their time alone.</summary>
    private HashSet<int> Before(int at)
    {
        var found = new HashSet<int>();
        var open = new Queue<int>([at]);
        while (open.TryDequeue(out var to))
        {
            foreach (var from in Enumerable.Range(0, _states.Length).Where(i => Array.Exists(_states[i].Ends, e => e.To == to) && found.Add(i)))
            {
                open.Enqueue(from);
            }
        }

        return found;
    }

    // To come into a state: the way in from outside, what must hold all the while, and what decides where a wait ends. Null where it is there from the beginning.
    private Term? Reach(int at, int flag)
    {
        var path = Before(at);
        path.Add(at);
        var waits = path.Where(i => i != at).Select(i => _states[i]).ToList();
        var given = _states[at].Gives.Where(g => g.Flag == flag).Select(g => g.When);
        var held = Known(waits.Select(s => s.Held).Append(_states[at].Held).Concat(given)
            .Concat(waits.SelectMany(s => s.Ends.Where(e => path.Contains(e.To)).Select(e => e.When))));
        var others = Known(waits.SelectMany(s => s.Ends.TakeWhile(e => !path.Contains(e.To)).Select(e => e.When))).Select(Term.Not);
        var entries = Known(Enumerable.Range(0, _states.Length).Where(i => !path.Contains(i))
            .SelectMany(i => _states[i].Exits.Where(e => path.Contains(e.To)).Select(e => e.When)));
        if (entries.Count == 0)
        {
            return path.Contains(0) ? null : Term.All([.. held, .. others]);
        }

        // The way in may be held by the same words; then they are said once.
        var inside = Term.Fact(string.Join(" or ", path.Where(i => i > 0).Select(i => $"{_id}.state is {_states[i].Definition.Id}")));
        return Term.All([.. held, .. others, entries.TrueForAll(held.Contains) ? null : Term.Any([.. entries, inside])]);
    }

    // Each thing once, and of hidden faults not a word.
    private List<Switch> Known(IEnumerable<int> conditions) =>
        [.. conditions.Distinct().Select(_task.Condition).OfType<Switch>().Where(s => !s.Text.Contains(SignalTable.FaultPrefix, StringComparison.Ordinal))];
}
