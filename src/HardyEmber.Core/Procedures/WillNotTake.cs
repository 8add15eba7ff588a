using System.Globalization;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

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
/// Why will it not take: for any control, lamp or signal, the chain of unmet conditions, nearest first. It walks the gates that the
/// systems obey (see <see cref="Gate"/>) and nothing else, so it cannot disagree with the simulation.
/// </summary>
public sealed class WillNotTake
{
    private const int Deepest = 6;

    /// <summary>What others must be asked for and waited on is named where the pilot's own hands do not get there.</summary>
    private const int AskedOfOthers = 10;

    private const int BeyondHands = 40;
    private readonly Machine _machine;
    private readonly double[] _v;
    private readonly Dictionary<string, Gate> _gates, _ends;
    private readonly SignalWords _words;
    private readonly HashSet<string> _controls;

    public WillNotTake(Machine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        (_machine, _v, _words) = (machine, machine.Signals.Values, new SignalWords(machine));
        _gates = machine.Gates.Where(g => g.Kind is not (GateKind.Ends or GateKind.Springs)).ToDictionary(g => g.Signal);
        _ends = machine.Gates.Where(g => g.Kind == GateKind.Ends).ToDictionary(g => g.Signal);
        _controls = [.. machine.Aircraft.Controls.Select(c => c.Id)];
    }

    /// <exception cref="ArgumentException">There is no control, lamp or signal of that name.</exception>
    public WhyAnswer For(string target)
    {
        var info = _machine.Signals.Find(target) ?? throw new ArgumentException($"there is no control, lamp or signal \"{target}\"");
        var control = _machine.Aircraft.Controls.FirstOrDefault(c => c.Id == target);
        var effects = control is not null ? EffectsOf(control, info)
            : _gates.ContainsKey(target) ? [EffectOf(target, !PutOut(info))]
            : [];
        return new WhyAnswer(target, _words.LabelOf(target), Sentence(info, control, effects), effects);
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
            OneAfterTheOther(chain);
        }

        return new Effect(signal, _words.LabelOf(signal), there || !is01 && chain.Count == 0, chain);
    }

    // Two things may want one control in two places, as two engines do of one crank: what has begun is let finish first.
    private void OneAfterTheOther(List<Unmet> chain)
    {
        var busy = new Dictionary<string, string>();
        foreach (var unmet in chain.Where(u => GateFor(u.Signal, true) is { Kind: GateKind.Moves }))
        {
            Occupy(unmet.Signal, unmet.Label, busy, []);
        }

        for (var i = 0; i < chain.Count; i++)
        {
            if (chain[i].Cure is { Control: { } control, Kind: not "look" } && busy.TryGetValue(control, out var label))
            {
                chain[i] = chain[i] with { Cure = new Cure("wait", $"{label} comes first.") };
            }
        }
    }

    private void Occupy(string signal, string label, Dictionary<string, string> busy, HashSet<string> path)
    {
        if (_controls.Contains(signal))
        {
            busy.TryAdd(signal, label);
        }
        else if (path.Add(signal) && GateFor(signal, true) is { } gate)
        {
            foreach (var atom in Carrying(Parsed(gate.Text, gate.Where), true))
            {
                Occupy(atom.SignalName, label, busy, path);
            }
        }
    }

    // The tests that are there already, of a condition that may still lack others.
    private IEnumerable<Atom> Carrying(Condition condition, bool truth) => condition switch
    {
        NotNode not => Carrying(not.Inner, !truth),
        JoinNode join when join.All == truth || join.Holds(_v) == truth => join.Parts.SelectMany(p => Carrying(p, truth)),
        Atom atom when atom.Holds(_v) == truth => [atom],
        _ => [],
    };

    private List<Effect> EffectsOf(ControlDefinition control, SignalInfo info)
    {
        var effects = new List<Effect>();
        foreach (var spring in _machine.Gates.Where(g => g.Kind == GateKind.Springs && g.Signal == control.Id))
        {
            var chain = new List<Unmet>();
            Unmets(spring.Text, spring.Where, false, 0, chain, [control.Id]);
            if (chain.Count > 0)
            {
                effects.Add(new Effect(control.Id, spring.Label, false, chain));
            }
        }

        // A lamp or a call tells of what hands do; nobody moves a switch for it.
        var direct = GatesOn(info.Index).Where(r => !Tells(r)).ToList();
        // What works already may move something that does not: a starter valve stands open, and the core stays still for want of air.
        // What is fed may still not be ready: a box waits for the one that it listens to.
        var moved = direct.Where(r => _v[_machine.Signals.Find(r.Signal)!.Index] > 0.5)
            .SelectMany(r => GatesOn(_machine.Signals.Find(r.Signal)!.Index), (from, r) => (From: from, Gate: r))
            .Where(x => (x.Gate.Kind == GateKind.Moves || x.From.Signal.StartsWith("load.", StringComparison.Ordinal)) && !Tells(x.Gate) && !direct.Contains(x.Gate))
                .Select(x => x.Gate);
        effects.AddRange(direct.Concat(moved).Distinct().Select(r => EffectOf(r.Signal, true)));
        if (_v[info.Index] != Math.Max(0, info.PositionOf(control.Default ?? "")))
        {
            // It was moved for one thing; what its other positions would do is not what is asked.
            effects.RemoveAll(e => !e.Works && e.Chain.Count > 0 && e.Chain.Where(u => u.Depth == 0).All(u => u.Signal == control.Id));
        }

        return [.. effects.OrderBy(e => e.Works).ThenBy(e => e.Chain.Count)];
    }

    private static bool Tells(Gate gate) => gate.Aside || gate.Signal.StartsWith("lamp.", StringComparison.Ordinal) || gate.Signal.StartsWith("caution.", StringComparison.Ordinal);

    // What a signal helps to bring; what it ends is not what anybody moves it for.
    private IEnumerable<Gate> GatesOn(int signal) => _gates.Values.Where(g => Parsed(g.Text, g.Where).Inputs.Contains(signal));

    private string Sentence(SignalInfo info, ControlDefinition? control, List<Effect> effects)
    {
        if (effects.Count == 0)
        {
            return control is not null ? "It moves freely; nothing on this aircraft waits for it before the flight." : $"It reads {_words.Shown(info)}; nothing holds it.";
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
        if (depth > Deepest || GateFor(signal, wanted) is not { } gate)
        {
            return;
        }

        Unmets(gate.Text, gate.Where, wanted || gate.Kind is GateKind.Goes or GateKind.Ends, depth, chain, path);
    }

    private Gate? SpringOf(Atom atom, bool wanted) => !wanted || _machine.Signals.All[atom.Signal] is not { Kind: SignalKind.Positions } info ? null
        : _machine.Gates.FirstOrDefault(g => g.Kind == GateKind.Springs && g.Signal == info.Name && g.Position == PositionIn(atom, info) && Parsed(g.Text, g.Where).Holds(_v));

    // What came stays until something takes it away: the gate that says what does, where there is one.
    private Gate? GateFor(string signal, bool wanted)
    {
        if (!wanted && _ends.TryGetValue(signal, out var end))
        {
            return end;
        }

        var gate = _gates.GetValueOrDefault(signal);
        return gate is null || gate.Kind == GateKind.Comes && !wanted || gate.Kind == GateKind.Goes && wanted ? null
            // What puts a lamp out is the end of its cause, not of its current.
            : !wanted && signal.StartsWith("lamp.", StringComparison.Ordinal) ? gate with { Text = _machine.Aircraft.Lamps.First(l => l.Id == signal[5..]).Lit }
            : gate;
    }

    private void Unmets(string text, string where, bool wanted, int depth, List<Unmet> chain, HashSet<string> path)
    {
        var atoms = new List<(Atom Atom, bool Wanted)>();
        Collect(Parsed(text, where), wanted, atoms);
        foreach (var (atom, want) in atoms)
        {
            if (!path.Add(atom.SignalName))
            {
                continue;
            }

            // A control that would spring back has no cure of its own, but a reason.
            var spring = SpringOf(atom, want);
            var unmet = UnmetOf(atom, want, depth);
            chain.Add(spring is null ? unmet : unmet with { Cure = null });
            if (spring is not null)
            {
                Unmets(spring.Text, spring.Where, false, depth + 1, chain, path);
            }

            Because(atom.SignalName, WantsFlag(atom, want), depth + 1, chain, path);
            path.Remove(atom.SignalName);
        }
    }

    // Deeper atoms are asked for as flags; a number that should be lower has no gate that brings it down but time.
    private bool WantsFlag(Atom atom, bool wanted) => _machine.Signals.All[atom.Signal].Kind != SignalKind.Flag || wanted;

    // What would have to change, each with the truth it should have. Where one of several ways would do, the shortest is named.
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
            case JoinNode join when join.All == wanted:
                foreach (var part in join.Parts)
                {
                    Collect(part, wanted, into);
                }

                break;
            case JoinNode join:
                Collect(join.Parts.MinBy(p => Effort(p, wanted, []))!, wanted, into);
                break;
        }
    }

    /// <summary>How far a condition is from what is wanted: acts of hands, waits for machines, and what nobody can bring about.</summary>
    private int Effort(Condition condition, bool wanted, HashSet<string> path)
    {
        if (condition.Holds(_v) == wanted)
        {
            return 0;
        }

        return condition switch
        {
            NotNode not => Effort(not.Inner, !wanted, path),
            JoinNode join when join.All == wanted => join.Parts.Sum(p => Effort(p, wanted, path)),
            JoinNode join => join.Parts.Min(p => Effort(p, wanted, path)),
            Atom atom => Effort(atom, wanted, path),
            _ => 0,
        };
    }

    private int Effort(Atom atom, bool wanted, HashSet<string> path)
    {
        if (_controls.Contains(atom.SignalName) || atom.SignalName.StartsWith(SignalTable.SeenPrefix, StringComparison.Ordinal))
        {
            return 1;
        }

        var flag = WantsFlag(atom, wanted);
        if (path.Count > Deepest || GateFor(atom.SignalName, flag) is not { } gate || !path.Add(atom.SignalName))
        {
            return BeyondHands; // it would rest on itself, or on nothing that hands reach
        }

        var others = atom.SignalName.StartsWith("crew.", StringComparison.Ordinal) ? AskedOfOthers : 0;
        var effort = 1 + others + Effort(Parsed(gate.Text, gate.Where), flag || gate.Kind is GateKind.Goes or GateKind.Ends, path);
        path.Remove(atom.SignalName);
        return effort;
    }

    private Unmet UnmetOf(Atom atom, bool wanted, int depth)
    {
        var info = _machine.Signals.All[atom.Signal];
        return new Unmet(depth, info.Name, _words.LabelOf(info.Name), Asked(atom, info, wanted), _words.Shown(info), _words.LinkOf(info.Name), CureOf(atom, info, wanted));
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
                var sign = above ? "≥" : "<";
                if (atom.Other >= 0)
                {
                    return $"{sign} {_words.Against(_machine.Signals.All[atom.Other])}";
                }

                return $"{sign} {Number(double.IsFinite(low) ? low : high)} {info.Unit}".TrimEnd();
        }
    }

    private static string PositionIn(Atom atom, SignalInfo info) => info.Positions[(int)Math.Ceiling(atom.Range.Low)];

    private static string Number(double value) => Math.Round(value, 2).ToString(CultureInfo.InvariantCulture);

    private Cure? CureOf(Atom atom, SignalInfo info, bool wanted)
    {
        if (info.Name.StartsWith(SignalTable.SeenPrefix, StringComparison.Ordinal))
        {
            var seen = info.Name[SignalTable.SeenPrefix.Length..];
            return new Cure("look", $"Look at {_words.LabelOf(seen)} and confirm it.", seen);
        }

        if (_machine.Aircraft.Controls.FirstOrDefault(c => c.Id == info.Name) is { } control)
        {
            return CureOf(control, atom, info, wanted);
        }

        if (GateFor(info.Name, WantsFlag(atom, wanted)) is not { } gate)
        {
            return new Cure("wait", "It comes by itself, or not at all.");
        }

        var held = Parsed(gate.Text, gate.Where).Holds(_v) == (WantsFlag(atom, wanted) || gate.Kind is GateKind.Goes or GateKind.Ends);
        return gate.Remedy is { } remedy ? new Cure("wait", remedy) : !held ? null
            : new Cure("wait", gate.Kind == GateKind.Moves ? "It is on its way: wait." : "All it needs is there. If it stays so, suspect a fault and report it.");
    }

    private Cure CureOf(ControlDefinition control, Atom atom, SignalInfo info, bool wanted)
    {
        if (control.Kind == ControlKind.Dial)
        {
            var (low, high) = atom.Range;
            // Against another signal the range is that of the difference.
            var from = atom.Other >= 0 ? _v[atom.Other] : 0;
            var number = Math.Clamp(double.IsFinite(low) == wanted ? from + (double.IsFinite(low) ? low : high) : control.Min, control.Min, control.Max);
            return new Cure("dial", $"{control.Label} to {Number(number)} {control.Unit}".TrimEnd() + ".", control.Id, Number: number);
        }

        if (control.Kind == ControlKind.Position)
        {
            return new Cure("set", $"{control.Label}: take the spot's, or type it.", control.Id, ControlDefinition.TakesSpot);
        }

        var named = PositionIn(atom, info);
        var to = wanted ? named : control.Default is { } rest && rest != named ? rest : control.Positions.First(p => p != named);
        return control.Sprung.Contains(to) ? new Cure("hold", $"Hold {control.Label} at {to}.", control.Id, to)
            : control.Kind == ControlKind.Call && to == ControlDefinition.Asking ? new Cure("set", $"{control.Label}.", control.Id, to)
            : new Cure("set", $"{control.Label} to {to}.", control.Id, to);
    }
}
