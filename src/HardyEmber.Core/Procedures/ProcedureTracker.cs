using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Procedures;

/// <summary>A step of the procedure in force, and what the machine says about it.</summary>
public sealed class TrackedStep
{
    private readonly ChecklistItem _item;
    private readonly TrackedStep[] _all;

    internal TrackedStep(ChecklistItem item, TrackedStep[] all) => (_item, _all) = (item, all);

    public StepDefinition Definition => _item.Definition;
    public string Phase => _item.Phase;

    /// <summary>Seconds that hands and eyes need for it.</summary>
    public double TakesS => _item.TakesS;
    public Condition Needs => _item.Needs.Condition;
    internal ConditionProgram NeedsProgram => _item.Needs.Program;
    public Condition DoneWhen => _item.Done.Condition;
    public bool Done { get; internal set; }

    /// <summary>When it was first done, seconds; negative if never.</summary>
    public double FirstDone { get; internal set; } = -1;

    /// <summary>It was so before anybody did anything.</summary>
    public bool WasSo { get; internal set; }

    /// <summary>When it was last undone again, seconds; negative if never.</summary>
    public double LastUndone { get; internal set; } = -1;
    internal bool IsCold => _item.IsCold;

    /// <summary>The control stands where its act puts it, and where it takes both hands, the other one too.</summary>
    internal bool ActedOn(double[] values) => Definition.Act.Look is null && _item.TargetPosition >= 0 && (int)values[_item.TargetIndex] == _item.TargetPosition
        && (_item.WithIndex < 0 || (int)values[_item.WithIndex] == _item.WithPosition);

    /// <summary>The steps that stand before it.</summary>
    public IEnumerable<TrackedStep> Dependencies => _item.DependsOn.Select(i => _all[i]);

    /// <summary>What is said of each of <see cref="Dependencies"/>, in the same order.</summary>
    public IReadOnlyList<Dependency> After => _item.After;

    /// <summary>The first of those that stand before it and are not done; null where all are.</summary>
    /// <param name="passOver">Steps that do not count.</param>
    public TrackedStep? Lacks(IReadOnlySet<string>? passOver = null)
    {
        foreach (var i in _item.DependsOn)
        {
            if (!_all[i].Done && passOver?.Contains(_all[i].Id) != true)
            {
                return _all[i];
            }
        }

        return null;
    }

    public string Id => Definition.Id;
}

public sealed class TrackedDrill
{
    internal TrackedDrill(DrillDefinition definition, (Condition Condition, ConditionProgram Program) when)
    {
        Definition = definition;
        (When, WhenProgram) = when;
    }

    public DrillDefinition Definition { get; }
    public Condition When { get; }
    internal ConditionProgram WhenProgram { get; }
}

public enum CueKind
{
    /// <summary>Hands: do it now.</summary>
    Act,

    /// <summary>Hands ready: it is next, but the machine is not there yet.</summary>
    Ready,

    /// <summary>Eyes: watch until it is done.</summary>
    Watch,

    /// <summary>Nothing to do but wait for what is running.</summary>
    Wait,

    /// <summary>Everything is done.</summary>
    Finished,
}

/// <summary>What comes next, without the words about it.</summary>
public readonly record struct NextAct(CueKind Kind, TrackedStep? Step, TrackedDrill? Drill);

/// <summary>What the guide says now.</summary>
public sealed record Cue(CueKind Kind, TrackedStep? Step, TrackedDrill? Drill, IReadOnlyList<Atom> Waiting, IReadOnlyList<TrackedStep> Running);

/// <summary>
/// Follows a procedure by the machine's true state, not by a counter: a step is done while its condition holds, in
/// whatever sound order it came to be, and undone again when the state is lost.
/// </summary>
public sealed class ProcedureTracker
{
    private readonly double[] _values;
    private readonly TrackedStep[] _steps;
    private readonly ConditionWatch _watch;
    private readonly Machine _machine;
    private readonly Checklist _list;
    private readonly TrackedStep[] _open;
    private bool _openStale = true;
    private long _handsSeen;
    private int _openCount;

    /// <exception cref="FormatException">A condition does not compile or a dependency names no step.</exception>
    public ProcedureTracker(ProcedureDefinition definition, Machine machine)
    {
        (_machine, _list) = (machine, Checklist.For(definition, machine));
        _values = machine.Signals.Values;
        _steps = new TrackedStep[_list.Items.Length];
        for (var i = 0; i < _steps.Length; i++)
        {
            _steps[i] = new TrackedStep(_list.Items[i], _steps);
        }

        _open = new TrackedStep[_steps.Length];
        _watch = new ConditionWatch(_list.Watch);
        Update(0);
        foreach (var step in _steps)
        {
            step.WasSo = step.Done;
        }
    }

    public ProcedureInForce Procedure => _list.Procedure;
    public ProcedureDefinition Definition => _list.Procedure.Definition;
    public IReadOnlyList<TrackedStep> Steps => _steps;
    public IReadOnlyList<TrackedDrill> Drills => _list.Drills;

    /// <summary>The steps not done, in their order.</summary>
    public ReadOnlySpan<TrackedStep> Open
    {
        get
        {
            if (_openStale)
            {
                _openStale = false;
                _openCount = 0;
                foreach (var step in _steps)
                {
                    if (!step.Done)
                    {
                        _open[_openCount++] = step;
                    }
                }
            }

            return _open.AsSpan(0, _openCount);
        }
    }

    public IReadOnlyList<(RequirementDefinition Definition, Condition When)> Ready => _list.Ready;

    /// <summary>Grows when something that a cue rests on has moved since the last update.</summary>
    public long Moves => _watch.Moves + _machine.Hands;

    /// <summary>When a step was last done for the first time, seconds.</summary>
    public double LastProgress { get; private set; }

    public TrackedStep? Find(string id) => _list.Places.TryGetValue(id, out var place) ? _steps[place] : null;

    /// <summary>Reads the machine; call after a command and with the slow tick. <paramref name="time"/> in seconds.</summary>
    public void Update(double time)
    {
        var hands = _handsSeen != _machine.Hands;
        _handsSeen = _machine.Hands;
        foreach (var i in _watch.Look(_values, hands))
        {
            if (i >= _steps.Length)
            {
                continue;
            }

            var step = _steps[i];
            _openStale = true;
            step.Done = _watch[i];
            if (!step.Done)
            {
                (step.LastUndone, step.WasSo) = (time, false);
            }
            else if (step.FirstDone < 0)
            {
                step.FirstDone = LastProgress = time;
            }
        }
    }

    /// <summary>Whether the hands have done their part: the control stands where the step wants it.</summary>
    public bool Acted(TrackedStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        var act = step.Definition.Act;
        return act.Watch ? step.NeedsProgram.Holds(_values) : step.ActedOn(_values);
    }

    /// <summary>Whether this command is the act of the step.</summary>
    public static bool IsActOf(TrackedStep step, RunCommand command)
    {
        ArgumentNullException.ThrowIfNull(step);
        ArgumentNullException.ThrowIfNull(command);
        var act = step.Definition.Act;
        return command.Kind switch
        {
            CommandKind.Set => act.Set == command.Target && (act.To == command.Position || act.Signal is not null || act.To == ControlDefinition.TakesSpot),
            CommandKind.Hold => act.Hold == command.Target && act.To == command.Position,
            CommandKind.Look => act.Look == command.Target,
            _ => false,
        };
    }

    /// <summary>What to do now.</summary>
    /// <param name="passOver">Steps to leave aside, as one who has forgotten them would.</param>
    public Cue Now(IReadOnlySet<string>? passOver = null)
    {
        var (kind, step, drill) = Next(passOver);
        IReadOnlyList<Atom> waiting = kind switch
        {
            CueKind.Watch => step!.DoneWhen.Unmet(_values),
            CueKind.Ready => step!.Needs.Unmet(_values),
            CueKind.Wait => Acted(step!) ? step!.DoneWhen.Unmet(_values) : WhyNot(step!),
            _ => [],
        };
        return new Cue(kind, step, drill, waiting, [.. _steps.Where(Runs)]);
    }

    // The hands have begun it and the machine has not finished it. Where a lever only happens to stand as a later step wants it, nothing has begun.
    private bool Runs(TrackedStep step) =>
        !step.Done && !step.Definition.Act.Watch && !step.IsCold && Acted(step) && !(step.Lacks() is not null && !step.NeedsProgram.Holds(_values));

    /// <summary>A drill is due now.</summary>
    public bool Applies(TrackedDrill drill)
    {
        ArgumentNullException.ThrowIfNull(drill);
        return drill.WhenProgram.Holds(_values);
    }

    /// <summary>What to do now, for one who asks often and needs no explanation.</summary>
    /// <inheritdoc cref="Now"/>
    public NextAct Next(IReadOnlySet<string>? passOver = null)
    {
        foreach (var drill in _list.Drills)
        {
            if (drill.WhenProgram.Holds(_values))
            {
                return new NextAct(CueKind.Act, null, drill);
            }
        }

        var open = Open;
        foreach (var step in open)
        {
            // What is held needs the hand until its end, whatever else comes up.
            if (step.Definition.Act.Hold is not null && Acted(step))
            {
                return new NextAct(CueKind.Watch, step, null);
            }
        }

        TrackedStep? left = null;
        foreach (var step in open)
        {
            if (passOver?.Contains(step.Id) == true)
            {
                continue;
            }

            left ??= step.Definition.Optional ? null : step;
            if (Acted(step))
            {
                if (step.Definition.Attention)
                {
                    return new NextAct(CueKind.Watch, step, null);
                }

                continue;
            }

            if (step.Lacks(passOver) is not null)
            {
                continue;
            }

            if (step.NeedsProgram.Holds(_values))
            {
                return new NextAct(CueKind.Act, step, null);
            }

            if (step.Definition.Wait)
            {
                return new NextAct(CueKind.Ready, step, null);
            }
        }

        return new NextAct(left is null ? CueKind.Finished : CueKind.Wait, left, null);
    }

    /// <summary>Why a step cannot be done now: its unmet conditions, then those of the steps it relies on.</summary>
    public IReadOnlyList<Atom> WhyNot(TrackedStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return [.. step.Needs.Unmet(_values), .. step.Dependencies.Where(d => !d.Done).SelectMany(d => d.DoneWhen.Unmet(_values))];
    }
}
