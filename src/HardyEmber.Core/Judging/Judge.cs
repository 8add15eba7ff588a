using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
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
    private const double AcknowledgeWithinS = 90;
    private const string HoldTooShort = "hold-too-short";
    private readonly Machine _machine;
    private readonly ProcedureTracker _tracker;
    private readonly double[] _v;
    private readonly List<Finding> _findings = [];
    private readonly HashSet<string> _reported = [];
    private readonly Dictionary<string, double> _heldSince = [];
    private readonly EngineWatch[] _engines;
    private readonly int _lost, _unacknowledged, _good, _navigating, _takenAt, _aboveDecision, _hitGround, _inertialLeft;
    private double _lostBefore;
    private bool _wasNavigating, _wasAbove, _wasUnseen;

    private sealed class EngineWatch(string id, Machine m)
    {
        public string Id { get; } = id;
        public int Total { get; } = Index(m, $"{id}.over-limit-total");
        public int Highest { get; } = Index(m, $"{id}.egt-highest");
        public int Ahead { get; } = Index(m, $"{id}.egt-ahead");
        public int FuelValve { get; } = Index(m, $"{id}.fuel-valve");
        public int Cycle { get; } = Index(m, $"{id}.start-cycle");
        public double OverFrom = -1, OverTo = -1, AheadFrom = -1;
    }

    private readonly FaultWatch _faults;

    public Judge(Machine machine, ProcedureTracker tracker, FaultCatalog faults)
    {
        (_machine, _tracker) = (machine, tracker);
        _faults = new FaultWatch(machine, faults);
        _v = machine.Signals.Values;
        _engines = [.. machine.Aircraft.Engines.Select(e => new EngineWatch(e.Id, machine))];
        (_lost, _good) = (Index(machine, "ins.lost"), Index(machine, "ins.good"));
        (_navigating, _takenAt) = (Index(machine, "ins.navigating"), Index(machine, "ins.taken-at"));
        _inertialLeft = Index(machine, "ins.left");
        _unacknowledged = Index(machine, "caution.unacknowledged");
        (_aboveDecision, _hitGround) = (Index(machine, "flight.above-decision"), Index(machine, "flight.hit-ground"));
        _wasAbove = _v[_aboveDecision] > 0;
    }

    private static int Index(Machine m, string name) => m.Signals.Find(name)?.Index ?? -1;

    private double Value(int index) => index >= 0 ? _v[index] : 0;

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

        foreach (var step in _tracker.Open)
        {
            if (!ProcedureTracker.IsActOf(step, command))
            {
                continue;
            }

            for (var i = 0; i < step.Dependencies.Length; i++)
            {
                if (!step.Dependencies[i].Done)
                {
                    OutOfOrder(step, step.After[i], step.Dependencies[i], t);
                }
            }
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
        var task = _machine.Aircraft.Tasks.FirstOrDefault(t => names.Exists(n => n.StartsWith(t.Id, StringComparison.Ordinal)) && t.States[(int)_machine[$"{t.Id}.state"]].Seconds is not null);
        var words = task?.States.Skip((int)_machine[$"{task.Id}.state"]).TakeWhile(s => s.Seconds is not null).Select(s => s.Word).OfType<string>().Distinct().ToList();
        return words is { Count: > 0 } ? $" Unproved: {string.Join(", ", words)}." : "";
    }

    private static string Title(TrackedStep step) => step.Definition.Cue;

    /// <summary>Looks at the machine after a slow tick.</summary>
    public void Look()
    {
        var t = _machine.Time;
        _faults.Look(t);
        foreach (var engine in _engines)
        {
            LookAt(engine, t);
        }

        if (Value(_lost) > _lostBefore)
        {
            _lostBefore = Value(_lost);
            Add(new Finding("alignment-lost", Severity.Caution, t, t, "The inertial alignment was thrown away.",
                "It starts again from the beginning: the longest wait of the start, twice.",
                "Do not pass through OFF, cut its power for longer than its hold-up, or move the jet while it aligns.", new Evidence("ins.left", Value(_inertialLeft), null, "s")), once: false);
        }

        if (Value(_navigating) > 0.5 && !_wasNavigating && Value(_good) < 0.5)
        {
            var limit = _machine.Aircraft.Inertial!.GoodQuality;
            Add(new Finding("navigate-too-early", Severity.Caution, t, t, $"Navigate was selected at quality {Value(_takenAt):0.0}.",
                "The heading error left in it grows into miles on the way.", $"Wait for {limit:0.0} or less.", new Evidence("ins.quality", Value(_takenAt), limit, "")), once: false);
        }

        _wasNavigating = Value(_navigating) > 0.5;
        if (_v[_unacknowledged] > AcknowledgeWithinS && !_wasUnseen)
        {
            _wasUnseen = true;
            Add(new Finding("caution-unseen", Severity.Caution, t - AcknowledgeWithinS, t, "The master caution stayed lit.",
                "A new caution cannot be told from the old one.", "Read the cautions, acknowledge, restack.", new Evidence("caution.unacknowledged", Math.Round(_v[_unacknowledged]), AcknowledgeWithinS, "s")), once: false);
        }

        if (_machine.Header.Flight is not null)
        {
            LookAtFlight(t);
        }
    }

    private void LookAt(EngineWatch engine, double t)
    {
        var limits = _machine.Aircraft.Engine;
        if (_v[engine.Highest] > limits.StartLimitC)
        {
            engine.OverFrom = engine.OverFrom < 0 ? t : engine.OverFrom;
            engine.OverTo = engine.OverFrom + Math.Max(0.2, _v[engine.Total]);
        }

        var coming = _v[engine.Cycle] > 0.5 && _v[engine.Ahead] > limits.StartLimitC;
        if (coming && engine.AheadFrom < 0)
        {
            engine.AheadFrom = t;
        }

        // How late the fuel valve shuts after the first projection over the limit is the pilot's reaction.
        if (engine.AheadFrom >= 0 && _v[engine.FuelValve] < 0.5)
        {
            var reaction = Math.Max(0, t - engine.AheadFrom);
            Add(new Finding("hot-start-answered", reaction <= 2.5 ? Severity.Note : Severity.Caution, engine.AheadFrom, t,
                $"Hot start on the {engine.Id} engine: fuel cut {reaction:0.0} s after the projection passed the limit.",
                $"Peak {_v[engine.Highest]:0} °C.", reaction <= 2.5 ? "That was right: motor the core, let it cool, then try once more." : "Cut off within two seconds of the projection.",
                new Evidence($"{engine.Id}.egt-highest", Math.Round(_v[engine.Highest]), limits.StartLimitC, "°C")), once: false);
            engine.AheadFrom = -1;
        }
    }

    private void LookAtFlight(double t)
    {
        var above = _v[_aboveDecision] > 0;
        if (_wasAbove && !above && _tracker.Steps.Any(s => !s.Done && !s.Definition.Optional))
        {
            Add(new Finding("below-decision-height", Severity.Warning, t, t, "The restart went on below the decision height.",
                "Too little height is left to leave the aircraft safely.", "At the decision height stop trying and leave.",
                new Evidence("flight.above-decision", 0, 0, "ft")));
        }

        _wasAbove = above;
        if (_v[_hitGround] > 0.5)
        {
            Add(new Finding("hit-the-ground", Severity.Damage, t, t, "The aircraft flew into the ground.", "It is lost.", "Leave at the decision height."));
        }
    }

    /// <summary>The judgement as the run stands now.</summary>
    public Judgement Conclude()
    {
        var t = _machine.Time;
        // A hold cut short and then held to its end has proved what it should: worth a word, no defect.
        List<Finding> findings = [.. _findings.Select(f => f.Code == HoldTooShort && _tracker.Find(f.Step!) is { Done: true } ? f with { Severity = Severity.Note } : f)];
        foreach (var engine in _engines)
        {
            if (engine.OverFrom >= 0)
            {
                findings.Add(Exceedance(engine));
            }
        }

        var missing = new List<string>();
        foreach (var (requirement, when) in _tracker.Ready)
        {
            if (!when.Holds(_v))
            {
                missing.Add(requirement.Text);
            }
        }

        // Who walks away from a jet that must not fly has left nothing out.
        var grounded = missing.Count > 0 ? _faults.Grounded : null;
        foreach (var step in _tracker.Steps)
        {
            if (!step.Done && !step.Definition.Optional)
            {
                var omitted = Omitted(step, t);
                findings.Add(grounded is null ? omitted : omitted with { Severity = Severity.Note });
            }
        }

        findings.AddRange(_faults.Conclude(t));
        findings.AddRange(SweepWatch.Conclude(_machine, _tracker));

        findings = [.. findings.OrderByDescending(f => f.Severity).ThenBy(f => f.From)];
        var worst = findings.Count > 0 ? findings.Max(f => f.Severity) : Severity.Note;
        var verdict = worst == Severity.Damage ? Verdict.AircraftDamaged
            : missing.Count > 0 ? Verdict.NotReady
            : worst >= Severity.Caution ? Verdict.ReadyWithDefects
            : Verdict.LaunchReady;
        var sentence = grounded is { } fault && verdict == Verdict.NotReady ? $"Rightly not launched: {fault.ToLowerInvariant()}." : Sentence(verdict, missing, findings);
        return new Judgement(verdict, sentence, findings, missing);
    }

    private Finding Exceedance(EngineWatch engine)
    {
        var d = _machine.Aircraft.Engine;
        var peak = _v[engine.Highest];
        var seconds = _v[engine.Total];
        var damage = peak >= d.DamageC || seconds > 8;
        return new Finding("start-temperature", damage ? Severity.Damage : Severity.Warning, engine.OverFrom, engine.OverTo,
            $"Start temperature exceeded on the {engine.Id} engine: peak {peak:0} °C, {seconds:0.0} s over {d.StartLimitC:0} °C.",
            damage ? "The hot section is damaged: engine change." : "A hot-section inspection is due before the next start.",
            "Cut off as soon as the two-seconds-ahead tick passes the limit; motor and cool before trying again.",
            new Evidence($"{engine.Id}.egt-highest", Math.Round(peak), d.StartLimitC, "°C"));
    }

    private static Finding Omitted(TrackedStep step, double end)
    {
        // What held for less than a second, while the machine settled, was never done.
        var undone = step.FirstDone >= 0 && step.LastUndone - step.FirstDone > 1;
        var from = undone ? step.LastUndone : end;
        return new Finding(undone ? "undone" : "omitted", Severity.Caution, from, end,
            undone ? $"“{Title(step)}” was done at {Clock(step.FirstDone)} and undone again at {Clock(step.LastUndone)}." : $"“{Title(step)}” was left out.",
            step.Definition.IfOmitted ?? step.Definition.Why, Title(step) + ".", Step: step.Id);
    }

    private static string Clock(double seconds) => $"{(int)seconds / 60:00}:{(int)seconds % 60:00}";

    private string Sentence(Verdict verdict, List<string> missing, List<Finding> findings)
    {
        var air = _machine.Header.Flight is not null;
        var defects = findings.Count(f => f.Severity >= Severity.Caution);
        return verdict switch
        {
            Verdict.LaunchReady => air ? $"Restarted, nothing against it, at {Clock(_machine.Time)}." : $"Launch-ready at {Clock(_machine.Time)}, nothing against it.",
            Verdict.ReadyWithDefects => (air ? "Restarted" : "Ready") + $" at {Clock(_machine.Time)}, with {defects} {(defects == 1 ? "defect" : "defects")}.",
            Verdict.NotReady => $"Not ready: {string.Join("; ", missing.Take(3))}{(missing.Count > 3 ? $"; and {missing.Count - 3} more" : "")}.",
            _ => "Aircraft damaged: " + findings[0].What,
        };
    }
}
