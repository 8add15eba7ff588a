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

    /// <summary>Room made at a time: a list that doubles would keep half of it empty in every run.</summary>
    private const int MoreActions = 64;

    // The same for every machine of an aircraft.
    private static readonly ConditionalWeakTable<AircraftDefinition, SignalInfo[]> Seen = [];
    private readonly Rehearsal _run;
    private readonly SignalWords _words;
    private readonly SignalInfo[] _visible;
    private readonly ChainHanded _handed;
    private readonly int[] _values, _changedIn;
    private readonly List<Act> _actions;
    private (double Rate, bool Paused, bool Ended, long Step, int Actions, string? Trouble) _seen = (0, false, false, -1, -1, null);
    private readonly Said _said = new();
    private readonly char[] _done;
    private long _moves = -1;
    private int _cueIn, _doneIn, _dropped;

    public Published(Rehearsal run, IEnumerable<RunCommand> commands)
    {
        _run = run;
        _words = new SignalWords(run.Machine);
        _handed = new ChainHanded(run.Machine);
        // What the chain hands on stands after the machine's own signals, as if it were some.
        _visible = Seen.GetValue(run.Machine.Aircraft, _ => [.. Views.Visible(run.Machine.Signals), .. _handed.Links.Select(Handed)]);
        (_values, _changedIn, _done) = (new int[_visible.Length], new int[_visible.Length], new char[run.Tracker.Steps.Count]);
        _actions = [.. commands.Select(Kept)];
        Trim();
    }

    private static SignalInfo Handed(LinkDefinition link) => new(-1, $"chain.{link.Id}.handed", SignalKind.Number, link.Takes!.Unit, HandedQuantum(link.Takes.Most), []);

    /// <summary>Number of the present state; 0 before the first.</summary>
    public int Number { get; private set; }

    public double Rate { get; private set; }
    public bool Paused { get; private set; }

    public void Add(RunCommand command)
    {
        if (_actions.Count == _actions.Capacity)
        {
            _actions.Capacity += MoreActions;
        }

        _actions.Add(Kept(command));
        Trim();
    }

    // A command that was obeyed names what exists: the few names are kept once, not with every action of every run.
    private static Act Kept(RunCommand c) => new((int)c.Step, c.Kind, string.Intern(c.Target), c.Position is { } at ? string.Intern(at) : c.Number);

    // A command in 24 bytes, without an object of its own: it goes to a position or to a number, never to both, and a run ends long before an int does.
    private readonly record struct Act(int Step, CommandKind Kind, string Target, object? To)
    {
        public ActionView View() => Views.Of(new RunCommand(Step, Kind, Target, To as string, To as double?));
    }

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
    public bool Take(double rate, bool paused, string? trouble)
    {
        var m = _run.Machine;
        (Rate, Paused) = (rate, paused);
        var now = (rate, paused, m.Ended, m.StepIndex, _actions.Count + _dropped, trouble);
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
        TakeDone();
        return true;
    }

    // A line's width is told in steps that can be seen: a fiftieth of the widest, in round numbers.
    private static double HandedQuantum(double most) => Math.Pow(10, Math.Floor(Math.Log10(most / 20)));

    private void TakeCue()
    {
        var (tracker, m) = (_run.Tracker, _run.Machine);
        var cue = tracker.Now();
        var next = _moves == tracker.Moves && _said.Step == cue.Step ? null : Upcoming.After(tracker, cue, m.Signals.Values);
        _moves = tracker.Moves;
        if (_said.Take(cue, m.Header.Mode == RunHeader.Alone ? null : _run.Judge.Unsaid, next, m) || Number == 1)
        {
            _cueIn = Number;
        }
    }

    private const char StepOpen = '0', StepDone = '1', StepWasSo = '2';

    // One character a step.
    private void TakeDone()
    {
        for (var i = 0; i < _done.Length; i++)
        {
            var step = _run.Tracker.Steps[i];
            var mark = !step.Done ? StepOpen : step.WasSo ? StepWasSo : StepDone;
            if (mark != _done[i])
            {
                (_done[i], _doneIn) = (mark, Number);
            }
        }
    }

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
        return new Frame(Number, has, Math.Round(m.Time, 2), Rate, Paused, m.Ended, s, _cueIn > has ? Views.Of(_said, m, _words) : null, _doneIn > has ? new string(_done) : null,
            fresh ? [.. _actions.Skip(from).Select(a => a.View())] : null, fresh ? from + _dropped : null, _seen.Trouble);
    }

    /// <summary>How many actions the run has had.</summary>
    public int Actions => _actions.Count + _dropped;

    /// <summary>The whole, for a page that joins or has missed something.</summary>
    public Snapshot Whole(string id, string? parent, HistoryView history, bool fresh, Viewer viewer, string? recomputed) =>
        new(id, _run.Machine.Header with { Faults = [], Surprises = 0, Drawn = null }, _run.Tracker.Definition.Title, Views.Of(_run.Tracker, _words),
            [.. _visible.Select(s => new SignalView(s.Name, s.Unit, s.Quantum, s.Kind, s.Positions))], Since(0, 0), history, fresh, parent, viewer.Role, RunHeader.MaxSeconds,
            IdleHands.ThinkS, viewer.SilenceS, recomputed);
}
