using System.Collections.Concurrent;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.Json;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Procedures;

/// <summary>What a step takes of its pilot.</summary>
[Flags]
public enum Occupies
{
    None = 0,

    /// <summary>Hands: a control is moved or held.</summary>
    Hands = 1,

    /// <summary>Eyes, until it is done: a watch, or a look.</summary>
    Eyes = 2,

    /// <summary>The one radio: somebody is asked by it, and until the answer nobody else can be.</summary>
    Radio = 4,
}

/// <summary>The time in which a step can be done: what it needs stands only for so long.</summary>
/// <param name="Opens">The flag that says that it can be done now.</param>
/// <param name="LastsS">How long that stands, s; on average where it is drawn.</param>
public sealed record StepWindow(string Opens, double LastsS);

/// <summary>A step as this situation and school leave it.</summary>
/// <param name="Phase">Id of its phase.</param>
/// <param name="After">The steps it relies on, each with its words.</param>
/// <param name="Waits">The signal with the seconds left of the wait that it begins; null where it is done when the hands are.</param>
/// <param name="Window">Null where it can be done at any time once it can be.</param>
/// <param name="HeldS">Seconds for which its act must be held, as the task that waits for it says.</param>
public sealed record StepInForce(StepDefinition Definition, string Phase, IReadOnlyList<Dependency> After, Occupies Occupies, string? Waits, StepWindow? Window, double HeldS)
{
    public string Id => Definition.Id;

    /// <summary>Seconds that hands need for it, s.</summary>
    public double TakesS => HandsS + HeldS;

    /// <summary>Seconds to begin it, s.</summary>
    public double HandsS => Occupies.HasFlag(Occupies.Hands) || Definition.Act.Look is not null ? Definition.HandsS : 0;
}

/// <summary>
/// The procedure of a run: what an aircraft's procedure becomes by the kind of start and the answers of a school. No machine is needed for it;
/// immutable, and the same one for all runs that have the same.
/// </summary>
public sealed class ProcedureInForce
{
    private static readonly ConditionalWeakTable<AircraftDefinition, ConditionalWeakTable<ProcedureDefinition, Known>> All = [];

    /// <summary>What was put together for an aircraft and a procedure: by beginning and school, and the texts by engine and speed.</summary>
    private sealed class Known
    {
        public ConcurrentDictionary<string, ProcedureInForce> Procedures { get; } = new(StringComparer.Ordinal);
        public ConcurrentDictionary<string, ProcedureDefinition> Texts { get; } = new(StringComparer.Ordinal);
    }

    // Beside what a school answers, a step may ask what kind of place it is done at: "place is ship".
    private const string Otherwise = "not ";
    private const string PlaceQuestion = "place", OnField = "field", OnShip = "ship";
    private readonly string _place;

    private ProcedureInForce(ProcedureDefinition definition, AircraftDefinition aircraft, IReadOnlyDictionary<string, string> school, string beginning, bool ship,
        Action<string, string> wrong)
    {
        (Definition, School, Beginning, _place) = (definition, school, beginning, ship ? OnShip : OnField);
        var steps = definition.Phases.SelectMany(p => p.Steps, (p, s) => (Phase: p.Id, Step: s)).ToList();
        var known = steps.Select(s => s.Step.Id).ToHashSet();
        var taught = steps.Where(s => Taught(s.Step.School, $"steps.{s.Step.Id}.school", wrong) && (s.Step.OnlyBeginning ?? beginning) == beginning).ToList();
        var byId = taught.GroupBy(s => s.Step.Id).ToDictionary(g => g.Key, g => g.First().Step);
        foreach (var twice in taught.GroupBy(s => s.Step.Id).Where(g => g.Count() > 1))
        {
            wrong($"steps.{twice.Key}", "this id stands twice");
        }

        foreach (var (step, on) in taught.SelectMany(s => s.Step.After, (s, d) => (s.Step, d.Step)).Where(x => !known.Contains(x.Item2)))
        {
            wrong($"steps.{step.Id}.after", $"there is no step \"{on}\"{Nearest.Hint(on, known)}");
        }

        for (var i = 0; i < definition.Ready.Count; i++)
        {
            _ = Taught(definition.Ready[i].School, $"ready[{i}].school", wrong);
        }

        var windows = Windows(aircraft);
        // A step that this school or kind of start leaves out asks nothing of the others.
        Steps = [.. taught.Select(s => new StepInForce(s.Step, s.Phase,
            [.. s.Step.After.Where(d => byId.ContainsKey(d.Step) && Taught(d.School, $"steps.{s.Step.Id}.after.{d.Step}.school", wrong)).Select(d => Worded(d, byId[d.Step]))],
            Taken(s.Step, aircraft), s.Step.Left, windows.FirstOrDefault(w => Asks(s.Step.Needs, w.Opens)), Held(s.Step, aircraft)))];
    }

    /// <summary>With the sides and speeds of this school written into its texts.</summary>
    public ProcedureDefinition Definition { get; }

    /// <summary>The answer to each of its questions: chosen, or the first one offered.</summary>
    public IReadOnlyDictionary<string, string> School { get; }
    public string Beginning { get; }
    public IReadOnlyList<StepInForce> Steps { get; }

    /// <exception cref="FormatException">A choice is not offered, or the data are unsound and nothing gathers what is wrong.</exception>
    /// <param name="wrong">Takes what is wrong with the data, as place and problem; such a procedure is not to be flown.</param>
    public static ProcedureInForce Of(ProcedureDefinition procedure, AircraftDefinition aircraft, PlaceDefinition place, RunHeader situation, Action<string, string>? wrong = null)
    {
        ArgumentNullException.ThrowIfNull(procedure);
        ArgumentNullException.ThrowIfNull(aircraft);
        ArgumentNullException.ThrowIfNull(place);
        ArgumentNullException.ThrowIfNull(situation);
        var ship = place.Ship is not null;
        var answers = procedure.Schools.ToDictionary(q => q.Id, q => Answer(procedure, situation.School, q.Id));
        var first = answers.GetValueOrDefault("firstEngine") ?? situation.RestartEngine(aircraft);
        var known = All.GetOrCreateValue(aircraft).GetOrCreateValue(procedure);
        return known.Procedures.GetOrAdd($"{situation.Beginning}/{ship}/{first}/{string.Join(' ', answers.Values)}", _ =>
        {
            var second = aircraft.Engines.FirstOrDefault(e => e.Id != first)?.Id ?? first;
            var engine = aircraft.EngineOf(first);
            var fuelOn = answers.TryGetValue("fuelOn", out var chosen) ? engine.FuelOnN2Pct[chosen] : engine.FuelOnMinN2Pct;
            var text = known.Texts.GetOrAdd(FormattableString.Invariant($"{first}/{fuelOn}"), _ => Filled(procedure, first, second, fuelOn));
            return new ProcedureInForce(text, aircraft, answers, situation.Beginning, ship, wrong ?? ((where, problem) => throw new FormatException($"{where}: {problem}")));
        });
    }

    /// <summary>The school's answer to a question: chosen, or the first one offered.</summary>
    /// <exception cref="FormatException">There is no such question.</exception>
    public static string Answer(ProcedureDefinition procedure, IReadOnlyDictionary<string, string> school, string question)
    {
        ArgumentNullException.ThrowIfNull(procedure);
        ArgumentNullException.ThrowIfNull(school);
        return school.TryGetValue(question, out var chosen) ? chosen
            : procedure.Schools.FirstOrDefault(s => s.Id == question)?.Answers[0].Id ?? throw new FormatException($"school: there is no question \"{question}\"");
    }

    /// <summary>Whether the school takes the heading of the last shutdown: one of its answers is for that alone.</summary>
    public static bool TakesStoredHeading(ProcedureDefinition procedure, RunHeader situation)
    {
        ArgumentNullException.ThrowIfNull(procedure);
        ArgumentNullException.ThrowIfNull(situation);
        return procedure.Schools.Any(q => Answer(procedure, situation.School, q.Id) is var given && q.Answers.Any(a => a.Id == given && a.Needs == SchoolAnswer.HeadingStored));
    }

    // The sides in the school's order and its fuel-on speed are written into the text once, so that conditions stay simple.
    private static ProcedureDefinition Filled(ProcedureDefinition p, string first, string second, double fuelOn)
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

    // Every choice is looked at, though the first may have settled it: a name that does not exist is found whatever is taught.
    private bool Taught(string? choices, string where, Action<string, string> wrong) =>
        choices is null || choices.Split(" and ").Select(c => Chosen(c, where, wrong)).ToList().TrueForAll(chosen => chosen);

    /// <summary>Whether all of these choices are made here, as "place is ship and alignment is stored". What the procedure does not ask about is not chosen.</summary>
    public bool Is(string choices)
    {
        ArgumentNullException.ThrowIfNull(choices);
        var known = true;
        return Taught(choices, "", (_, _) => known = false) && known;
    }

    private bool Chosen(string choice, string where, Action<string, string> wrong)
    {
        if (choice.Split(" is ") is not [var question, var answer])
        {
            wrong(where, "write \"question is answer\" or \"question is not answer\"");
            return true;
        }

        if (question == PlaceQuestion && answer is OnField or OnShip)
        {
            return answer == _place;
        }

        var wanted = !answer.StartsWith(Otherwise, StringComparison.Ordinal);
        answer = wanted ? answer : answer[Otherwise.Length..];
        if (Definition.Schools.FirstOrDefault(s => s.Id == question)?.Answers.Any(a => a.Id == answer) != true)
        {
            var known = Definition.Schools.SelectMany(q => q.Answers, (q, a) => $"{q.Id} is {a.Id}");
            wrong(where, $"there is no question \"{question}\" with an answer \"{answer}\"{Nearest.Hint(choice, known)}");
            return true;
        }

        return School[question] == answer == wanted;
    }

    // A dependency that says nothing says what the step says of itself.
    private static Dependency Worded(Dependency d, StepDefinition on) =>
        d with { Reason = d.Reason ?? on.Relied ?? $"It relies on “{on.Cue}”.", Severity = d.Severity ?? on.ReliedSeverity };

    // A held act lasts as long as the task that follows it: its timed states from the first to the one that is held no longer for time.
    private static double Held(StepDefinition step, AircraftDefinition aircraft)
    {
        if (step.Act.Hold is not { } control)
        {
            return 0;
        }

        var held = $"{control} is {step.Act.To}";
        return aircraft.Tasks.Where(t => t.States.Any(s => s.While?.Contains(held, StringComparison.Ordinal) == true))
            .Select(t => t.States.SkipWhile(s => s.Seconds is null).TakeWhile(s => s.Seconds is not null).Sum(s => s.Seconds!.DefaultIfEmpty(0).Average())).DefaultIfEmpty(0).Max();
    }

    // What the inertial set offers after its self-test, and what a task gives in states that end by themselves and in no other.
    private static List<StepWindow> Windows(AircraftDefinition aircraft)
    {
        var offered = aircraft.Inertial?.Stored is { } stored ? [new StepWindow(InertialSet.StoredOffered, stored.WindowS)] : new List<StepWindow>();
        var gives = aircraft.Tasks.SelectMany(t => t.States)
            .SelectMany(s => s.Gives.Keys.Concat(s.Leaves), (s, flag) => (Flag: flag, State: s)).ToLookup(x => x.Flag, x => x.State);
        return [.. offered, .. gives.Where(g => g.All(s => s.Seconds is not null)).Select(g => new StepWindow(g.Key, g.Sum(s => s.Seconds!.DefaultIfEmpty(0).Average())))];
    }

    // Whether a condition cannot hold without a flag: it is one of the things that all must be so.
    private static bool Asks(string? needs, string flag) => needs is not null && !needs.Contains(" or ", StringComparison.Ordinal)
        && needs.Split(" and ").Any(part => part.Trim(' ', '(', ')') == flag);

    private static Occupies Taken(StepDefinition step, AircraftDefinition aircraft)
    {
        var hands = step.Act.Set is not null || step.Act.Hold is not null ? Occupies.Hands : Occupies.None;
        var eyes = step.Attention || step.Act.Watch || step.Act.Look is not null ? Occupies.Eyes : Occupies.None;
        var asks = aircraft.Controls.FirstOrDefault(c => c.Id == step.Act.Set) is { Kind: ControlKind.Call, Task: { } task }
            && aircraft.Tasks.FirstOrDefault(t => t.Id == task)?.Who == "tower";
        return hands | eyes | (asks ? Occupies.Radio : Occupies.None);
    }
}
