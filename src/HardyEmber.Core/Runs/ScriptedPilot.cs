using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Runs;

/// <summary>How a scripted pilot flies.</summary>
/// <param name="ReactionS">Mean time from a cue to the beginning of the act.</param>
/// <param name="Forgets">Steps left out.</param>
/// <param name="ImpatientAfterS">Acts on a cue that still waits for the machine after this time; null never.</param>
/// <param name="CutsOff">Answers drills; one who does not lets a hot start burn.</param>
/// <param name="LetsItBurn">Answers every drill but the hot start's: to learn how hot it would become.</param>
/// <param name="LetsGoAfterS">Holds a held act at most this long; null until it is done.</param>
public sealed record PilotTraits(double ReactionS = 1.2, HashSet<string>? Forgets = null, double? ImpatientAfterS = null,
    bool CutsOff = true, double? LetsGoAfterS = null, bool LetsItBurn = false);

/// <summary>
/// Flies a procedure by its cues alone, with a reaction time and, if asked, faults of its own. It knows nothing of the
/// machine that the cues do not say, so a start it completes is a start that the procedure's data fully describe.
/// </summary>
public sealed class ScriptedPilot
{
    private const double WalkAwayAfterS = 15;
    private const double ReadsEveryS = 5;
    private const int ThinksAt = 5;
    private const double LongestHoldS = 40;
    private readonly Rehearsal _rehearsal;
    private readonly PilotTraits _traits;
    private readonly RandomStream _random;
    private readonly Queue<Slip> _slips;
    private readonly List<RunCommand> _log = [];
    private (object? What, CueKind Kind) _cue;
    private double _cueSince, _due, _readAt;
    private NextAct? _read;
    private long _readMoves, _readLog;
    private bool _acts;
    private (IReadOnlyList<RunCommand> Commands, TrackedStep? Step, TrackedDrill? Drill, double Since)? _holding;

    /// <param name="slips">What the pilot does besides, whatever the cues say. Not on a coarse machine, which passes over waits.</param>
    public ScriptedPilot(Rehearsal rehearsal, PilotTraits? traits = null, IReadOnlyList<Slip>? slips = null)
    {
        ArgumentNullException.ThrowIfNull(rehearsal);
        (_rehearsal, _traits) = (rehearsal, traits ?? new PilotTraits());
        _slips = new Queue<Slip>((slips ?? []).OrderBy(s => s.T));
        _random = new RandomStream(rehearsal.Machine.Header.Seed, "scripted-pilot");
    }

    /// <summary>Every command given so far.</summary>
    public IReadOnlyList<RunCommand> Log => _log;

    /// <summary>Flies until finished or <paramref name="maxSeconds"/>, then ends the run.</summary>
    public RunLog Fly(double maxSeconds = 1800)
    {
        var m = _rehearsal.Machine;
        if (!FlyUntil(() => m.Time >= maxSeconds))
        {
            Give(CommandKind.End);
        }

        return new RunLog(m.Header, [.. _log]);
    }

    /// <summary>
    /// Flies until it has ended the run, which is true, or <paramref name="enough"/> says so, which is asked before every step;
    /// of a coarse machine, before every tick.
    /// </summary>
    public bool FlyUntil(Func<bool> enough)
    {
        ArgumentNullException.ThrowIfNull(enough);
        var m = _rehearsal.Machine;
        while (!m.Ended)
        {
            var within = (int)(m.StepIndex % Steps.PerTick);
            if ((within == 0 || !m.Coarse) && enough())
            {
                return false;
            }

            if (within == (m.Coarse ? 0 : ThinksAt))
            {
                if (_slips.TryPeek(out var slip) && m.Time >= slip.T)
                {
                    Give(new RunCommand(m.StepIndex, CommandKind.Set, _slips.Dequeue().Set, slip.To));
                }

                Think();
            }

            if (!m.Ended)
            {
                _rehearsal.Step();
                if (m.Coarse && within == 0)
                {
                    if (_holding is null)
                    {
                        _ = Consider(m.Time + (ThinksAt - 1) * Steps.Seconds); // it reads no sooner than a fine one
                    }

                    m.PassOver(HandsAt());
                }
            }
        }

        return true;
    }

    // The step before which it surely does nothing, while nothing moves.
    private long HandsAt()
    {
        if (_holding is { } hold)
        {
            return hold.Step is { Done: false } ? StepAt(hold.Since + (_traits.LetsGoAfterS ?? LongestHoldS)) : 0;
        }

        var waits = _traits.ImpatientAfterS is null && _read is { Kind: not CueKind.Finished } && _rehearsal.Machine.Time < _readAt + ReadsEveryS && _readLog == _log.Count
            && _readMoves == _rehearsal.Tracker.Moves;
        return !waits ? 0 : StepAt(_acts ? _due : _readAt + ReadsEveryS);
    }

    private static long StepAt(double seconds) => (long)Math.Ceiling(seconds / Steps.Seconds - 1e-6);

    private void Give(CommandKind kind, string target = "") => Give(new RunCommand(_rehearsal.Machine.StepIndex, kind, target));

    private void Give(RunCommand command)
    {
        _rehearsal.Apply(command);
        _log.Add(command);
    }

    private void Think()
    {
        var now = _rehearsal.Machine.Time;
        if (_holding is { } hold)
        {
            // A drill says as long as it applies that its act is due: motoring is held until the core is clean.
            var enough = hold.Step?.Done ?? now - hold.Since > 1 && !_rehearsal.Tracker.Applies(hold.Drill!);
            if (enough || now - hold.Since > (_traits.LetsGoAfterS ?? LongestHoldS))
            {
                foreach (var command in hold.Commands)
                {
                    Give(CommandKind.Release, command.Target);
                }

                _holding = null;
                _due = now + 0.4;
            }

            return;
        }

        var cue = Consider(now);
        if (cue.Kind == CueKind.Finished)
        {
            Give(CommandKind.End);
        }
        else if (cue.Drill is { Definition: { Act.Watch: true, Waits: false } } && !Ignores(cue) && now - _cueSince > WalkAwayAfterS)
        {
            Give(CommandKind.End); // nothing is left for the hands but to climb out
        }
        else if (_acts && now >= _due)
        {
            Act(cue.Drill?.Definition.Act ?? cue.Step!.Definition.Act, cue.Step, cue.Drill, now);
            _cue = default;
        }
    }

    private bool Ignores(NextAct cue) => cue.Drill is { } drill
        && (!_traits.CutsOff || _traits.LetsItBurn && drill.Definition.When.Contains(".advice is hot", StringComparison.Ordinal));

    // What comes next, whether the hands will act on it, and when.
    private NextAct Consider(double now)
    {
        var cue = Cue(now);
        _acts = false;
        if (cue.Kind == CueKind.Finished || Ignores(cue))
        {
            return cue;
        }

        var what = ((object?)cue.Drill ?? cue.Step, cue.Kind);
        if (what != _cue)
        {
            _cue = what;
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
        _acts = hands && (cue.Kind == CueKind.Act || impatient);
        return cue;
    }

    // Reading the whole checklist again is the dearest thing a pilot does: only when something moved, and now and then.
    private NextAct Cue(double now)
    {
        var moves = _rehearsal.Tracker.Moves;
        if (_read is null || moves != _readMoves || _log.Count != _readLog || now - _readAt >= ReadsEveryS)
        {
            (_read, _readMoves, _readLog, _readAt) = (_rehearsal.Tracker.Next(_traits.Forgets), moves, _log.Count, now);
        }

        return _read.Value;
    }

    private void Act(ActDefinition act, TrackedStep? step, TrackedDrill? drill, double now)
    {
        var commands = ActCommand.Of(act, _rehearsal.Machine);
        foreach (var command in commands)
        {
            Give(command);
        }

        if (commands is [{ Kind: CommandKind.Hold }, ..])
        {
            _holding = (commands, step, drill, now);
        }
    }
}
