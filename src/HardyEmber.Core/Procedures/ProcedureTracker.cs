using System.Collections.Concurrent;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.Json;
using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Procedures;

/// <summary>A step of the procedure in force, and what the machine says about it.</summary>
public sealed class TrackedStep
{
    internal TrackedStep(StepDefinition definition, string phase, Condition needs, (Condition Condition, ConditionProgram Program) done)
    {
        (Definition, Phase, Needs, DoneWhen, DoneProgram) = (definition, phase, needs, done.Condition, done.Program);
    }

    public StepDefinition Definition { get; }
    public string Phase { get; }
    public Condition Needs { get; }
    public Condition DoneWhen { get; }
    internal ConditionProgram DoneProgram { get; }
    public bool Done { get; internal set; }

    /// <summary>When it was first done, seconds; negative if never.</summary>
    public double FirstDone { get; internal set; } = -1;

    /// <summary>When it was last undone again, seconds; negative if never.</summary>
    public double LastUndone { get; internal set; } = -1;
    internal int TargetIndex { get; init; } = -1;
    internal int TargetPosition { get; init; } = -1;

    /// <summary>Its act puts the control where a cold jet has it: to find it there says nothing of something running.</summary>
    internal bool IsCold { get; init; }
    public TrackedStep[] Dependencies { get; internal set; } = [];

    /// <summary>What is said of each of <see cref="Dependencies"/>, in the same order.</summary>
    public Dependency[] After { get; internal set; } = [];
    public string Id => Definition.Id;
}

public sealed record TrackedDrill(DrillDefinition Definition, Condition When);

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
    private readonly Dictionary<string, TrackedStep> _byId;

    /// <exception cref="FormatException">A condition does not compile or a dependency names no step.</exception>
    public ProcedureTracker(ProcedureDefinition definition, Machine machine)
    {
        Definition = Resolve(definition, machine);
        _values = machine.Signals.Values;
        _steps = [.. Definition.Phases.SelectMany(p => p.Steps.Where(s => (s.OnlyStart ?? machine.Header.Start) == machine.Header.Start && Taught(s, machine.Header.School, Definition)).Select(s => Compile(s, p.Id, machine)))];
        _byId = Steps.ToDictionary(s => s.Id);
        foreach (var step in Steps)
        {
            if (step.Definition.After.FirstOrDefault(d => Definition.Phases.All(p => p.Steps.All(s => s.Id != d.Step))) is { } dangling)
            {
                throw new FormatException($"steps.{step.Id}.after: there is no step \"{dangling.Step}\"");
            }

            // A step that this school or kind of start leaves out asks nothing of the others.
            var after = step.Definition.After.Where(d => _byId.ContainsKey(d.Step)).ToList();
            (step.After, step.Dependencies) = ([.. after], [.. after.Select(d => _byId[d.Step])]);
        }

        Drills = [.. Definition.Drills.Select(d => new TrackedDrill(d, Parse(d.When, machine, $"drills.{d.Id}.when")))];
        Ready = [.. Definition.Ready.Select((r, i) => (r, Parse(r.When, machine, $"ready[{i}].when")))];
        Update(0);
    }

    public ProcedureDefinition Definition { get; }
    public IReadOnlyList<TrackedStep> Steps => _steps;
    public IReadOnlyList<TrackedDrill> Drills { get; }
    public IReadOnlyList<(RequirementDefinition Definition, Condition When)> Ready { get; }

    public TrackedStep? Find(string id) => _byId.GetValueOrDefault(id);

    /// <summary>The school's answer to a question: chosen, or the first one offered.</summary>
    public static string Answer(ProcedureDefinition p, IReadOnlyDictionary<string, string> school, string question) =>
        school.TryGetValue(question, out var chosen) ? chosen
        : p.Schools.FirstOrDefault(s => s.Id == question)?.Answers[0].Id ?? throw new FormatException($"school: there is no question \"{question}\"");

    private static bool Taught(StepDefinition step, IReadOnlyDictionary<string, string> school, ProcedureDefinition p)
    {
        if (step.School is null)
        {
            return true;
        }

        var words = step.School.Split(" is ");
        return words.Length == 2 ? Answer(p, school, words[0]) == words[1]
            : throw new FormatException($"steps.{step.Id}.school: write \"question is answer\"");
    }

    // The sides in the school's order and its fuel-on speed are written into the text once, so that conditions stay simple.
    private static ProcedureDefinition Resolve(ProcedureDefinition p, Machine machine)
    {
        var first = p.Schools.Any(s => s.Id == "firstEngine") ? Answer(p, machine.Header.School, "firstEngine") : machine.Header.Flight?.Dead ?? machine.Aircraft.Engines[0].Id;
        var second = machine.Aircraft.Engines.FirstOrDefault(e => e.Id != first)?.Id ?? first;
        var fuelOn = p.Schools.Any(s => s.Id == "fuelOn") ? machine.Aircraft.Engine.FuelOnN2Pct[Answer(p, machine.Header.School, "fuelOn")] : machine.Aircraft.Engine.FuelOnMinN2Pct;
        return Resolved.GetOrCreateValue(p).GetOrAdd($"{first}/{second}/{fuelOn}", _ => Substitute(p, first, second, fuelOn));
    }

    // The same few choices are asked for again by every run: written out once each.
    private static readonly ConditionalWeakTable<ProcedureDefinition, ConcurrentDictionary<string, ProcedureDefinition>> Resolved = new();

    private static ProcedureDefinition Substitute(ProcedureDefinition p, string first, string second, double fuelOn)
    {
        var text = JsonSerializer.Serialize(p, FleetJson.Line)
            .Replace("{first}", first, StringComparison.Ordinal)
            .Replace("{second}", second, StringComparison.Ordinal)
            .Replace("{First}", Capital(first), StringComparison.Ordinal)
            .Replace("{Second}", Capital(second), StringComparison.Ordinal)
            .Replace("{fuelOn}", fuelOn.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal);
        return JsonSerializer.Deserialize<ProcedureDefinition>(text, FleetJson.Line)!;
    }

    private static string Capital(string word) => char.ToUpperInvariant(word[0]) + word[1..];

    private static Condition Parse(string? text, Machine machine, string where) => machine.Compile(text, where).Condition;

    private static TrackedStep Compile(StepDefinition s, string phase, Machine machine)
    {
        var signals = machine.Signals;
        var where = $"steps.{s.Id}";
        var target = s.Act.Target is { } name ? signals.Find(name) ?? throw new FormatException($"{where}.act: there is no control or signal \"{name}\"") : null;
        var position = s.Act.To is { } to && target is { Kind: SignalKind.Positions } ? target.PositionOf(to) : -1;
        if (target is { Kind: SignalKind.Positions } && s.Act.Look is null && !s.Act.Circle && position < 0)
        {
            throw new FormatException($"{where}.act.to: \"{target.Name}\" has no position \"{s.Act.To}\"");
        }

        foreach (var watched in s.Watch.Append(s.Left).Append(s.Act.Signal).OfType<string>())
        {
            _ = signals.Find(watched) ?? throw new FormatException($"{where}: there is no signal \"{watched}\"");
        }

        return new TrackedStep(s, phase, Parse(s.Needs, machine, $"{where}.needs"), machine.Compile(s.Done, $"{where}.done"))
        {
            TargetIndex = target?.Index ?? -1,
            TargetPosition = position,
            IsCold = s.Act.To is { } at && machine.Aircraft.Controls.Any(c => c.Id == s.Act.Set && c.Default == at),
        };
    }

    /// <summary>Reads the machine; call after a command and with the slow tick. <paramref name="time"/> in seconds.</summary>
    public void Update(double time)
    {
        foreach (var step in _steps)
        {
            var done = step.DoneProgram.Holds(_values);
            if (done == step.Done)
            {
                continue;
            }

            step.Done = done;
            if (!done)
            {
                step.LastUndone = time;
            }
            else if (step.FirstDone < 0)
            {
                step.FirstDone = time;
            }
        }
    }

    /// <summary>Whether the hands have done their part: the control stands where the step wants it.</summary>
    public bool Acted(TrackedStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        var act = step.Definition.Act;
        return act.Watch ? step.Needs.Holds(_values)
            : act.Look is null && !act.Circle && step.TargetPosition >= 0 && (int)_values[step.TargetIndex] == step.TargetPosition;
    }

    /// <summary>Whether this command is the act of the step.</summary>
    public static bool IsActOf(TrackedStep step, Runs.RunCommand command)
    {
        ArgumentNullException.ThrowIfNull(step);
        ArgumentNullException.ThrowIfNull(command);
        var act = step.Definition.Act;
        return command.Kind switch
        {
            Runs.CommandKind.Set => act.Set == command.Target && (act.To == command.Position || act.Circle || act.Signal is not null),
            Runs.CommandKind.Hold => act.Hold == command.Target && act.To == command.Position,
            Runs.CommandKind.Look => act.Look == command.Target,
            _ => false,
        };
    }

    /// <summary>What to do now.</summary>
    /// <param name="passOver">Steps to leave aside, as one who has forgotten them would.</param>
    public Cue Now(IReadOnlySet<string>? passOver = null)
    {
        foreach (var drill in Drills)
        {
            if (drill.When.Holds(_values))
            {
                return new Cue(CueKind.Act, null, drill, [], Running());
            }
        }

        foreach (var step in _steps)
        {
            // What is held needs the hand until its end, whatever else comes up.
            if (!step.Done && step.Definition.Act.Hold is not null && Acted(step))
            {
                return new Cue(CueKind.Watch, step, null, step.DoneWhen.Unmet(_values), Running());
            }
        }

        foreach (var step in _steps)
        {
            if (step.Done || passOver?.Contains(step.Id) == true)
            {
                continue;
            }

            if (Acted(step))
            {
                if (step.Definition.Attention)
                {
                    return new Cue(CueKind.Watch, step, null, step.DoneWhen.Unmet(_values), Running());
                }

                continue;
            }

            if (Relies(step, passOver))
            {
                continue;
            }

            if (step.Needs.Holds(_values))
            {
                return new Cue(CueKind.Act, step, null, [], Running());
            }

            if (step.Definition.Wait)
            {
                return new Cue(CueKind.Ready, step, null, step.Needs.Unmet(_values), Running());
            }
        }

        var left = Steps.FirstOrDefault(s => !s.Done && !s.Definition.Optional && passOver?.Contains(s.Id) != true);
        return left is null ? new Cue(CueKind.Finished, null, null, [], Running())
            : new Cue(CueKind.Wait, left, null, Acted(left) ? left.DoneWhen.Unmet(_values) : WhyNot(left), Running());
    }

    private static bool Relies(TrackedStep step, IReadOnlySet<string>? passOver)
    {
        foreach (var dependency in step.Dependencies)
        {
            if (!dependency.Done && passOver?.Contains(dependency.Id) != true)
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>Why a step cannot be done now: its unmet conditions, then those of the steps it relies on.</summary>
    public IReadOnlyList<Atom> WhyNot(TrackedStep step)
    {
        ArgumentNullException.ThrowIfNull(step);
        return [.. step.Needs.Unmet(_values), .. step.Dependencies.Where(d => !d.Done).SelectMany(d => d.DoneWhen.Unmet(_values))];
    }

    private List<TrackedStep> Running() =>
        [.. Steps.Where(s => !s.Done && !s.Definition.Act.Watch && !s.IsCold && Acted(s))];
}
