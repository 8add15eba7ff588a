using System.Runtime.CompilerServices;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Web.Live;

/// <summary>
/// A run as its pages see it, with the number of the state in which each part last changed: what a page lacks follows from
/// the number of the state it has.
/// </summary>
internal sealed class Published
{
    /// <summary>Actions kept for pages that join; the debrief has all.</summary>
    private const int MostActions = 1000;

    // The same for every machine of an aircraft.
    private static readonly ConditionalWeakTable<AircraftDefinition, SignalInfo[]> Seen = [];
    private readonly Rehearsal _run;
    private readonly SignalWords _words;
    private readonly SignalInfo[] _visible;
    private readonly ChainHanded _handed;
    private readonly int[] _values, _changedIn;
    private readonly List<ActionView> _actions;
    private (double Rate, bool Paused, bool Ended, long Step, int Actions) _seen = (0, false, false, -1, -1);
    private CueView? _cue;
    private Cue? _cueSource;
    private FaultDefinition? _unsaid;
    private IReadOnlyList<UpcomingStep> _upcoming = [], _upcomingSent = [];
    private long _moves = -1;
    private string _done = "";
    private int _cueIn, _doneIn, _dropped;

    public Published(Rehearsal run, IEnumerable<RunCommand> commands)
    {
        _run = run;
        _words = new SignalWords(run.Machine);
        _handed = new ChainHanded(run.Machine);
        // What the chain hands on stands after the machine's own signals, as if it were some.
        _visible = Seen.GetValue(run.Machine.Aircraft, _ => [.. Views.Visible(run.Machine.Signals), .. _handed.Links.Select(l => new SignalInfo(-1, $"chain.{l.Id}.handed", SignalKind.Number, l.Takes!.Unit, HandedQuantum(l.Takes.Most), []))]);
        (_values, _changedIn) = (new int[_visible.Length], new int[_visible.Length]);
        _actions = [.. commands.Select(Kept)];
        Trim();
    }

    /// <summary>Number of the present state; 0 before the first.</summary>
    public int Number { get; private set; }

    public double Rate { get; private set; }
    public bool Paused { get; private set; }

    public void Add(RunCommand command)
    {
        _actions.Add(Kept(command));
        Trim();
    }

    // A command that was obeyed names what exists: the few names are kept once, not with every action of every run.
    private static ActionView Kept(RunCommand c) => Views.Of(c) with { Target = string.Intern(c.Target), Position = c.Position is { } at ? string.Intern(at) : null };

    // A list that has grown by half is cut back, so that cutting is rare.
    private void Trim()
    {
        if (_actions.Count > MostActions * 3 / 2)
        {
            var cut = _actions.Count - MostActions;
            _actions.RemoveRange(0, cut);
            _dropped += cut;
        }
    }

    /// <summary>Takes the machine as it stands; true if anything is different.</summary>
    public bool Take(double rate, bool paused)
    {
        var m = _run.Machine;
        (Rate, Paused) = (rate, paused);
        var now = (rate, paused, m.Ended, m.StepIndex, _actions.Count + _dropped);
        if (now == _seen)
        {
            return false;
        }

        _seen = now;
        Number++;
        for (var i = 0; i < _visible.Length; i++)
        {
            var own = i - _visible.Length + _handed.Links.Count;
            var value = (int)Math.Round((own < 0 ? m.Signals.Values[_visible[i].Index] : _handed[own]) / _visible[i].Quantum);
            if (value != _values[i] || Number == 1)
            {
                (_values[i], _changedIn[i]) = (value, Number);
            }
        }

        TakeCue();
        var done = DoneMap();
        if (done != _done)
        {
            (_done, _doneIn) = (done, Number);
        }

        return true;
    }

    // A line's width is told in steps that can be seen: a fiftieth of the widest, in round numbers.
    private static double HandedQuantum(double most) => Math.Pow(10, Math.Floor(Math.Log10(most / 20)));

    private void TakeCue()
    {
        var cue = _run.Tracker.Now();
        // The next turn of a knob is another act than the one before, though the cue is the same.
        var act = (cue.Drill?.Definition.Act ?? (cue.Kind == CueKind.Wait ? null : cue.Step?.Definition.Act)) is { } due ? Views.Of(due, _run.Machine) : null;
        if (_moves != _run.Tracker.Moves || _cueSource?.Step != cue.Step)
        {
            _moves = _run.Tracker.Moves;
            _upcoming = Upcoming.After(_run.Tracker, cue, _run.Machine.Signals.Values);
        }

        var unsaid = _run.Machine.Header.Mode == RunHeader.Alone ? null : _run.Judge.Unsaid;
        if (_cueSource is { } before && unsaid == _unsaid && before.Kind == cue.Kind && before.Step == cue.Step && before.Drill == cue.Drill && act == _cue?.Act
            && before.Waiting.SequenceEqual(cue.Waiting) && before.Running.SequenceEqual(cue.Running) && _upcomingSent.SequenceEqual(_upcoming))
        {
            return;
        }

        (_cueSource, _upcomingSent, _unsaid, _cue, _cueIn) = (cue, _upcoming, unsaid, Views.Of(cue, _upcoming, unsaid, _run.Machine, _words, _cue), Number);
    }

    private const char StepOpen = '0', StepDone = '1', StepWasSo = '2';

    // One character a step.
    private string DoneMap() => string.Create(_run.Tracker.Steps.Count, _run.Tracker.Steps, (chars, steps) =>
    {
        for (var i = 0; i < chars.Length; i++)
        {
            chars[i] = !steps[i].Done ? StepOpen : steps[i].WasSo ? StepWasSo : StepDone;
        }
    });

    /// <summary>What a page lacks that has the state <paramref name="has"/>; 0 has nothing.</summary>
    /// <param name="actions">How many actions of the run it knows.</param>
    public Frame Since(int has, int actions)
    {
        var changed = 0;
        foreach (var at in _changedIn)
        {
            changed += at > has ? 1 : 0;
        }

        var s = new long[changed * 2];
        for (int i = 0, k = 0; i < _visible.Length; i++)
        {
            if (_changedIn[i] > has)
            {
                s[k++] = i;
                s[k++] = _values[i];
            }
        }

        var from = Math.Max(0, actions - _dropped);
        var fresh = from < _actions.Count || has == 0;
        var m = _run.Machine;
        return new Frame(Number, has, Math.Round(m.Time, 2), Rate, Paused, m.Ended, s, _cueIn > has ? _cue : null, _doneIn > has ? _done : null,
            fresh ? _actions[from..] : null, fresh ? from + _dropped : null);
    }

    /// <summary>How many actions the run has had.</summary>
    public int Actions => _actions.Count + _dropped;

    /// <summary>The whole, for a page that joins or has missed something.</summary>
    public Snapshot Whole(string id, string? parent, HistoryView history, bool fresh, Role role) =>
        new(id, _run.Machine.Header with { Faults = [], Surprises = 0, Drawn = null }, _run.Tracker.Definition.Title, Views.Of(_run.Tracker, _words),
            [.. _visible.Select(s => new SignalView(s.Name, s.Unit, s.Quantum, s.Kind, s.Positions))], Since(0, 0), history, fresh, parent, role, RunHeader.MaxSeconds, IdleHands.ThinkS);
}
