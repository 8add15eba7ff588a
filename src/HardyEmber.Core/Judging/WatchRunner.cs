using System.Globalization;
using System.Text.RegularExpressions;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Judging;

/// <summary>Looks for what the watches of an aircraft and its procedure describe; see <see cref="WatchDefinition"/>.</summary>
internal sealed partial class WatchRunner
{
    private readonly Machine _machine;
    private readonly double[] _v;
    private readonly Watched[] _watched;
    private readonly List<(Watched Watch, Finding Finding)> _found = [];

    private sealed class Watched(WatchDefinition definition, Condition when, Condition? answered, SignalInfo? evidence, SignalInfo? counts, SignalInfo? lasted)
    {
        public WatchDefinition Definition { get; } = definition;
        public Condition When { get; } = when;
        public Condition? Answered { get; } = answered;
        public SignalInfo? Evidence { get; } = evidence;
        public SignalInfo? Counts { get; } = counts;
        public SignalInfo? Lasted { get; } = lasted;
        public double Since = -1, GoneSince = -1, Before;
        public bool Found;
    }

    public WatchRunner(Machine machine, IEnumerable<WatchDefinition> watches)
    {
        (_machine, _v) = (machine, machine.Signals.Values);
        _watched = [.. watches.Where(w => w.Beginnings is null || w.Beginnings.Contains(machine.Header.Beginning)).Select(w => Compile(w, machine))];
        foreach (var w in _watched)
        {
            w.Before = w.Counts is { } counted ? _v[counted.Index] : 0;
        }
    }

    /// <summary>Reports what is wrong with a watch to the machine (<see cref="Machine.Wrong"/>).</summary>
    public static void Check(WatchDefinition watch, Machine machine) => _ = Compile(watch, machine);

    private static Watched Compile(WatchDefinition w, Machine machine)
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

        return new Watched(w, machine.Compile(w.When, $"{where}.when").Condition, w.Answered is null ? null : machine.Compile(w.Answered, $"{where}.answered").Condition,
            Named(w.Evidence, "evidence"), Named(w.Counts, "counts"), Named(w.Lasted, "lasted"));
    }

    /// <summary>Looks at the machine after a slow tick.</summary>
    public void Look(double t)
    {
        foreach (var w in _watched)
        {
            if (w.Counts is { } counted)
            {
                Count(w, _v[counted.Index], t);
            }
            else if (w.Answered is { } answer)
            {
                Answer(w, answer, t);
            }
            else
            {
                State(w, t);
            }
        }
    }

    private void Count(Watched w, double now, double t)
    {
        if (now > w.Before)
        {
            Find(w, t, t, 0);
        }

        w.Before = now;
    }

    private void State(Watched w, double t)
    {
        if (w.Found && !w.Definition.Repeats)
        {
            return;
        }

        if (!w.When.Holds(_v))
        {
            (w.Since, w.Found) = (-1, false);
            return;
        }

        w.Since = w.Since < 0 ? t : w.Since;
        if (!w.Found && t - w.Since >= w.Definition.ForS)
        {
            w.Found = true;
            Find(w, w.Since - w.Definition.BackS, t, t - w.Since);
        }
    }

    // From the sign to the answer; a sign that went away by itself asked for none.
    private void Answer(Watched w, Condition answer, double t)
    {
        var holds = w.When.Holds(_v);
        w.Since = w.Since < 0 && holds ? t : w.Since;
        if (w.Since < 0)
        {
            return;
        }

        if (answer.Holds(_v))
        {
            Find(w, w.Since, t, Math.Max(0, t - w.Since));
            (w.Since, w.GoneSince) = (-1, -1);
            return;
        }

        w.GoneSince = holds ? -1 : w.GoneSince < 0 ? t : w.GoneSince;
        if (w.GoneSince >= 0 && t - w.GoneSince > w.Definition.LapseS)
        {
            (w.Since, w.GoneSince) = (-1, -1);
        }
    }

    private void Find(Watched w, double from, double to, double seconds)
    {
        var d = w.Definition;
        var late = d.Answered is not null && seconds > d.WithinS ? d.Late : null;
        _found.Add((w, new Finding(d.Code, Enum.Parse<Severity>(late?.Severity ?? d.Severity, ignoreCase: true), from, to,
            d.AtEnd ? d.What : Filled(d.What, w, seconds), d.AtEnd ? d.Cost : Filled(d.Cost, w, seconds), late?.Instead ?? d.Instead, d.AtEnd ? null : Shown(w))));
    }

    private Evidence? Shown(Watched w) => w.Evidence is { } info ? new Evidence(info.Name, Rounded(info), w.Definition.Limit, info.Unit) : null;

    private double Rounded(SignalInfo info) => Math.Round(Math.Round(_v[info.Index] / info.Quantum) * info.Quantum, 3);

    /// <summary>What was found up to now; of one code and one evidence only the worst.</summary>
    public IEnumerable<Finding> Conclude() => _found.Select(f => f.Watch.Definition.AtEnd ? Closed(f.Watch, f.Finding) : f.Finding)
        .GroupBy(f => f.Evidence is { } e && _found.Exists(x => x.Watch.Definition.AtEnd && x.Watch.Definition.Code == f.Code) ? $"{f.Code} {e.Signal}" : $"{f.Code} {f.From} {f.Evidence?.Signal}")
        .Select(g => g.MaxBy(f => f.Severity)! with { From = g.Min(f => f.From) });

    private Finding Closed(Watched w, Finding f)
    {
        var seconds = w.Lasted is { } lasted ? _v[lasted.Index] : f.To - f.From;
        return f with { To = f.From + Math.Max(0.2, seconds), What = Filled(f.What, w, seconds), Consequence = Filled(f.Consequence, w, seconds), Evidence = Shown(w) };
    }

    private static readonly HashSet<string> Own = ["seconds", "value", "limit"];

    private string Filled(string text, Watched w, double seconds) => !text.Contains('{', StringComparison.Ordinal) ? text : Hole().Replace(text, m => m.Groups[1].Value switch
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
