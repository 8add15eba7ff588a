using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Judging;

/// <summary>
/// Watches a run as it is simulated and says at its end what was wrong, with evidence. It sees the commands before they
/// take effect and the machine five times a second; it knows only the procedure in force and the aircraft's limits.
/// </summary>
public sealed class Judge
{
    private const string HoldTooShort = "hold-too-short";
    private readonly Machine _machine;
    private readonly ProcedureTracker _tracker;
    private readonly double[] _v;
    private readonly List<Finding> _findings = [];
    private readonly HashSet<string> _reported = [];
    private readonly Dictionary<string, double> _heldSince = [];
    private readonly FaultWatch _faults;
    private readonly WatchRunner _watches;
    private readonly LateSteps _late;
    private readonly IdleHands _idle;

    public Judge(Machine machine, ProcedureTracker tracker, FaultCatalog faults)
    {
        (_machine, _tracker) = (machine, tracker);
        _faults = new FaultWatch(machine, faults);
        _watches = new WatchRunner(machine, tracker.Procedure);
        (_late, _idle) = (new LateSteps(machine, tracker), new IdleHands(machine, tracker));
        _v = machine.Signals.Values;
    }

    /// <summary>Reports what is wrong with a watch to the machine (<see cref="Machine.Wrong"/>).</summary>
    public static void Check(WatchDefinition watch, Machine machine) => WatchRunner.Check(watch, machine);

    /// <summary>A fault that has shown, which is to be reported and was not; null where there is none.</summary>
    public FaultDefinition? Unsaid => _faults.Unsaid;

    private void Add(Finding finding, bool once = true)
    {
        if (!once || _reported.Add($"{finding.Code}/{finding.Step}/{finding.Evidence?.Signal}"))
        {
            _findings.Add(finding);
        }
    }

    /// <summary>Hears a command just before it is applied.</summary>
    public void Hear(RunCommand command)
    {
        ArgumentNullException.ThrowIfNull(command);
        var t = command.Time;
        if (command.Kind == CommandKind.Hold)
        {
            _heldSince[command.Target] = t;
        }

        if (command.Kind == CommandKind.Release && _heldSince.Remove(command.Target, out var since))
        {
            LetGo(command.Target, since, t);
        }

        if (command.Kind == CommandKind.End)
        {
            Look(); // what happened since the last tick belongs to the run too
        }

        if (command.Kind == CommandKind.Report)
        {
            _faults.Hear(command);
        }

        if (command.Kind is CommandKind.Release or CommandKind.End or CommandKind.Report)
        {
            return;
        }

        // The same lever goes to the same place for more than one step: an act is for the one that it is due for, else for the first of them.
        TrackedStep? early = null;
        foreach (var step in _tracker.Open)
        {
            if (ProcedureTracker.IsActOf(step, command))
            {
                if (step.Lacks() is null)
                {
                    return;
                }

                early ??= step;
            }
        }

        if (early is null)
        {
            return;
        }

        foreach (var (before, word) in early.Dependencies.Zip(early.After).Where(d => !d.First.Done))
        {
            OutOfOrder(early, word, before, t);
        }
    }

    private void OutOfOrder(TrackedStep step, Dependency dependency, TrackedStep other, double t)
    {
        var severity = Enum.TryParse<Severity>(dependency.Severity, ignoreCase: true, out var s) ? s : Severity.Caution;
        Add(new Finding("out-of-order", severity, t, t, $"“{Title(step)}” was done before “{Title(other)}”.", dependency.Reason!,
            $"{Title(other)} first.", Step: step.Id));
    }

    private void LetGo(string control, double since, double t)
    {
        var position = _machine.Signals.Find(control) is { Kind: SignalKind.Positions } info ? info.Positions[(int)_v[info.Index]] : "";
        var step = _tracker.Steps.FirstOrDefault(s => s.Definition.Act.Hold == control && s.Definition.Act.To == position && s.FirstDone < 0);
        if (step is null || step.DoneWhen.Holds(_v))
        {
            return;
        }

        Add(new Finding(HoldTooShort, Severity.Caution, since, t, $"“{Title(step)}” was let go after {t - since:0.0} s, before it was complete.{Unproved(step)}",
            step.Definition.IfOmitted ?? "Nothing is proved by a test that was cut short.", "Hold until the last sign has come.",
            new Evidence(control, Math.Round(t - since, 1), null, "s"), step.Id), once: false);
    }

    // What a task's words name, it has proved up to the state it is in and no further.
    private string Unproved(TrackedStep step)
    {
        var names = step.DoneWhen.Inputs.Select(i => _machine.Signals.All[i].Name).ToList();
        var task = _machine.Aircraft.Tasks.FirstOrDefault(t => names.Exists(n => n.StartsWith(t.Id, StringComparison.Ordinal))
            && t.States[(int)_machine[$"{t.Id}.state"]].Seconds is not null);
        var words = task?.States.Skip((int)_machine[$"{task.Id}.state"]).TakeWhile(s => s.Seconds is not null).Select(s => s.Word).OfType<string>().Distinct().ToList();
        return words is { Count: > 0 } ? $" Unproved: {string.Join(", ", words)}." : "";
    }

    private static string Title(TrackedStep step) => step.Definition.Cue;

    /// <summary>Looks at the machine after a slow tick.</summary>
    public void Look()
    {
        var t = _machine.Time;
        _faults.Look(t);
        _watches.Look(t);
        _late.Look(t);
        _idle.Look(t);
    }

    /// <summary>The judgement as the run stands now.</summary>
    /// <param name="more">What was found by means that the judge does not have.</param>
    public Judgement Conclude(IReadOnlyList<Finding>? more = null) => Conclude(more, goesOn: false);

    /// <summary>What can be said of a run that goes on: nothing of its faults, which its pilot is to find, and in the air nothing of what is still to be done, which names
    /// the engine.</summary>
    public Judgement SoFar() => Conclude([], goesOn: true);

    private Judgement Conclude(IReadOnlyList<Finding>? more, bool goesOn)
    {
        var t = _machine.Time;
        var flies = goesOn && _machine.Header.Flight is not null;
        // A hold cut short and then held to its end has proved what it should: worth a word, no defect.
        List<Finding> findings = [.. _findings.Select(f => f.Code == HoldTooShort && _tracker.Find(f.Step!) is { Done: true } ? f with { Severity = Severity.Note } : f)];
        findings.AddRange(_watches.Conclude());
        findings.AddRange(flies ? [] : _late.Conclude());
        findings.AddRange(more ?? []);

        var missing = new List<string>();
        foreach (var (requirement, when) in _tracker.Ready)
        {
            if (!flies && !when.Holds(_v))
            {
                missing.Add(requirement.Text);
            }
        }

        // Who walks away from a jet that must not fly has left nothing out.
        var flight = _machine.Header.Flight is null ? null : FlightOutcome.Of(_machine);
        var grounded = missing.Count > 0 && flight is null && !goesOn ? _faults.Grounded : null;
        var excused = grounded is not null || flight is { End: FlightEnd.HomeOnOne or FlightEnd.Left or FlightEnd.Landed };
        // What ran when the flight began was nobody's doing, and its flame-out is no act undone.
        var allRan = _machine.Header.Flight is { Dead: RunFlight.NoneDead };
        findings.AddRange(flies ? [] : Omissions.Conclude(_tracker, _v, t).Where(f => f.Code != Omissions.Undone || !allRan)
            .Select(f => excused ? f with { Severity = Severity.Note } : f));
        findings.AddRange(goesOn ? [] : _faults.Conclude(t));
        findings.AddRange(SweepWatch.Conclude(_machine, _tracker));
        findings.AddRange(_idle.Conclude() is { } idle ? [idle] : []);

        var words = new SignalWords(_machine);
        findings = [.. findings.Select(f => Labelled(f, words)).OrderByDescending(f => f.Severity).ThenBy(f => f.From)];
        var worst = findings.Count > 0 ? findings.Max(f => f.Severity) : Severity.Note;
        var verdict = worst == Severity.Damage ? Verdict.AircraftDamaged
            : flies || missing.Count > 0 ? Verdict.NotReady
            : worst >= Severity.Caution ? Verdict.ReadyWithDefects
            : Verdict.LaunchReady;
        var sentence = flies ? "The flight still goes on." : grounded is { } fault
            && verdict == Verdict.NotReady ? $"Rightly not launched: {fault.ToLowerInvariant()}." : Sentence(verdict, missing, findings, flight);
        return new Judgement(verdict, sentence, findings, missing);
    }

    // A reading is named as its instrument is, never by the word that the data have for it.
    private Finding Labelled(Finding f, SignalWords words) => f.Evidence is { } e
        && _machine.Signals.Find(e.Signal) is not null ? f with { Evidence = e with { Label = words.LabelOf(e.Signal) } } : f;

    private string Sentence(Verdict verdict, List<string> missing, List<Finding> findings, FlightOutcome? flight)
    {
        var defects = findings.Count(f => f.Severity >= Severity.Caution);
        var (at, with) = (Clock.At(_machine.Time), $"with {defects} {(defects == 1 ? "defect" : "defects")}");
        return verdict switch
        {
            Verdict.LaunchReady => flight is null ? $"Launch-ready at {at}, nothing against it." : $"{flight.Sentence}, nothing against it, at {at}.",
            Verdict.ReadyWithDefects => $"{flight?.Sentence ?? "Ready"} at {at}, {with}.",
            Verdict.NotReady when flight is { Sentence.Length: > 0, End: not FlightEnd.Restarted } => $"{flight.Sentence}{(defects > 0 ? $", {with}" : "")}.",
            Verdict.NotReady => $"Not ready: {string.Join("; ", missing.Take(3))}{(missing.Count > 3 ? $"; and {missing.Count - 3} more" : "")}.",
            _ => "Aircraft damaged: " + findings[0].What,
        };
    }
}
