using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Web.Live;

/// <summary>What changed since the last frame.</summary>
/// <param name="T">Run time, s.</param>
/// <param name="S">Pairs of signal index and value in units of the signal's quantum.</param>
/// <param name="Done">One character a step, 1 where done; null where unchanged.</param>
public sealed record Frame(double T, double Rate, bool Paused, bool Ended, long[] S, CueView? Cue, string? Done, IReadOnlyList<ActionView>? Actions);

/// <summary>Everything a page needs that joins a run.</summary>
public sealed record Snapshot(string Id, RunHeader Header, string Title, IReadOnlyList<PhaseView> Phases, IReadOnlyList<SignalView> Signals, Frame Frame,
    HistoryView History, bool Fresh, string? Parent);

public sealed record SignalView(string Name, string Unit, double Quantum, string Kind, IReadOnlyList<string> Positions);

public sealed record PhaseView(string Id, string Title, IReadOnlyList<StepView> Steps);

public sealed record StepView(string Id, string Cue, string Why, string? Hazard, bool Optional);

/// <param name="Link">The link of the chain where hands or eyes are wanted.</param>
public sealed record CueView(string Kind, string Id, string Text, string Why, string? Hazard, bool Drill, ActView? Act, IReadOnlyList<string> Watch, IReadOnlyList<WaitView> Waiting,
    IReadOnlyList<RunningView> Running, string? Left, string? Link);

/// <param name="Kind">set, hold, look or watch.</param>
/// <param name="Number">For a dial: the number to set.</param>
public sealed record ActView(string Kind, string? Target, string? To, bool Circle, double? Number);

/// <param name="Label">The signal in words.</param>
/// <param name="Test">What it is asked to be, after its name.</param>
public sealed record WaitView(string Signal, string Label, string Test, string? Link);

public sealed record RunningView(string Id, string Text, string? Left);

public sealed record ActionView(double T, string Kind, string Target, string? Position, double? Number);

/// <summary>Trace signals at 2 Hz since the beginning of the run.</summary>
public sealed record HistoryView(double Hz, IReadOnlyDictionary<string, IReadOnlyList<float>> Values);

/// <summary>Turns the core's words into what is sent.</summary>
public static class Views
{
    public static ActionView Of(RunCommand c) => new(c.Time, c.Kind.ToString().ToLowerInvariant(), c.Target, c.Position, c.Number);

    public static IReadOnlyList<PhaseView> Of(ProcedureTracker tracker) =>
        [.. tracker.Definition.Phases.Select(p => new PhaseView(p.Id, p.Title,
            [.. tracker.Steps.Where(s => s.Phase == p.Id).Select(s => new StepView(s.Id, s.Definition.Cue, s.Definition.Why, s.Definition.Hazard, s.Definition.Optional))]))];

    public static IReadOnlyList<SignalView> Of(SignalTable signals) =>
        [.. Visible(signals).Select(s => new SignalView(s.Name, s.Unit, s.Quantum, s.Kind.ToString().ToLowerInvariant(), s.Positions))];

    /// <summary>Signals are sent by index: all but the notes of what was looked at, which come last in the table.</summary>
    public static IEnumerable<SignalInfo> Visible(SignalTable signals) =>
        signals.All.TakeWhile(s => !s.Name.StartsWith(SignalTable.SeenPrefix, StringComparison.Ordinal));

    public static CueView Of(Cue cue, Machine machine, SignalWords words)
    {
        var running = cue.Running.Where(r => r != cue.Step || cue.Kind == CueKind.Wait).Select(r => new RunningView(r.Id, r.Definition.Cue, r.Definition.Left)).ToList();
        var kind = cue.Kind.ToString().ToLowerInvariant();
        if (cue.Drill?.Definition is { } drill)
        {
            return new CueView(kind, drill.Id, drill.Cue, drill.Why, null, true, Of(drill.Act, machine), drill.Watch, [], running, null, LinkOf(drill.Act, drill.Watch, words));
        }

        if (cue.Step?.Definition is not { } step)
        {
            return new CueView(kind, "", "Everything is done: end the run", "The judge reads the whole run and says what it was worth.", null, false, null, [], [], running, null, null);
        }

        var text = cue.Kind == CueKind.Wait ? "Nothing for the hands: wait" : step.Cue;
        var why = cue.Kind != CueKind.Wait ? step.Why : cue.Running.Contains(cue.Step) ? $"It runs by itself: {step.Why}" : $"Next: {step.Cue}.";
        return new CueView(kind, step.Id, text, why, step.Hazard, false,
            cue.Kind == CueKind.Wait ? null : Of(step.Act, machine), step.Watch,
            [.. cue.Waiting.Select(w => new WaitView(w.SignalName, words.LabelOf(w.SignalName), w.Text[w.SignalName.Length..], words.LinkOf(w.SignalName)))],
            running, step.Left, cue.Kind == CueKind.Wait ? null : LinkOf(step.Act, step.Watch, words));
    }

    private static string? LinkOf(ActDefinition act, IReadOnlyList<string> watch, SignalWords words) =>
        (act.Target ?? (watch.Count > 0 ? watch[0] : null)) is { } name ? words.LinkOf(name) : null;

    private static ActView Of(ActDefinition act, Machine machine) =>
        new(act.Set is not null ? "set" : act.Hold is not null ? "hold" : act.Look is not null ? "look" : "watch",
            act.Target, act.To, act.Circle, act.Signal is { } signal ? machine[signal] : null);
}
