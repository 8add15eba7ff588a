using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Judging;

/// <summary>Looks for what the watches of an aircraft and its procedure describe; see <see cref="WatchDefinition"/>.</summary>
internal sealed partial class WatchRunner
{
    private static readonly ConditionalWeakTable<ProcedureInForce, Plan> Plans = [];
    private readonly Machine _machine;
    private readonly double[] _v;
    private readonly Plan _plan;
    private readonly ConditionWatch _watch;
    private readonly State[] _states;
    private readonly List<(int Watch, Finding Finding)> _found = [];
    private bool _open = true;

    /// <summary>A watch with its places in the signal table.</summary>
    private sealed record Compiled(WatchDefinition Definition, ConditionProgram When, ConditionProgram Answered, SignalInfo? Evidence, SignalInfo? Counts, SignalInfo? Lasted);

    /// <summary>What all runs of one procedure have alike: what the watches ask stands first, what answers them behind it.</summary>
    private sealed record Plan(Compiled[] Watches, int[] Counters, ConditionWatch.Plan Conditions);

    private struct State()
    {
        public double Since = -1, GoneSince = -1, Before;
        public bool Found;
    }

    public WatchRunner(Machine machine, ProcedureInForce procedure)
    {
        (_machine, _v) = (machine, machine.Signals.Values);
        _plan = Plans.GetValue(procedure, p => Make(p, machine));
        _watch = new ConditionWatch(_plan.Conditions);
        _states = [.. _plan.Watches.Select(w => new State { Before = w.Counts is { } counted ? _v[counted.Index] : 0 })];
    }

    private static Plan Make(ProcedureInForce procedure, Machine machine)
    {
        Compiled[] watches = [.. machine.Aircraft.Watches.Concat(procedure.Definition.Watches)
            .Where(w => w.Beginnings is null || w.Beginnings.Contains(procedure.Beginning)).Select(w => Compile(w, machine))];
        return new Plan(watches, [.. Enumerable.Range(0, watches.Length).Where(i => watches[i].Counts is not null)],
            new ConditionWatch.Plan([.. watches.Select(w => w.When), .. watches.Select(w => w.Answered)], i => machine.Signals.All[i].ByHand));
    }

    /// <summary>Reports what is wrong with a watch to the machine (<see cref="Machine.Wrong"/>).</summary>
    public static void Check(WatchDefinition watch, Machine machine) => _ = Compile(watch, machine);

    private static Compiled Compile(WatchDefinition w, Machine machine)
    {
        var where = $"watches.{w.Code}";
        SignalInfo? Named(string? name, string field)
        {
            if (name is not null && machine.Signals.Find(name) is null)
            {
                machine.Wrong($"{where}.{field}", $"there is no signal \"{name}\"{Numbers.Nearest.Hint(name, machine.Signals.All.Select(i => i.Name))}");
            }

            return name is null ? null : machine.Signals.Find(name);
        }

        if (w.When is null == w.Counts is null)
        {
            machine.Wrong(where, "it needs either \"when\" or \"counts\"");
        }

        foreach (var word in new[] { w.Severity, w.Late?.Severity }.OfType<string>().Where(s => !Enum.TryParse<Severity>(s, ignoreCase: true, out _)))
        {
            machine.Wrong($"{where}.severity", $"\"{word}\" is none of note, caution, warning, damage");
        }

        foreach (var name in new[] { w.What, w.Cost, w.Instead }.SelectMany(text => Hole().Matches(text)).Select(m => m.Groups[1].Value).Where(n => !Own.Contains(n)))
        {
            _ = Named(name, "what");
        }

        return new Compiled(w, machine.Compile(w.When, $"{where}.when").Program, machine.Compile(w.Answered, $"{where}.answered").Program,
            Named(w.Evidence, "evidence"), Named(w.Counts, "counts"), Named(w.Lasted, "lasted"));
    }

    /// <summary>Looks at the machine after a slow tick.</summary>
    public void Look(double t)
    {
        var moves = _watch.Moves;
        _ = _watch.Look(_v);
        foreach (var i in _plan.Counters)
        {
            Count(i, t);
        }

        if (!_open && _watch.Moves == moves)
        {
            return; // none has begun, and none is waiting for its time
        }

        _open = false;
        for (var i = 0; i < _states.Length; i++)
        {
            if (_plan.Watches[i].Counts is null)
            {
                _open |= _plan.Watches[i].Definition.Answered is null ? Lasts(i, t) : Answer(i, t);
            }
        }
    }

    private void Count(int i, double t)
    {
        var now = _v[_plan.Watches[i].Counts!.Index];
        if (now > _states[i].Before)
        {
            Find(i, t, t, 0);
        }

        _states[i].Before = now;
    }

    // True while its time runs.
    private bool Lasts(int i, double t)
    {
        ref var s = ref _states[i];
        var d = _plan.Watches[i].Definition;
        if (s.Found && !d.Repeats)
        {
            return false;
        }

        if (!_watch[i])
        {
            (s.Since, s.Found) = (-1, false);
            return false;
        }

        s.Since = s.Since < 0 ? t : s.Since;
        if (!s.Found && t - s.Since >= d.ForS)
        {
            s.Found = true;
            Find(i, s.Since - d.BackS, t, t - s.Since);
        }

        return !s.Found;
    }

    // From the sign to the answer, and true until then; a sign that went away by itself asked for none.
    private bool Answer(int i, double t)
    {
        ref var s = ref _states[i];
        var (holds, answered) = (_watch[i], _watch[_states.Length + i]);
        s.Since = s.Since < 0 && holds ? t : s.Since;
        if (s.Since < 0)
        {
            return false;
        }

        if (answered)
        {
            Find(i, s.Since, t, Math.Max(0, t - s.Since));
            (s.Since, s.GoneSince) = (-1, -1);
            return holds; // it begins anew at the next look
        }

        s.GoneSince = holds ? -1 : s.GoneSince < 0 ? t : s.GoneSince;
        if (s.GoneSince >= 0 && t - s.GoneSince > _plan.Watches[i].Definition.LapseS)
        {
            (s.Since, s.GoneSince) = (-1, -1);
        }

        return s.Since >= 0;
    }

    private void Find(int i, double from, double to, double seconds)
    {
        var w = _plan.Watches[i];
        var d = w.Definition;
        var late = d.Answered is not null && seconds > d.WithinS ? d.Late : null;
        _found.Add((i, new Finding(d.Code, Enum.Parse<Severity>(late?.Severity ?? d.Severity, ignoreCase: true), from, to,
            d.AtEnd ? d.What : Filled(d.What, w, seconds), d.AtEnd ? d.Cost : Filled(d.Cost, w, seconds), d.AtEnd ? d.Instead : Filled(late?.Instead ?? d.Instead, w, seconds),
                d.AtEnd ? null : Shown(w))));
    }

    private Evidence? Shown(Compiled w) => w.Evidence is { } info ? new Evidence(info.Name, Rounded(info), w.Definition.Limit, info.Unit) : null;

    private double Rounded(SignalInfo info) => Math.Round(Math.Round(_v[info.Index] / info.Quantum) * info.Quantum, 3);

    /// <summary>What was found up to now; of one code and one evidence only the worst.</summary>
    public IEnumerable<Finding> Conclude() => _found.Where(f => !Definition(f.Watch).Standing || _watch[f.Watch])
        .Select(f => Definition(f.Watch).AtEnd ? Closed(_plan.Watches[f.Watch], f.Finding) : f.Finding)
        .GroupBy(f => f.Evidence is { } e && _found.Exists(x => Definition(x.Watch).AtEnd && Definition(x.Watch).Code == f.Code) ? $"{f.Code} {e.Signal}"
            : $"{f.Code} {f.From} {f.Evidence?.Signal}")
        .Select(g => g.MaxBy(f => f.Severity)! with { From = g.Min(f => f.From) });

    private WatchDefinition Definition(int watch) => _plan.Watches[watch].Definition;

    private Finding Closed(Compiled w, Finding f)
    {
        var seconds = w.Lasted is { } lasted ? _v[lasted.Index] : f.To - f.From;
        string Now(string text) => Filled(text, w, seconds);
        return f with { To = f.From + Math.Max(0.2, seconds), What = Now(f.What), Consequence = Now(f.Consequence), Instead = Now(f.Instead), Evidence = Shown(w) };
    }

    private static readonly HashSet<string> Own = ["seconds", "value", "limit"];

    private string Filled(string text, Compiled w, double seconds) => !text.Contains('{', StringComparison.Ordinal) ? text : Hole().Replace(text, m => m.Groups[1].Value switch
    {
        "seconds" => seconds.ToString("0.0", CultureInfo.InvariantCulture),
        "value" when w.Evidence is { } info => Number(Rounded(info), info.Quantum),
        "limit" when w.Definition.Limit is { } limit => limit.ToString(CultureInfo.InvariantCulture),
        var name when _machine.Signals.Find(name) is { } info => Number(Rounded(info), info.Quantum),
        _ => m.Value,
    });

    private static string Number(double value, double quantum) => value.ToString(quantum >= 1 ? "0" : "0.0", CultureInfo.InvariantCulture);

    [GeneratedRegex(@"\{([a-z][a-z0-9.\-]*)\}")]
    private static partial Regex Hole();
}
