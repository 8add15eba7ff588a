using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Simulation;

/// <summary>A state of a task with its places: of conditions, flags and other states. A condition of place −1 always holds.</summary>
internal sealed record PlannedState(TaskState Definition, int Held, (int When, int Forced, int To)[] Exits, (int When, int To)[] Ends, (int Flag, int When)[] Gives,
    int[] Leaves, int Broken)
{
    /// <summary>Seconds of the states that come before it in one wait.</summary>
    public double BeforeS { get; set; }

    /// <summary>Seconds of the states that come after it in one wait, along the last of its ends: the way it goes when nothing is wrong.</summary>
    public double AfterS { get; set; }
    public double MeanS => Definition.Seconds is { Count: > 0 } s ? s.Average() : 0;
}

/// <summary>What all machines of an aircraft have alike of its tasks.</summary>
/// <param name="Flags">How many flags they give, all in all.</param>
internal sealed record TaskPlans(TaskPlan[] Plans, int Flags)
{
    public static TaskPlans Of(MachineContext context)
    {
        var places = new Dictionary<string, int>(StringComparer.Ordinal);
        TaskPlan[] plans = [.. context.Aircraft.Tasks.Select(d => new TaskPlan(d, context, places))];
        return new TaskPlans(plans, places.Count);
    }
}

/// <summary>What all machines of an aircraft have alike of a task. Each condition stands once, however many states have it.</summary>
internal sealed class TaskPlan
{
    private readonly List<(string Text, string Where)> _conditions = [];
    private readonly List<string> _flags = [];

    /// <param name="places">The places of flags that tasks before it give; it adds its own.</param>
    public TaskPlan(TaskDefinition definition, MachineContext context, Dictionary<string, int> places)
    {
        (Definition, StateNames) = (definition, [.. definition.States.Select(s => s.Id)]);
        States = [.. definition.States.Select((x, i) => Plan(x, i, context))];
        foreach (var state in States)
        {
            state.AfterS = Wait(state, States.Length);
        }

        foreach (var state in States.Where(x => x.Definition.Seconds is not null))
        {
            foreach (var to in state.Ends.Select(e => States[e.To]).Where(s => s.Definition.Seconds is not null))
            {
                to.BeforeS = Math.Max(to.BeforeS, state.BeforeS + state.MeanS);
            }
        }

        foreach (var flag in _flags)
        {
            _ = places.TryAdd(flag, places.Count);
        }

        Places = [.. _flags.Select(f => places[f])];
    }

    public TaskDefinition Definition { get; }
    public PlannedState[] States { get; }

    /// <summary>Of each of <see cref="Flags"/> its place among those of all tasks.</summary>
    public int[] Places { get; }
    public IReadOnlyList<string> StateNames { get; }
    public IReadOnlyList<(string Text, string Where)> Conditions => _conditions;
    public IReadOnlyList<string> Flags => _flags;

    private double Wait(PlannedState state, int deepest) => state.Definition.Seconds is null || deepest == 0 || state.Ends is [] ? 0
        : States[state.Ends[^1].To] is { Definition.Seconds: not null } next ? next.MeanS + Wait(next, deepest - 1) : 0;

    private PlannedState Plan(TaskState x, int at, MachineContext context)
    {
        var where = $"tasks.{Definition.Id}.states.{x.Id}";
        if (x.Seconds is { } times && (times.Count is 0 or > 2 || times.Any(t => !(t >= 0)) || times[^1] < times[0]))
        {
            context.Wrong($"{where}.seconds", "give one time, or the least and the most");
        }

        if (x.Exits.Count > 64 || x.Gives.Count > 64)
        {
            context.Wrong(where, "at most 64 exits and flags");
        }

        if (x.Keeps is { } keeps && keeps != TaskState.Previous)
        {
            _ = Place(keeps, where, context);
        }

        var following = Definition.States.ElementAtOrDefault(at + 1)?.Id;
        if (x.Seconds is not null && x.Ends.Count == 0 && following is null)
        {
            context.Wrong(where, "it ends, and no state follows");
        }

        var ends = x.Seconds is null ? [] : x.Ends.Count > 0 ? x.Ends : following is null ? [] : [new TaskExit(following)];
        return new PlannedState(x, Condition(x.While, $"{where}.while"),
            [.. x.Exits.Select((e, i) => (Condition(e.When, $"{where}.exits[{i}].when"), Condition(e.Forced, $"{where}.exits[{i}].forced"), Place(e.To, where, context)))],
            [.. ends.Select((e, i) => (Condition(e.When, $"{where}.ends[{i}].when"), Place(e.To, where, context)))],
            [.. GivenBy(x, Definition.States.Count).Select(g => (Flag(g.Key), Condition(g.Value, $"{where}.gives.{g.Key}")))],
            [.. x.Leaves.Select(Flag)], x.Broken is null ? 0 : Place(x.Broken, where, context));
    }

    private int Place(string name, string where, MachineContext context)
    {
        var place = StateNames.ToList().IndexOf(name);
        if (place < 0)
        {
            context.Wrong(where, $"there is no state \"{name}\"{Numbers.Nearest.Hint(name, StateNames)}");
        }

        return Math.Max(0, place);
    }

    private int Condition(string? text, string where)
    {
        if (string.IsNullOrWhiteSpace(text))
        {
            return -1;
        }

        var known = _conditions.FindIndex(c => c.Text == text);
        if (known < 0)
        {
            _conditions.Add((text, where));
        }

        return known < 0 ? _conditions.Count - 1 : known;
    }

    private int Flag(string name)
    {
        var known = _flags.IndexOf(name);
        if (known < 0)
        {
            _flags.Add(name);
        }

        return known < 0 ? _flags.Count - 1 : known;
    }

    // What it gives itself comes first.
    private IEnumerable<KeyValuePair<string, string>> GivenBy(TaskState x, int deepest)
    {
        var at = Definition.States.ToList().IndexOf(x);
        var kept = x.Keeps is null || deepest == 0 ? null : x.Keeps == TaskState.Previous ? Definition.States.ElementAtOrDefault(at - 1)
            : Definition.States.FirstOrDefault(s => s.Id == x.Keeps);
        return x.Gives.Concat(kept is null ? [] : GivenBy(kept, deepest - 1)).DistinctBy(g => g.Key);
    }
}
