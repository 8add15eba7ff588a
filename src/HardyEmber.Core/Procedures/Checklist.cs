using System.Collections.Concurrent;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.Json;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Procedures;

/// <summary>A step, compiled.</summary>
/// <param name="TargetIndex">The signal its act moves, or −1.</param>
/// <param name="TargetPosition">Where the act puts it, or −1.</param>
/// <param name="IsCold">Its act puts the control where a cold jet has it: to find it there says nothing of something running.</param>
internal sealed record ChecklistItem(StepDefinition Definition, string Phase, (Condition Condition, ConditionProgram Program) Needs,
    (Condition Condition, ConditionProgram Program) Done, int TargetIndex, int TargetPosition, bool IsCold)
{
    /// <summary>Places of the steps it relies on.</summary>
    public int[] DependsOn { get; set; } = [];

    /// <summary>What is said of each of <see cref="DependsOn"/>, in the same order.</summary>
    public Dependency[] After { get; set; } = [];
}

/// <summary>
/// A procedure as a kind of start and a school leave it, compiled for its aircraft. The same few are flown again by every run:
/// written out once each, and shared.
/// </summary>
internal sealed class Checklist
{
    private static readonly ConditionalWeakTable<ProcedureDefinition, ConcurrentDictionary<string, Checklist>> All = [];
    private static readonly ConditionalWeakTable<ProcedureDefinition, ConcurrentDictionary<string, Compiled>> Texts = [];

    /// <summary>
    /// All steps of a procedure, taught or not, with sides and speeds written in: what the many schools have in common, and the
    /// dear part of each. An error in a step is found when the file is read, not when somebody chooses it.
    /// </summary>
    private sealed class Compiled(ProcedureDefinition definition, Machine machine)
    {
        public ProcedureDefinition Definition { get; } = definition;
        public ChecklistItem[] Steps { get; } = [.. definition.Phases.SelectMany(p => p.Steps.Select(s => Compile(s, p.Id, machine)))];
        public TrackedDrill[] Drills { get; } = [.. definition.Drills.Select(d => new TrackedDrill(d, machine.Compile(d.When, $"drills.{d.Id}.when")))];
        public (RequirementDefinition Definition, Condition When)[] Ready { get; } = [.. definition.Ready.Select((r, i) => (r, machine.Compile(r.When, $"ready[{i}].when").Condition))];
    }

    private Checklist(Compiled compiled, Machine machine)
    {
        var definition = Definition = compiled.Definition;
        (Drills, Ready) = (compiled.Drills, compiled.Ready);
        var header = machine.Header;
        bool InForce(StepDefinition s) => Taught(s.School, s, machine, definition) && (s.OnlyBeginning ?? header.Beginning) == header.Beginning;
        Items = [.. compiled.Steps.Where(i => InForce(i.Definition)).Select(i => i with { })]; // what a step relies on is this school's own
        Places = Items.Select((item, i) => (item.Definition.Id, i)).ToDictionary(p => p.Id, p => p.i);
        foreach (var item in Items)
        {
            if (item.Definition.After.FirstOrDefault(d => definition.Phases.All(p => p.Steps.All(s => s.Id != d.Step))) is { } dangling)
            {
                machine.Wrong($"steps.{item.Definition.Id}.after", $"there is no step \"{dangling.Step}\"{Nearest.Hint(dangling.Step, Places.Keys)}");
            }

            // A step that this school or kind of start leaves out asks nothing of the others.
            item.After = [.. item.Definition.After.Where(d => Places.ContainsKey(d.Step) && Taught(d.School, item.Definition, machine, definition))];
            item.DependsOn = [.. item.After.Select(d => Places[d.Step])];
        }

        // Done comes first: the place of a step in the watch is its place in the list. Needs and drills are watched for what they move.
        Watch = new ConditionWatch.Plan([.. Items.Select(s => s.Done.Program), .. Items.Select(s => s.Needs.Program), .. Drills.Select(d => d.WhenProgram)], i => machine.Signals.All[i].ByHand);
    }

    /// <summary>With the sides and speeds of this school written into its texts.</summary>
    public ProcedureDefinition Definition { get; }
    public ChecklistItem[] Items { get; }
    public TrackedDrill[] Drills { get; }
    public (RequirementDefinition Definition, Condition When)[] Ready { get; }
    public ConditionWatch.Plan Watch { get; }
    public IReadOnlyDictionary<string, int> Places { get; }

    /// <exception cref="FormatException">A condition does not compile, a dependency names no step, or the school does not fit.</exception>
    public static Checklist For(ProcedureDefinition p, Machine machine)
    {
        var (header, aircraft) = (machine.Header, machine.Aircraft);
        var answers = p.Schools.Select(s => ProcedureTracker.Answer(p, header.School, s.Id)).ToList();
        string? Answered(string question) => p.Schools.Any(s => s.Id == question) ? ProcedureTracker.Answer(p, header.School, question) : null;
        var first = Answered("firstEngine") ?? header.Flight?.Dead ?? aircraft.Engines[0].Id;
        return All.GetOrCreateValue(p).GetOrAdd($"{header.Beginning}/{first}/{string.Join(' ', answers)}", _ =>
        {
            var second = aircraft.Engines.FirstOrDefault(e => e.Id != first)?.Id ?? first;
            var fuelOn = Answered("fuelOn") is { } chosen ? aircraft.Engine.FuelOnN2Pct[chosen] : aircraft.Engine.FuelOnMinN2Pct;
            return new Checklist(Texts.GetOrCreateValue(p).GetOrAdd(FormattableString.Invariant($"{first}/{fuelOn}"), _ => new Compiled(Substitute(p, first, second, fuelOn), machine)), machine);
        });
    }

    // Every choice is looked at, though the first may have settled it: a name that does not exist is found whatever is taught.
    private static bool Taught(string? choices, StepDefinition step, Machine machine, ProcedureDefinition p) =>
        choices is null || choices.Split(" and ").Select(c => Chosen(c, step, machine, p)).ToList().TrueForAll(chosen => chosen);

    private static bool Chosen(string choice, StepDefinition step, Machine machine, ProcedureDefinition p)
    {
        if (choice.Split(" is ") is not [var question, var answer])
        {
            machine.Wrong($"steps.{step.Id}.school", "write \"question is answer\"");
            return true;
        }

        if (p.Schools.FirstOrDefault(s => s.Id == question)?.Answers.Any(a => a.Id == answer) != true)
        {
            machine.Wrong($"steps.{step.Id}.school", $"there is no question \"{question}\" with an answer \"{answer}\"{Nearest.Hint(choice, p.Schools.SelectMany(q => q.Answers, (q, a) => $"{q.Id} is {a.Id}"))}");
            return true;
        }

        return ProcedureTracker.Answer(p, machine.Header.School, question) == answer;
    }

    // The sides in the school's order and its fuel-on speed are written into the text once, so that conditions stay simple.
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
        if (target is { Kind: SignalKind.Positions } && s.Act.Look is null && position < 0)
        {
            machine.Wrong($"{where}.act.to", $"\"{target.Name}\" has no position \"{s.Act.To}\" ({string.Join(", ", target.Positions)})");
        }

        foreach (var watched in s.Watch.Append(s.Left).Append(s.Act.Signal).OfType<string>())
        {
            if (signals.Find(watched) is null)
            {
                machine.Wrong(where, $"there is no signal \"{watched}\"{Nearest.Hint(watched, signals.All.Select(i => i.Name))}");
            }
        }

        var cold = s.Act.To is { } at && machine.Aircraft.Controls.Any(c => c.Id == s.Act.Set && c.Default == at);
        return new ChecklistItem(s, phase, machine.Compile(s.Needs, $"{where}.needs"), machine.Compile(s.Done, $"{where}.done"), target?.Index ?? -1, position, cold);
    }
}
