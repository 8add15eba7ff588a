namespace HardyEmber.Core.Simulation;

/// <summary>What the flags of a task rest on, read off its states: the gates are made of the very switches that it obeys.</summary>
internal static class TaskGates
{
    public static void State(MachineContext context, RunningTask task)
    {
        var d = task.Definition;
        var where = $"tasks.{d.Id}";
        foreach (var name in task.States.Where(s => !s.Definition.Fails).SelectMany(s => s.Gives.Select(g => g.Flag.Signal).Concat(s.Leaves)).Select(i => context.Signals.All[i].Name).Distinct())
        {
            // Where several tasks give a flag, the first of them tells of it.
            if (!context.HasGate(name))
            {
                Flag(context, task, name, where);
            }
        }

        // A state that gives nothing does nothing: what leads there needs no word.
        context.Explained(task.States.SelectMany(s => s.Switches));
    }

    private static void Flag(MachineContext context, RunningTask task, string name, string where)
    {
        var signal = context.Signals.Find(name)!.Index;
        var giving = task.States.Select((s, i) => (State: s, At: i)).Where(s => s.State.Leaves.Contains(signal) || Array.Exists(s.State.Gives, g => g.Flag.Signal == signal)).ToList();
        // Where one giving state leads to another, to come into the first is enough.
        var first = giving.Where(g => !giving.Exists(other => other.At != g.At && Before(task, g.At).Contains(other.At))).ToList();
        var label = Label(task, name, giving[0].State);
        var ways = first.Select(g => Reach(task, g.At, Array.Find(g.State.Gives, x => x.Flag.Signal == signal).When as Switch)).OfType<Term>().ToArray();
        if (ways.Length > 0)
        {
            context.Gate(name, GateKind.Comes, where, label, Term.Any(ways), task.Definition.Remedy ?? Remedy(task, first[0].At), aside: !name.StartsWith(task.Definition.Id, StringComparison.Ordinal));
        }

        // What stays by itself is lost by what leads away from it.
        if (giving.TrueForAll(g => g.State.Definition is { While: null, Seconds: null })
            && giving.SelectMany(g => g.State.Exits).Where(e => giving.TrueForAll(g => g.At != e.To)).Select(e => e.When).ToArray() is { Length: > 0 } leaves)
        {
            context.Gate(name, GateKind.Ends, where, $"{label}: lost again", Term.Any(leaves));
        }
    }

    private static string Label(RunningTask task, string name, RunningState first) =>
        name == task.Definition.Id || first.Definition.Word is not { } word ? task.Definition.Label : $"{task.Definition.Label}: {word}";

    private static string? Remedy(RunningTask task, int at) => Before(task, at).Select(i => task.States[i]).Sum(s => s.MeanS) is var wait and > 0
        ? FormattableString.Invariant($"It takes {wait:0.#} s without a break.") : null;

    /// <summary>The states that lead to one by their time alone.</summary>
    private static HashSet<int> Before(RunningTask task, int at)
    {
        var found = new HashSet<int>();
        var open = new Queue<int>([at]);
        while (open.TryDequeue(out var to))
        {
            foreach (var from in Enumerable.Range(0, task.States.Length).Where(i => Array.Exists(task.States[i].Ends, e => e.To == to) && found.Add(i)))
            {
                open.Enqueue(from);
            }
        }

        return found;
    }

    // To come into a state: the way in from outside, what must hold all the while, and what decides where a wait ends. Null where it is there from the beginning.
    private static Term? Reach(RunningTask task, int at, Switch? given)
    {
        var path = Before(task, at);
        path.Add(at);
        var waits = path.Where(i => i != at).Select(i => task.States[i]).ToList();
        var held = Known(waits.Select(s => s.Held).Append(task.States[at].Held).Append(given).OfType<Switch>().Concat(waits.SelectMany(s => s.Ends.Where(e => path.Contains(e.To)).Select(e => e.When))));
        var others = Known(waits.SelectMany(s => s.Ends.TakeWhile(e => !path.Contains(e.To)).Select(e => e.When))).Select(Term.Not);
        var entries = Known(task.States.Where((_, i) => !path.Contains(i)).SelectMany(s => s.Exits.Where(e => path.Contains(e.To)).Select(e => e.When)));
        if (entries.Count == 0)
        {
            return path.Contains(0) ? null : Term.All([.. held, .. others]);
        }

        // The way in may be held by the same words; then they are said once.
        var same = entries.TrueForAll(e => held.Exists(h => h.Text == e.Text));
        var inside = Term.Fact(string.Join(" or ", path.Where(i => i > 0).Select(i => $"{task.Definition.Id}.state is {task.Definition.States[i].Id}")));
        return Term.All([.. held, .. others, same ? null : Term.Any([.. entries, inside])]);
    }

    // Each thing once, and of hidden faults not a word.
    private static List<Switch> Known(IEnumerable<Switch> switches) =>
        [.. switches.Where(s => s.Text.Length > 0 && !s.Text.Contains(SignalTable.FaultPrefix, StringComparison.Ordinal)).DistinctBy(s => s.Text)];
}
