using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Store;

namespace HardyEmber.Web.Live;

/// <summary>What became of a run when a page left it.</summary>
/// <param name="Sprang">Controls that only this page held.</param>
/// <param name="Stands">It ran, and nobody flies it now.</param>
public sealed record LetGo(IReadOnlyList<string> Sprang, bool Stands);

/// <summary>
/// A run that somebody is flying. Everything that belongs to it (clock, machine, pages, holds, place in the log) is touched by
/// its mailbox alone. A command is checked, stored, and only then applied; the machine stands still while it is on its way to the
/// disk (a few milliseconds), so log and machine never disagree.
/// </summary>
public sealed class LiveRun
{
    /// <summary>Longest wall time caught up at once: a stalled server does not fling the engine forward; what is more is lost, and the page says so for a while.</summary>
    public static readonly TimeSpan MostCaughtUp = TimeSpan.FromSeconds(0.5);
    private static readonly TimeSpan OneStep = TimeSpan.FromSeconds(Steps.Seconds);

    /// <summary>
    /// How far hands may bring a run before its clock: an act is seen at once, in a step that the clock then owes. Without an end to it a
    /// thousand acts would take the run twenty seconds on.
    /// </summary>
    public static readonly TimeSpan MostAhead = TimeSpan.FromSeconds(0.5);

    private static readonly TimeSpan SaidSlowFor = TimeSpan.FromSeconds(3);

    private readonly Mailbox _mailbox;
    private readonly StoreWriter _writer;
    private readonly TimeProvider _time;
    private readonly Rehearsal _rehearsal;
    private readonly TraceHistory _history;
    private readonly Published _published;
    private readonly List<Viewer> _viewers = [];
    private readonly Holds _holds = new();
    private readonly string? _parent, _recomputed;
    private readonly bool _ownData;
    private long _wall, _emptySince, _stepStored, _slowUntil;
    private string? _stuck;
    private TimeSpan _owed;
    private double _rate = 1;
    private bool _fresh, _paused, _closed;
    private int _seq, _tickQueued;

    /// <summary>Replays what is stored: the machine comes back exactly as it was.</summary>
    /// <param name="recomputed">Why it is not: see <see cref="FlownAnew"/>.</param>
    /// <param name="aside">The thread on which it is flown where its data are not today's; null where they are.</param>
    /// <param name="progress">Told the share of the replay that is done.</param>
    public LiveRun(Fleet fleet, string? recomputed, StoredRun stored, StoreWriter writer, TimeProvider time, TaskScheduler? aside = null, Action<double>? progress = null)
    {
        ArgumentNullException.ThrowIfNull(stored);
        ArgumentNullException.ThrowIfNull(time);
        if (stored.Damage is { } damage)
        {
            throw new RunFileException(stored.Log.Commands.Count + 2, "line", damage);
        }

        (Id, _writer, _time, _parent, _recomputed) = (stored.Id, writer, time, stored.Parent, recomputed);
        (_mailbox, _ownData) = (new Mailbox(aside ?? TaskScheduler.Default), aside is not null);
        TraceHistory? history = null;
        double whole = Math.Max(1, Math.Max(stored.ProgressStep, stored.Log.Commands.Count > 0 ? stored.Log.Commands[^1].Step : 0));
        _rehearsal = Rehearsal.Replay(fleet, stored.Log, stored.ProgressStep, m =>
        {
            (history ??= new TraceHistory(m)).Look(m);
            progress?.Invoke(m.StepIndex / whole);
        });
        _history = history ?? new TraceHistory(_rehearsal.Machine);
        _seq = stored.Log.Commands.Count;
        _fresh = _rehearsal.Machine.StepIndex == 0;
        _paused = !_fresh;
        _wall = _emptySince = time.GetTimestamp();
        _stepStored = _rehearsal.Machine.StepIndex;
        _published = new Published(_rehearsal, stored.Log.Commands);
        _ = _published.Take(_rate, _paused, null);
    }

    public string Id { get; }

    /// <summary>The step it stands at; may be read from anywhere.</summary>
    public long StepIndex => _rehearsal.Machine.StepIndex;

    private Machine Machine => _rehearsal.Machine;

    /// <summary>Adds a page and gives it the whole state; it flies or looks on. <paramref name="resume"/>: it was flying before a lost connection.</summary>
    /// <exception cref="RunClosedException">It has been put away in the meantime.</exception>
    public Task<Snapshot> JoinAsync(PageLine page, Role role, bool resume) => _mailbox.AskAsync(async () =>
    {
        ThrowIfClosed();
        page.Gone.ThrowIfCancellationRequested(); // it came and went: its leave has been here already
        CatchUp();
        var fresh = _fresh;
        _viewers.RemoveAll(v => v.Connection == page.Connection);
        var viewer = new Viewer(page, role);
        _viewers.Add(viewer);
        if (role == Role.Fly)
        {
            if (_fresh || resume)
            {
                (_fresh, _paused) = (false, false);
            }

            try
            {
                foreach (var orphan in Machine.Ended ? [] : _holds.Orphans(Machine))
                {
                    await ObeyAsync(page.Connection, CommandKind.Release, orphan, null, null).ConfigureAwait(false);
                }
            }
            catch
            {
                _ = _viewers.Remove(viewer); // who was refused is not in
                throw;
            }
        }

        Publish(except: viewer);
        return Whole(viewer, fresh);
    });

    /// <summary>The whole state for a page that has missed something.</summary>
    /// <exception cref="CommandException">It never joined.</exception>
    public Task<Snapshot> StateAsync(string connection) => _mailbox.AskAsync(() => Whole(Find(connection), fresh: false));

    private Snapshot Whole(Viewer viewer, bool fresh)
    {
        viewer.Knows(_published);
        return _published.Whole(Id, _parent, _history.View(), fresh, viewer, _recomputed);
    }

    /// <summary>Removes a page. What it alone held springs back; when the last page that flies goes, the run stands still.</summary>
    /// <returns>The controls that sprang back, and whether the run stands still for it; null where the page was not in it.</returns>
    public Task<LetGo?> LeaveAsync(string connection) => _mailbox.AskAsync(async () =>
    {
        if (_viewers.RemoveAll(v => v.Connection == connection) == 0 || _closed)
        {
            return null;
        }

        CatchUp();
        var stands = !_paused && !Machine.Ended && _viewers.All(v => v.Role != Role.Fly);
        _paused |= _viewers.All(v => v.Role != Role.Fly);
        _emptySince = _time.GetTimestamp();
        var sprang = new List<string>();
        foreach (var control in _holds.Of(connection))
        {
            if (_holds.LetGo(control, connection) && !Machine.Ended)
            {
                await ObeyAsync(connection, CommandKind.Release, control, null, null).ConfigureAwait(true);
                sprang.Add(control);
            }
        }

        Publish();
        return new LetGo(sprang, stands);
    });

    /// <exception cref="CommandException">There is no such rate, or the page does not fly.</exception>
    public Task SetRateAsync(string connection, double rate) => FlownBy(connection, () =>
        _rate = rate is 1 or 2 or 4 or 8 ? rate : throw new CommandException("rate", "the rates are 1, 2, 4 and 8"));

    /// <exception cref="CommandException">The page does not fly.</exception>
    public Task PauseAsync(string connection, bool paused) => FlownBy(connection, () => _paused = paused);

    private Task FlownBy(string connection, Action change) => _mailbox.AskAsync(() =>
    {
        ThrowUnlessFlownBy(connection);
        CatchUp();
        change();
        Publish();
        return true;
    });

    /// <summary>Checks, stores and applies a command; completes when it has been applied.</summary>
    /// <exception cref="CommandException">It cannot be obeyed, or not by this page; nothing was changed.</exception>
    public Task<Ack> CommandAsync(string connection, CommandKind kind, string target, string? position, double? number) => _mailbox.AskAsync(async () =>
    {
        ThrowUnlessFlownBy(connection);
        CatchUp();
        if (kind == CommandKind.End)
        {
            await EndAsync(connection).ConfigureAwait(false);
        }
        else if (kind != CommandKind.Release || _holds.LetGo(target, connection))
        {
            await ObeyAsync(connection, kind, target, position, number).ConfigureAwait(false);
        }

        return Acked(kind, [target]);
    });

    /// <summary>Does what the cue asks for, if it still asks for what the page showed.</summary>
    /// <inheritdoc cref="CommandAsync"/>
    public Task<Ack> DoAsync(string connection, string cue) => _mailbox.AskAsync(async () =>
    {
        ThrowUnlessFlownBy(connection);
        CatchUp();
        var now = _rehearsal.Tracker.Next();
        var due = now.Drill?.Definition.Act ?? now.Step?.Definition.Act;
        if ((now.Drill?.Definition.Id ?? now.Step?.Id ?? "") != cue || due is null)
        {
            throw new CommandException("cue", "it had just changed: nothing was moved. Read it, then press again.");
        }

        // The guide's own key never acts early: fuel at 6 % ruins a start that the guide asked for. The control itself still obeys.
        if (now.Kind == Core.Procedures.CueKind.Ready && Machine.Header.Mode == RunHeader.Guided)
        {
            throw new CommandException("cue", "it is not time yet: nothing was moved");
        }

        var commands = Core.Procedures.ActCommand.Of(due, Machine);
        if (commands.Count == 0)
        {
            throw new CommandException("cue", "nothing for the hands: watch");
        }

        // Both hands or none.
        foreach (var command in commands)
        {
            Machine.Check(command);
        }

        foreach (var command in commands)
        {
            await ObeyAsync(connection, command.Kind, command.Target, command.Position, command.Number).ConfigureAwait(false);
        }

        return Acked(commands[0].Kind, [.. commands.Select(c => c.Target)]);
    });

    private Ack Acked(CommandKind kind, IReadOnlyList<string> targets)
    {
        Publish();
        return new Ack(Math.Round(Machine.Time, 2), _published.Number, kind == CommandKind.Hold ? targets : null);
    }

    private async Task ObeyAsync(string connection, CommandKind kind, string target, string? position, double? number)
    {
        var command = new RunCommand(Machine.StepIndex, kind, target, position, number);
        Machine.Check(command);
        await _writer.AppendAsync(Id, _seq, command).ConfigureAwait(true); // it stays on the run's own threads
        _seq++;
        _wall = _time.GetTimestamp(); // the time on the way to the disk is nobody's
        _rehearsal.Apply(command);
        _published.Add(command);
        if (kind == CommandKind.Hold)
        {
            _holds.Add(target, connection);
        }

        if (!Machine.Ended && !_paused && _stuck is null && _owed > -MostAhead)
        {
            Step(); // so that the lamp it lights is in the next frame
            _owed -= OneStep;
        }
    }

    // The end and its judgement are stored in one step. The judgement needs the machine at its end, so that comes first; where the
    // disk then refuses, this machine has gone too far and is thrown away: the next page gets one replayed from what is stored. Who asked for the end
    // is answered, and joins again; the others are cut off, and come back by themselves.
    private async Task EndAsync(string? asked = null)
    {
        var command = new RunCommand(Machine.StepIndex, CommandKind.End);
        Machine.Check(command);
        _rehearsal.Apply(command);
        try
        {
            await _writer.EndAsync(Id, _seq, command, RunOutcome.Of(_rehearsal)).ConfigureAwait(false);
        }
        catch
        {
            Close();
            _viewers.FindAll(v => v.Connection != asked).ForEach(v => v.Drop());
            throw;
        }

        _seq++;
        _published.Add(command);
    }

    private void Close()
    {
        _closed = true;
        _mailbox.Close();
    }

    private Viewer Find(string connection) => _viewers.FirstOrDefault(v => v.Connection == connection)
        ?? throw new CommandException("run", "this page has not joined the run");

    private void ThrowUnlessFlownBy(string connection)
    {
        ThrowIfClosed();
        if (Find(connection).Role != Role.Fly)
        {
            throw new CommandException("run", "this page looks on; it does not fly");
        }
    }

    private void ThrowIfClosed()
    {
        if (_closed)
        {
            throw new RunClosedException();
        }
    }

    private void Step()
    {
        _history.Look(Machine);
        _rehearsal.Step();
    }

    private void CatchUp()
    {
        var now = _time.GetTimestamp();
        var wall = _time.GetElapsedTime(_wall, now);
        _wall = now;
        if (_paused || Machine.Ended || _fresh || _stuck is not null)
        {
            return;
        }

        _owed += (wall < MostCaughtUp ? wall : MostCaughtUp) * _rate;
        if (wall > MostCaughtUp)
        {
            _slowUntil = now + (long)(SaidSlowFor.TotalSeconds * _time.TimestampFrequency);
        }

        while (_owed >= OneStep && Machine.Time < RunHeader.MaxSeconds)
        {
            Step();
            _owed -= OneStep;
        }

        if (_ownData && Machine.NoNumber() is { } signal)
        {
            _stuck = $"The data that this run rests on give no number for {signal}: it stands still and cannot go on.";
        }
    }

    // What the page says of a run that does not keep its time.
    private string? Trouble => _stuck ?? (_time.GetTimestamp() < _slowUntil
        ? "The server cannot keep up: this run goes slower than its clock." : null);

    /// <summary>Advances to now and sends what changed. A tick that finds another one waiting is none.</summary>
    public Task TickAsync()
    {
        if (Interlocked.Exchange(ref _tickQueued, 1) == 1)
        {
            return Task.CompletedTask;
        }

        return _mailbox.AskAsync(async () =>
        {
            _tickQueued = 0;
            if (_viewers.Count > 0 && !_closed)
            {
                Advance();
                if (!Machine.Ended && Machine.Time >= RunHeader.MaxSeconds)
                {
                    await EndAsync().ConfigureAwait(false); // no run file is longer
                }

                Publish();
            }

            return true;
        });
    }

    // A machine that fails in its step would fail in each: it is thrown away, and its pages get one replayed from what is stored.
    private void Advance()
    {
        try
        {
            CatchUp();
        }
        catch
        {
            Close();
            _viewers.ForEach(v => v.Drop());
            throw;
        }
    }

    private void Publish(Viewer? except = null)
    {
        _ = _published.Take(_rate, _paused, Trouble);
        foreach (var viewer in _viewers)
        {
            if (viewer != except)
            {
                Bring(viewer);
            }
        }
    }

    private void Bring(Viewer viewer) => viewer.Bring(_published, _time, () => _mailbox.Post(() =>
    {
        viewer.Taken();
        Bring(viewer);
        return Task.CompletedTask;
    }));

    /// <summary>The number of its present state.</summary>
    public Task<int> NumberAsync() => _mailbox.AskAsync(() => _published.Number);

    /// <summary>Remembers how far it got, where it has moved since the last time.</summary>
    public Task StoreProgressAsync() => _mailbox.AskAsync(() =>
    {
        StoreProgress();
        return true;
    });

    private void StoreProgress()
    {
        if (!Machine.Ended && Machine.StepIndex != _stepStored)
        {
            _stepStored = Machine.StepIndex;
            _writer.Progress(Id, _stepStored);
        }
    }

    /// <summary>Puts the run away if no page has been in it for so long; true if it has. It takes nothing after that.</summary>
    public Task<bool> CloseIfEmptyAsync(TimeSpan since) => _mailbox.AskAsync(() =>
    {
        if (!_closed && _viewers.Count == 0 && _time.GetElapsedTime(_emptySince) >= since)
        {
            StoreProgress();
            Close();
        }

        return _closed;
    });

    /// <summary>Why a control or step will not do what was asked, and other questions that read the machine at rest.</summary>
    public Task<T> ReadAsync<T>(Func<Rehearsal, T> question) => _mailbox.AskAsync(() => question(_rehearsal));
}
