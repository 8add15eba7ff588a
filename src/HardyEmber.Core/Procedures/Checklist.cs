using System.Runtime.CompilerServices;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Procedures;

/// <summary>A step, compiled.</summary>
/// <param name="TargetIndex">The signal its act moves, or −1.</param>
/// <param name="TargetPosition">Where the act puts it, or −1.</param>
/// <param name="WithIndex">The signal that the other hand moves, or −1; <paramref name="WithPosition"/> is where.</param>
/// <param name="IsCold">Its act puts the control where a cold jet has it: to find it there says nothing of something running.</param>
internal sealed record ChecklistItem(StepDefinition Definition, string Phase, (Condition Condition, ConditionProgram Program) Needs,
    (Condition Condition, ConditionProgram Program) Done, int TargetIndex, int TargetPosition, int WithIndex, int WithPosition, bool IsCold)
{
    /// <summary>Seconds that hands and eyes need for it.</summary>
    public double TakesS { get; init; }

    /// <summary>Places of the steps it relies on.</summary>
    public int[] DependsOn { get; init; } = [];

    /// <summary>What is said of each of <see cref="DependsOn"/>, in the same order.</summary>
    public Dependency[] After { get; init; } = [];
}

/// <summary>A procedure in force, compiled for its aircraft. The same few are flown again by every run: written out once each, and shared.</summary>
internal sealed class Checklist
{
    private static readonly ConditionalWeakTable<ProcedureInForce, Checklist> All = [];
    private static readonly ConditionalWeakTable<ProcedureDefinition, Compiled> Texts = [];

    /// <summary>
    /// All steps of a procedure, taught or not: what the many schools have in common, and the dear part of each. An error in a step is found when
    /// the file is read, not when somebody chooses it.
    /// </summary>
    private sealed class Compiled(ProcedureDefinition definition, Machine machine)
    {
        public ILookup<string, ChecklistItem> Steps { get; } = definition.Phases.SelectMany(p => p.Steps.Select(s => Compile(s, p.Id, machine))).ToLookup(i => i.Definition.Id);
        public TrackedDrill[] Drills { get; } = [.. definition.Drills.Select(d => new TrackedDrill(d, machine.Compile(d.When, $"drills.{d.Id}.when")))];
        public (RequirementDefinition Definition, Condition When)[] Ready { get; } = [.. definition.Ready.Select((r, i) => (r,
            machine.Compile(r.When, $"ready[{i}].when").Condition))];
    }

    private Checklist(ProcedureInForce procedure, Machine machine)
    {
        Procedure = procedure;
        var compiled = Texts.GetValue(procedure.Definition, d => new Compiled(d, machine));
        (Drills, Ready) = (compiled.Drills, [.. compiled.Ready.Where(r => r.Definition.School is not { } school || procedure.Is(school))]);
        Places = procedure.Steps.Select((step, i) => (step.Id, i)).GroupBy(p => p.Id).ToDictionary(p => p.Key, p => p.First().i);
        ChecklistItem Compiled(StepInForce s) => compiled.Steps[s.Id].First(i => ReferenceEquals(i.Definition, s.Definition));
        Items = [.. procedure.Steps.Select(s => Compiled(s) with { TakesS = s.TakesS, After = [.. s.After], DependsOn = [.. s.After.Select(d => Places[d.Step])] })];

        // Done comes first: the place of a step in the watch is its place in the list. Needs and drills are watched for what they move.
        Watch = new ConditionWatch.Plan([.. Items.Select(s => s.Done.Program), .. Items.Select(s => s.Needs.Program), .. Drills.Select(d => d.WhenProgram)],
            i => machine.Signals.All[i].ByHand);
    }

    public ProcedureInForce Procedure { get; }
    public ChecklistItem[] Items { get; }
    public TrackedDrill[] Drills { get; }
    public (RequirementDefinition Definition, Condition When)[] Ready { get; }
    public ConditionWatch.Plan Watch { get; }
    public IReadOnlyDictionary<string, int> Places { get; }

    /// <exception cref="FormatException">A condition does not compile, a dependency names no step, or the school does not fit.</exception>
    public static Checklist For(ProcedureDefinition p, Machine machine) =>
        All.GetValue(ProcedureInForce.Of(p, machine.Aircraft, machine.Place, machine.Header, machine.Wrong), procedure => new Checklist(procedure, machine));

    private static ChecklistItem Compile(StepDefinition s, string phase, Machine machine)
    {
        var signals = machine.Signals;
        var where = $"steps.{s.Id}";
        var target = s.Act.Target is { } name ? signals.Find(name) : null;
        if (target is null && s.Act.Target is { } unknown)
        {
            machine.Wrong($"{where}.act", $"there is no control or signal \"{unknown}\"{Nearest.Hint(unknown, signals.All.Select(i => i.Name))}");
        }

        var position = s.Act.To is { } to && target is { Kind: SignalKind.Positions } ? target.PositionOf(to) : -1;
        var taken = s.Act.To == ControlDefinition.TakesSpot && machine.Aircraft.Controls.Any(c => c.Id == s.Act.Set && c.Kind == ControlKind.Position);
        if (target is { Kind: SignalKind.Positions } && s.Act.Look is null && position < 0 && !taken)
        {
            machine.Wrong($"{where}.act.to", $"\"{target.Name}\" has no position \"{s.Act.To}\" ({string.Join(", ", target.Positions)})");
        }

        var (withIndex, withPosition) = (-1, -1);
        if (s.Act.With is { } with)
        {
            if (s.Act.Hold is not null && s.Act.Hold != with && ActCommand.HeldAt(machine, with) is { } held)
            {
                var other = signals.Find(with)!;
                (withIndex, withPosition) = (other.Index, other.PositionOf(held));
            }
            else
            {
                var sprung = machine.Aircraft.Controls.Where(c => c.Sprung.Count > 0).Select(c => c.Id);
                machine.Wrong($"{where}.act.with", $"\"{with}\" is no other control that can be held{Nearest.Hint(with, sprung)}");
            }
        }

        foreach (var (text, field) in new[] { (s.Cue, "cue"), (s.Why, "why"), (s.IfOmitted, "ifOmitted"), (s.Relied, "relied"),
            (s.Hazard, "hazard") }.Where(x => x.Item1?.Contains('{', StringComparison.Ordinal) == true))
        {
            machine.Wrong($"{where}.{field}", $"\"{text}\" names what is no parameter");
        }

        foreach (var watched in s.Watch.Append(s.Left).Append(s.Act.Signal).OfType<string>())
        {
            if (signals.Find(watched) is null)
            {
                machine.Wrong(where, $"there is no signal \"{watched}\"{Nearest.Hint(watched, signals.All.Select(i => i.Name))}");
            }
        }

        var cold = s.Act.To is not null && machine.Aircraft.Controls.Any(c => c.Id == s.Act.Set && c.Default == s.Act.To);
        return new ChecklistItem(s, phase, machine.Compile(s.Needs, $"{where}.needs"), machine.Compile(s.Done, $"{where}.done"),
            target?.Index ?? -1, position, withIndex, withPosition, cold);
    }
}
