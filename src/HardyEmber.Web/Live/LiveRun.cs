using System.Diagnostics;
using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Store;

namespace HardyEmber.Web.Live;

/// <summary>
/// A run that somebody is flying. A command is checked, stored, and only then applied; the machine stands still while a
/// command is on its way to the disk (a few milliseconds), so log and machine never disagree.
/// </summary>
#pragma warning disable CA1001 // a SemaphoreSlim whose wait handle is never asked for holds nothing to dispose
public sealed class LiveRun
#pragma warning restore CA1001
{
    /// <summary>Longest wall time caught up at once: a stalled server does not fling the engine forward.</summary>
    private const double MaxCatchUpS = 0.5;
    private const int HistoryEverySteps = 25;

    private readonly object _gate = new();
    private readonly SemaphoreSlim _commands = new(1);
    private readonly CommandLogWriter _writer;
    private readonly Rehearsal _rehearsal;
    private readonly SignalInfo[] _visible;
    private readonly long[] _sent;
    private readonly int[] _historySignals;
    private readonly List<float>[] _history;
    private readonly List<ActionView> _actions = [];
    private readonly Dictionary<string, HashSet<string>> _heldBy = [];
    private readonly HashSet<string> _viewers = [];
    private readonly string? _parent;
    private readonly SignalWords _words;
    private Cue? _cueSource;
    private string _done = "";
    private int _actionsSent;
    private long _wall = Stopwatch.GetTimestamp();
    private double _owedS;
    private bool _storing;
    private int _seq;

    public LiveRun(Fleet fleet, StoredRun stored, CommandLogWriter writer)
    {
        (Id, _writer, _parent) = (stored.Id, writer, stored.Parent);
        _historySignals = [];
        _history = [];
        // Replay: the machine comes back exactly as it was.
        var history = new List<(int[] Signals, List<float>[] Values)>();
        _rehearsal = Rehearsal.Replay(fleet, stored.Log, stored.ProgressStep, m =>
        {
            if (history.Count == 0)
            {
                var signals = TraceSignals(m);
                history.Add((signals, [.. signals.Select(_ => new List<float>())]));
            }

            Record(m, history[0].Signals, history[0].Values);
        });
        var machine = _rehearsal.Machine;
        _words = new SignalWords(machine);
        (_historySignals, _history) = history.Count > 0 ? history[0] : (TraceSignals(machine), [.. TraceSignals(machine).Select(_ => new List<float>())]);
        _actions.AddRange(stored.Log.Commands.Select(Views.Of));
        _seq = stored.Log.Commands.Count;
        _visible = [.. Views.Visible(machine.Signals)];
        _sent = new long[_visible.Length];
        Fresh = machine.StepIndex == 0;
        Paused = !Fresh;
    }

    public string Id { get; }

    /// <summary>Nobody has flown it yet: it starts when the first page joins.</summary>
    public bool Fresh { get; private set; }
    public bool Paused { get; private set; }
    public double Rate { get; private set; } = 1;
    public bool Ended => _rehearsal.Machine.Ended;
    public long StepIndex => _rehearsal.Machine.StepIndex;
    public int Viewers => _viewers.Count;
    public DateTimeOffset EmptySince { get; private set; } = DateTimeOffset.UtcNow;

    private static int[] TraceSignals(Machine m) =>
        [.. m.Aircraft.Engines.SelectMany(e => new[] { $"{e.Id}.n2", $"{e.Id}.egt" }).Append("flight.height").Append("flight.eas").Select(n => m.Signals.Find(n)!.Index)];

    private static void Record(Machine m, int[] signals, List<float>[] values)
    {
        if (m.StepIndex % HistoryEverySteps != 0)
        {
            return;
        }

        for (var i = 0; i < signals.Length; i++)
        {
            values[i].Add((float)Math.Round(m.Signals.Values[signals[i]], 1));
        }
    }

    /// <summary>Adds a page and gives it the whole state. <paramref name="resume"/>: it was flying before a lost connection.</summary>
    public Snapshot Join(string connection, bool resume)
    {
        lock (_gate)
        {
            var fresh = Fresh;
            if (_viewers.Add(connection) && (Fresh || resume))
            {
                Fresh = false;
                Paused = false;
                _wall = Stopwatch.GetTimestamp();
            }

            var m = _rehearsal.Machine;
            var names = _historySignals.Select(i => m.Signals.All[i].Name);
            var history = names.Zip(_history).ToDictionary(p => p.First, p => (IReadOnlyList<float>)[.. p.Second]);
            return new Snapshot(Id, m.Header, _rehearsal.Tracker.Definition.Title, Views.Of(_rehearsal.Tracker), Views.Of(m.Signals), Whole(),
                new HistoryView(1 / (HistoryEverySteps * Machine.StepSeconds), history), fresh, _parent);
        }
    }

    /// <summary>
    /// Lets go of every control that stands in a held position with nobody holding it, as after a crash or a fork: hands
    /// do not survive a replay.
    /// </summary>
    public async Task ReleaseOrphansAsync(string connection)
    {
        List<string> orphans;
        lock (_gate)
        {
            var m = _rehearsal.Machine;
            var held = _heldBy.Values.SelectMany(h => h).ToHashSet();
            orphans = Ended ? [] : [.. m.Aircraft.Controls.Where(c => c.Sprung.Count > 0 && !held.Contains(c.Id)
                && c.Sprung.Contains(c.Positions[(int)m[c.Id]])).Select(c => c.Id)];
        }

        foreach (var control in orphans)
        {
            await CommandAsync(connection, CommandKind.Release, control, null, null).ConfigureAwait(false);
        }
    }

    private Frame Whole()
    {
        var all = new long[_visible.Length * 2];
        for (var i = 0; i < _visible.Length; i++)
        {
            all[2 * i] = i;
            all[2 * i + 1] = Quantised(i);
        }

        var cue = Views.Of(_rehearsal.Tracker.Now(), _rehearsal.Machine, _words);
        return new Frame(_rehearsal.Machine.Time, Rate, Paused, Ended, all, cue, DoneMap(), [.. _actions]);
    }

    private long Quantised(int i) => (long)Math.Round(_rehearsal.Machine.Signals.Values[i] / _visible[i].Quantum);

    private string DoneMap() => string.Create(_rehearsal.Tracker.Steps.Count, _rehearsal.Tracker.Steps, (chars, steps) =>
    {
        for (var i = 0; i < chars.Length; i++)
        {
            chars[i] = steps[i].Done ? '1' : '0';
        }
    });

    /// <summary>Removes a page. What it held springs back; when the last page goes, the run stands still.</summary>
    public async Task LeaveAsync(string connection)
    {
        string[] held;
        lock (_gate)
        {
            held = _heldBy.Remove(connection, out var set) ? [.. set] : [];
            _viewers.Remove(connection);
            if (_viewers.Count == 0)
            {
                Paused = true;
                EmptySince = DateTimeOffset.UtcNow;
            }
        }

        foreach (var control in held)
        {
            await CommandAsync(connection, CommandKind.Release, control, null, null).ConfigureAwait(false);
        }
    }

    public void SetRate(double rate)
    {
        if (rate is not (1 or 2 or 4 or 8))
        {
            throw new CommandException("rate", "the rates are 1, 2, 4 and 8");
        }

        lock (_gate)
        {
            CatchUp();
            Rate = rate;
        }
    }

    public void Pause(bool paused)
    {
        lock (_gate)
        {
            CatchUp();
            Paused = paused;
        }
    }

    /// <summary>Checks, stores and applies a command; completes when it has been applied.</summary>
    /// <exception cref="CommandException">It cannot be obeyed; nothing was changed.</exception>
    public async Task<double> CommandAsync(string connection, CommandKind kind, string target, string? position, double? number)
    {
        await _commands.WaitAsync().ConfigureAwait(false);
        try
        {
            RunCommand command;
            lock (_gate)
            {
                CatchUp();
                command = new RunCommand(_rehearsal.Machine.StepIndex, kind, target, position, number);
                _rehearsal.Machine.Check(command);
                _storing = true;
            }

            try
            {
                await _writer.AppendAsync(Id, _seq, command).ConfigureAwait(false);
            }
            catch
            {
                lock (_gate)
                {
                    _storing = false;
                }

                throw;
            }

            lock (_gate)
            {
                _seq++;
                _storing = false;
                _rehearsal.Apply(command);
                _actions.Add(Views.Of(command));
                Remember(connection, command);
                if (!Ended)
                {
                    _rehearsal.Step(); // so that the lamp it lights is in the next frame
                }
            }

            return command.Time;
        }
        finally
        {
            _commands.Release();
        }
    }

    private void Remember(string connection, RunCommand command)
    {
        if (command.Kind == CommandKind.Hold)
        {
            if (!_heldBy.TryGetValue(connection, out var set))
            {
                _heldBy[connection] = set = [];
            }

            set.Add(command.Target);
        }
        else if (command.Kind == CommandKind.Release)
        {
            foreach (var set in _heldBy.Values)
            {
                set.Remove(command.Target);
            }
        }
    }

    private void CatchUp()
    {
        var now = Stopwatch.GetTimestamp();
        var wall = Stopwatch.GetElapsedTime(_wall, now).TotalSeconds;
        _wall = now;
        if (Paused || Ended || Fresh || _storing)
        {
            return;
        }

        _owedS += Math.Min(wall, MaxCatchUpS) * Rate;
        while (_owedS >= Machine.StepSeconds)
        {
            Record(_rehearsal.Machine, _historySignals, _history);
            _rehearsal.Step();
            _owedS -= Machine.StepSeconds;
        }
    }

    /// <summary>Advances to now and returns what changed, or null where nothing did.</summary>
    public Frame? Advance()
    {
        lock (_gate)
        {
            CatchUp();
            return Changes();
        }
    }

    private (double Rate, bool Paused, bool Ended, long Step) _last = (0, false, false, -1);

    private Frame? Changes()
    {
        var now = (Rate, Paused, Ended, _rehearsal.Machine.StepIndex);
        if (now == _last && _actionsSent == _actions.Count)
        {
            return null;
        }

        _last = now;
        var changed = new List<long>();
        for (var i = 0; i < _visible.Length; i++)
        {
            var value = Quantised(i);
            if (value != _sent[i])
            {
                _sent[i] = value;
                changed.Add(i);
                changed.Add(value);
            }
        }

        var cue = ChangedCue();
        var done = DoneMap();
        var doneChanged = done != _done;
        _done = done;
        var actions = _actionsSent < _actions.Count ? _actions[_actionsSent..] : null;
        _actionsSent = _actions.Count;
        return new Frame(Math.Round(_rehearsal.Machine.Time, 2), Rate, Paused, Ended, [.. changed], cue, doneChanged ? done : null, actions);
    }

    private CueView? ChangedCue()
    {
        var cue = _rehearsal.Tracker.Now();
        if (_cueSource is { } before && before.Kind == cue.Kind && before.Step == cue.Step && before.Drill == cue.Drill
            && before.Waiting.SequenceEqual(cue.Waiting) && before.Running.SequenceEqual(cue.Running))
        {
            return null;
        }

        _cueSource = cue;
        return Views.Of(cue, _rehearsal.Machine, _words);
    }

    /// <summary>The run's summary as it stands.</summary>
    public RunSummary Summary()
    {
        lock (_gate)
        {
            return RunSummary.Of(_rehearsal);
        }
    }

    /// <summary>Why a control or step will not do what was asked, and other questions that read the machine at rest.</summary>
    public T Read<T>(Func<Rehearsal, T> question)
    {
        ArgumentNullException.ThrowIfNull(question);
        lock (_gate)
        {
            return question(_rehearsal);
        }
    }
}
