using System.Globalization;
using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Procedures;

/// <summary>What cures an unmet condition: a control to a position, a look, or words where hands alone do not help.</summary>
/// <param name="Kind">set, hold, dial, look or wait.</param>
public sealed record Cure(string Kind, string Words, string? Control = null, string? To = null, double? Number = null);

/// <summary>One unmet condition, with its live value.</summary>
/// <param name="Depth">0 nearest; each deeper one is why the one above it is unmet.</param>
/// <param name="Asked">What it would have to be.</param>
/// <param name="Now">What it is.</param>
/// <param name="Link">The link of the chain where it is found.</param>
public sealed record Unmet(int Depth, string Signal, string Label, string Asked, string Now, string? Link, Cure? Cure);

/// <summary>One thing a control or lamp stands for, and why it is not there.</summary>
/// <param name="Works">Nothing is missing: it is so now.</param>
public sealed record Effect(string Signal, string Label, bool Works, IReadOnlyList<Unmet> Chain);

/// <summary>The answer to "why will it not take".</summary>
public sealed record WhyAnswer(string Target, string Label, string Sentence, IReadOnlyList<Effect> Effects);

/// <summary>
/// Why will it not take: for any control, lamp or signal, the chain of unmet conditions, nearest first. It reads the very
/// texts that the systems obey (see <see cref="Rule"/>), so it cannot disagree with the simulation.
/// </summary>
public sealed class WillNotTake
{
    private const int Deepest = 6;
    private readonly Machine _machine;
    private readonly double[] _v;
    private readonly Dictionary<string, Rule> _rules;

    public WillNotTake(Machine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        (_machine, _v) = (machine, machine.Signals.Values);
        _rules = machine.Rules.ToDictionary(r => r.Signal);
    }

    /// <exception cref="ArgumentException">There is no control, lamp or signal of that name.</exception>
    public WhyAnswer For(string target)
    {
        var info = _machine.Signals.Find(target) ?? throw new ArgumentException($"there is no control, lamp or signal \"{target}\"", nameof(target));
        var control = _machine.Aircraft.Controls.FirstOrDefault(c => c.Id == target);
        var effects = control is not null ? EffectsOf(control, info)
            : _rules.ContainsKey(target) ? [EffectOf(target, !PutOut(info))]
            : [];
        return new WhyAnswer(target, LabelOf(target), Sentence(info, control, effects), effects);
    }

    // A caution that burns asks what puts it out; anything else asks what brings it.
    private bool PutOut(SignalInfo info) => info.Name.StartsWith("lamp.", StringComparison.Ordinal) && _v[info.Index] > 0.5
        && _machine.Aircraft.Lamps.First(l => l.Id == info.Name[5..]).Class is "caution" or "warning" && _v[info.Index] > 0.5;

    private Effect EffectOf(string signal, bool wanted)
    {
        var info = _machine.Signals.Find(signal)!;
        var is01 = info.Kind == SignalKind.Flag;
        var there = is01 && _v[info.Index] > 0.5 == wanted;
        var chain = new List<Unmet>();
        if (!there)
        {
            Because(signal, wanted, 0, chain, [signal]);
        }

        return new Effect(signal, LabelOf(signal), there || !is01 && chain.Count == 0, chain);
    }

    private List<Effect> EffectsOf(ControlDefinition control, SignalInfo info)
    {
        var effects = new List<Effect>();
        foreach (var spring in control.Returns)
        {
            var when = Parsed(spring.When, $"controls.{control.Id}");
            if (when.Holds(_v))
            {
                effects.Add(new Effect(control.Id, $"Springs back from {spring.From}", false,
                    [.. when.Inputs.Distinct().Select(i => _machine.Signals.All[i]).Select(s => new Unmet(0, s.Name, LabelOf(s.Name), "holds it back", Shown(s), LinkOf(s.Name), null))]));
            }
        }

        foreach (var rule in _machine.Rules)
        {
            var lamp = rule.Signal.StartsWith("lamp.", StringComparison.Ordinal);
            if (!lamp && Parsed(rule.Text, rule.Where).Inputs.Contains(info.Index))
            {
                effects.Add(EffectOf(rule.Signal, true));
            }
        }

        return [.. effects.OrderBy(e => e.Works).ThenBy(e => e.Chain.Count)];
    }

    private string Sentence(SignalInfo info, ControlDefinition? control, List<Effect> effects)
    {
        if (effects.Count == 0)
        {
            return control is not null ? "It moves freely; nothing on this aircraft waits for it before the flight." : $"It reads {Shown(info)}; nothing holds it.";
        }

        if (effects.All(e => e.Works))
        {
            return "Nothing is missing: it works.";
        }

        var nearest = effects.First(e => !e.Works);
        return nearest.Chain.Count == 0 ? $"{nearest.Label}: all it needs is there. If it stays so, suspect a fault and report it."
            : PutOut(info) ? "It burns because of this, nearest first:" : $"{nearest.Label}: not yet. Missing, nearest first:";
    }

    private Condition Parsed(string? text, string where) => _machine.Compile(text, where).Condition;

    private void Because(string signal, bool wanted, int depth, List<Unmet> chain, HashSet<string> path)
    {
        if (!_rules.TryGetValue(signal, out var rule) || depth > Deepest)
        {
            return;
        }

        var atoms = new List<(Atom Atom, bool Wanted)>();
        Collect(Parsed(rule.Text, rule.Where), wanted, atoms);
        foreach (var (atom, want) in atoms)
        {
            if (!path.Add(atom.SignalName))
            {
                continue;
            }

            chain.Add(UnmetOf(atom, want, depth));
            Because(atom.SignalName, WantsFlag(atom, want), depth + 1, chain, path);
            path.Remove(atom.SignalName);
        }
    }

    // Deeper atoms are asked for as flags; a number that should be lower has no rule that brings it down but time.
    private bool WantsFlag(Atom atom, bool wanted) => _machine.Signals.All[atom.Signal].Kind != SignalKind.Flag || wanted;

    // What would have to change, each with the truth it should have. Of several ways that would do, all are named: hands choose.
    private void Collect(Condition condition, bool wanted, List<(Atom, bool)> into)
    {
        if (condition.Holds(_v) == wanted)
        {
            return;
        }

        switch (condition)
        {
            case Atom atom:
                into.Add((atom, wanted));
                break;
            case NotNode not:
                Collect(not.Inner, !wanted, into);
                break;
            case JoinNode join:
                foreach (var part in join.Parts)
                {
                    Collect(part, wanted, into);
                }

                break;
        }
    }

    private Unmet UnmetOf(Atom atom, bool wanted, int depth)
    {
        var info = _machine.Signals.All[atom.Signal];
        return new Unmet(depth, info.Name, LabelOf(info.Name), Asked(atom, info, wanted), Shown(info), LinkOf(info.Name), CureOf(atom, info, wanted));
    }

    private string Asked(Atom atom, SignalInfo info, bool wanted)
    {
        switch (info.Kind)
        {
            case SignalKind.Flag:
                return wanted ? "yes" : "no";
            case SignalKind.Positions:
                return (wanted ? "at " : "not at ") + PositionIn(atom, info);
            default:
                var (low, high) = atom.Range;
                var above = double.IsFinite(low) == wanted;
                var level = atom.Other >= 0 ? LabelOf(_machine.Signals.All[atom.Other].Name) : Number(double.IsFinite(low) ? low : high);
                return $"{(above ? "≥" : "<")} {level} {info.Unit}".TrimEnd();
        }
    }

    private static string PositionIn(Atom atom, SignalInfo info) => info.Positions[(int)Math.Ceiling(atom.Range.Low)];

    private static string Number(double value) => Math.Round(value, 2).ToString(CultureInfo.InvariantCulture);

    private string Shown(SignalInfo info) => info.Kind switch
    {
        SignalKind.Positions => info.Positions[(int)_v[info.Index]],
        SignalKind.Flag => _v[info.Index] > 0.5 ? "yes" : "no",
        _ => $"{Number(Math.Round(_v[info.Index] / info.Quantum) * info.Quantum)} {info.Unit}".TrimEnd(),
    };

    private Cure? CureOf(Atom atom, SignalInfo info, bool wanted)
    {
        if (info.Name.StartsWith(SignalTable.SeenPrefix, StringComparison.Ordinal))
        {
            var seen = info.Name[SignalTable.SeenPrefix.Length..];
            return new Cure("look", $"Look at {LabelOf(seen)} and confirm it.", seen);
        }

        if (_machine.Aircraft.Controls.FirstOrDefault(c => c.Id == info.Name) is { } control)
        {
            return CureOf(control, atom, info, wanted);
        }

        if (!_rules.TryGetValue(info.Name, out var rule))
        {
            return new Cure("wait", "It comes by itself, or not at all.");
        }

        var held = Parsed(rule.Text, rule.Where).Holds(_v);
        return rule.Remedy is { } remedy ? new Cure("wait", remedy) : !held ? null
            : new Cure("wait", rule.Kind == RuleKind.Moves ? "It is on its way: wait." : "All it needs is there. If it stays so, suspect a fault and report it.");
    }

    private static Cure CureOf(ControlDefinition control, Atom atom, SignalInfo info, bool wanted)
    {
        if (control.Kind == ControlKind.Dial)
        {
            var (low, high) = atom.Range;
            var number = Math.Clamp(double.IsFinite(low) == wanted ? (double.IsFinite(low) ? low : high) : control.Min, control.Min, control.Max);
            return new Cure("dial", $"{control.Label} to {Number(number)} {control.Unit}".TrimEnd() + ".", control.Id, Number: number);
        }

        var named = PositionIn(atom, info);
        var to = wanted ? named : control.Default is { } rest && rest != named ? rest : control.Positions.First(p => p != named);
        return control.Sprung.Contains(to) ? new Cure("hold", $"Hold {control.Label} at {to}.", control.Id, to)
            : new Cure("set", $"{control.Label} to {to}.", control.Id, to);
    }

    /// <summary>The name of a signal in the pilot's words.</summary>
    public string LabelOf(string signal)
    {
        var a = _machine.Aircraft;
        if (signal.StartsWith(SignalTable.SeenPrefix, StringComparison.Ordinal))
        {
            return $"Looked at {LabelOf(signal[SignalTable.SeenPrefix.Length..])}";
        }

        return a.Controls.FirstOrDefault(c => c.Id == signal)?.Label ?? (_rules.TryGetValue(signal, out var rule) ? rule.Label : null)
            ?? a.Gauges.FirstOrDefault(g => g.Signal == signal)?.Label ?? Words(signal);
    }

    private static string Words(string signal)
    {
        var words = signal.Replace('.', ' ').Replace('-', ' ');
        return char.ToUpperInvariant(words[0]) + words[1..];
    }

    private string? LinkOf(string signal)
    {
        var a = _machine.Aircraft;
        var name = signal.StartsWith(SignalTable.SeenPrefix, StringComparison.Ordinal) ? signal[SignalTable.SeenPrefix.Length..] : signal;
        return a.Controls.FirstOrDefault(c => c.Id == name)?.Link ?? a.Gauges.FirstOrDefault(g => g.Signal == name)?.Link
            ?? a.Lamps.FirstOrDefault(l => name == $"lamp.{l.Id}")?.Link
            ?? a.Gauges.FirstOrDefault(g => g.Signal.Split('.')[0] == name.Split('.')[0])?.Link
            ?? a.Chain.FirstOrDefault(c => c.Number.Split('.')[0] == name.Split('.')[0])?.Id;
    }
}
