using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Procedures;

/// <summary>How a scripted pilot flies.</summary>
/// <param name="ReactionS">Mean time from a cue to the beginning of the act.</param>
/// <param name="Forgets">Steps left out.</param>
/// <param name="ImpatientAfterS">Acts on a cue that still waits for the machine after this time; null never.</param>
/// <param name="CutsOff">Answers drills; one who does not lets a hot start burn.</param>
/// <param name="LetsGoAfterS">Holds a held act at most this long; null until it is done.</param>
public sealed record PilotTraits(double ReactionS = 1.2, IReadOnlySet<string>? Forgets = null, double? ImpatientAfterS = null,
    bool CutsOff = true, double? LetsGoAfterS = null);

/// <summary>
/// Flies a procedure by its cues alone, with a reaction time and, if asked, faults of its own. It knows nothing of the
/// machine that the cues do not say, so a start it completes is a start that the procedure's data fully describe.
/// </summary>
public sealed class ScriptedPilot
{
    private const double WalkAwayAfterS = 15;
    private readonly Rehearsal _rehearsal;
    private readonly PilotTraits _traits;
    private readonly RandomStream _random;
    private readonly Queue<RunCommand> _planned = new();
    private readonly List<RunCommand> _log = [];
    private string _cue = "";
    private double _cueSince, _due;
    private (RunCommand Command, TrackedStep? Step, double Since)? _holding;

    public ScriptedPilot(Rehearsal rehearsal, PilotTraits? traits = null)
    {
        ArgumentNullException.ThrowIfNull(rehearsal);
        (_rehearsal, _traits) = (rehearsal, traits ?? new PilotTraits());
        _random = new RandomStream(rehearsal.Machine.Header.Seed, "scripted-pilot");
    }

    /// <summary>Every command given so far.</summary>
    public IReadOnlyList<RunCommand> Log => _log;

    /// <summary>Flies until finished or <paramref name="maxSeconds"/>, then ends the run.</summary>
    public RunLog Fly(double maxSeconds = 1800)
    {
        var m = _rehearsal.Machine;
        while (!m.Ended)
        {
            if (m.StepIndex % Rehearsal.TickSteps == 5)
            {
                Think(m.Time >= maxSeconds);
            }

            if (!m.Ended)
            {
                _rehearsal.Step();
            }
        }

        return new RunLog(m.Header, [.. _log]);
    }

    private void Give(CommandKind kind, string target = "", string? position = null, double? number = null)
    {
        var command = new RunCommand(_rehearsal.Machine.StepIndex, kind, target, position, number);
        _rehearsal.Apply(command);
        _log.Add(command);
    }

    private void Think(bool outOfTime)
    {
        var now = _rehearsal.Machine.Time;
        if (_holding is { } hold)
        {
            var enough = hold.Step is null ? now - hold.Since > 1 : hold.Step.Done;
            if (enough || now - hold.Since > (_traits.LetsGoAfterS ?? 40))
            {
                Give(CommandKind.Release, hold.Command.Target);
                _holding = null;
                _due = now + 0.4;
            }

            return;
        }

        if (_planned.Count > 0)
        {
            if (now >= _due)
            {
                var next = _planned.Dequeue();
                Give(next.Kind, next.Target, next.Position, next.Number);
                _due = now + 0.6;
            }

            return;
        }

        var cue = _rehearsal.Tracker.Now(_traits.Forgets);
        if (cue.Kind == CueKind.Finished || outOfTime)
        {
            Give(CommandKind.End);
            return;
        }

        if (cue.Drill is not null && !_traits.CutsOff)
        {
            return;
        }

        if (cue.Drill is { Definition.Act.Watch: true } && _cue == cue.Drill.Definition.Id && now - _cueSince > WalkAwayAfterS)
        {
            Give(CommandKind.End); // nothing is left for the hands but to climb out
            return;
        }

        var id = cue.Drill?.Definition.Id ?? $"{cue.Step?.Id}/{cue.Kind}";
        if (id != _cue)
        {
            _cue = id;
            _cueSince = now;
            var handsS = cue.Step?.Definition.HandsS ?? 0.3;
            _due = Math.Max(_due, now + Math.Max(0.2, (_traits.ReactionS + handsS) * _random.Between(0.7, 1.4)));
            if (cue.Drill is not null)
            {
                _due = now + _traits.ReactionS;
            }
        }

        var impatient = cue.Kind == CueKind.Ready && now - _cueSince >= (_traits.ImpatientAfterS ?? double.MaxValue);
        var hands = (cue.Drill?.Definition.Act ?? cue.Step?.Definition.Act) is { Watch: false };
        if (now >= _due && hands && (cue.Kind == CueKind.Act || impatient))
        {
            Act(cue.Drill?.Definition.Act ?? cue.Step!.Definition.Act, cue.Step, now);
            _cue = "";
        }
    }

    private void Act(ActDefinition act, TrackedStep? step, double now)
    {
        var signals = _rehearsal.Machine.Signals;
        if (act.Hold is { } hold)
        {
            var command = new RunCommand(0, CommandKind.Hold, hold, act.To);
            Give(CommandKind.Hold, hold, act.To);
            _holding = (command, step, now);
        }
        else if (act.Look is { } look)
        {
            Give(CommandKind.Look, look);
        }
        else if (act.Set is { } set && act.Circle)
        {
            var positions = signals.Find(set)!.Positions;
            foreach (var position in positions.Skip(1).Append(positions[0]))
            {
                _planned.Enqueue(new RunCommand(0, CommandKind.Set, set, position));
            }
        }
        else if (act.Set is { } dial && act.Signal is { } signal)
        {
            Give(CommandKind.Set, dial, null, _rehearsal.Machine[signal]);
        }
        else if (act.Set is { } control)
        {
            Give(CommandKind.Set, control, act.To);
        }
    }
}
