using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Web.Live;

/// <summary>Turns the core's words into what is sent.</summary>
internal static class Views
{
    private static readonly string[] Kinds = [.. Enum.GetNames<CommandKind>().Select(n => n.ToLowerInvariant())];

    public static ActionView Of(RunCommand c) => new(c.Time, Kinds[(int)c.Kind], c.Target, c.Position, c.Number);

    public static IReadOnlyList<PhaseView> Of(ProcedureTracker tracker, SignalWords words) =>
        [.. tracker.Definition.Phases.Select(p => new PhaseView(p.Id, p.Title,
            [.. tracker.Steps.Where(s => s.Phase == p.Id).Select(s => new StepView(s.Id, s.Definition.Cue, s.Definition.Why, s.Definition.Hazard, s.Definition.Optional,
                s.Definition.Act.Target, words.LinkOf(s.Definition.Act, s.Definition.Watch)))]))];

    /// <summary>What a pilot's page is sent: all that an instrument shows, without the notes of what was looked at, which come last in the table.</summary>
    public static IEnumerable<SignalInfo> Visible(SignalTable signals) =>
        signals.All.TakeWhile(s => !s.Name.StartsWith(SignalTable.SeenPrefix, StringComparison.Ordinal)).Where(s => !s.Hidden);

    /// <summary>What the guide says, in words.</summary>
    public static CueView Of(Said cue, Machine machine, SignalWords words)
    {
        var sign = cue.Unsaid is { } unsaid ? new SignView(unsaid.Signature, unsaid.Response) : null;
        List<RunningView> running = [.. cue.Running.Where(r => r != cue.Step || cue.Kind == CueKind.Wait)
            .Select(r => new RunningView(r.Id, r.Definition.Cue, r.Definition.Left, r.Definition.SpoiledBy))];
        var kind = cue.Kind;
        if (cue.Drill?.Definition is { } drill)
        {
            return new CueView(kind, drill.Id, drill.Cue, drill.Why, null, true, cue.Act, 0, drill.Watch, [], running, [], null, words.LinkOf(drill.Act, drill.Watch), sign);
        }

        if (cue.Step?.Definition is not { } step)
        {
            return new CueView(kind, "", "Everything is done: end the run", "The judge reads the whole run and says what it was worth.", null, false,
                null, 0, [], [], running, [], null, null, sign);
        }

        List<NextView> next = [.. cue.Next.Select(n => new NextView(n.Step.Id, n.Step.Definition.Cue, n.Step.TakesS, n.Open))];
        var text = kind == CueKind.Wait ? "Wait" : step.Cue;
        var why = kind != CueKind.Wait ? step.Why : cue.Running.Contains(cue.Step) ? $"Running: {step.Cue}." : $"Next: {step.Cue}.";
        return new CueView(kind, step.Id, text, why, step.Hazard, false, cue.Act, cue.Step.TakesS, step.Watch,
            [.. cue.Waiting.Select(w => new WaitView(w.SignalName, words.LabelOf(w.SignalName), AskedOf(w, machine, words), words.LinkOf(w.SignalName)))],
            running, next, step.Left, kind == CueKind.Wait ? null : words.LinkOf(step.Act, step.Watch), sign);
    }

    // "≥ 370 kt" rather than the name that the data have for that number.
    private static string AskedOf(Atom atom, Machine machine, SignalWords words)
    {
        var asked = atom.Text[atom.SignalName.Length..];
        return atom.Other >= 0 && machine.Signals.All[atom.Other] is var other ? asked.Replace(other.Name, words.Against(other), StringComparison.Ordinal) : asked;
    }

    /// <summary>What an act is at this moment.</summary>
    public static ActView Of(ActDefinition act, Machine machine) => ActCommand.Of(act, machine) is [.., var command]
        ? new ActView(KindOf(command.Kind), command.Target, command.Position, command.Number, act.With)
        : new ActView(ActKind.Watch, null, null, null, null);

    private static ActKind KindOf(CommandKind kind) => kind switch
    {
        CommandKind.Hold => ActKind.Hold,
        CommandKind.Look => ActKind.Look,
        _ => ActKind.Set,
    };
}
