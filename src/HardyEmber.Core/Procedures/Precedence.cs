using HardyEmber.Core.Conditions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Procedures;

/// <summary>A step that has to come before another.</summary>
/// <param name="By">The signal through which it follows from the machine's gates; null where the procedure says so.</param>
public sealed record Precedes(string Before, string After, string? By = null);

/// <summary>
/// Which steps must come before which: what the procedure says, and what follows from the gates of the aircraft. A step that needs a radio that is
/// warm comes after the one that switches it on, because the gate of that radio rests on its switch.
/// </summary>
public static class Precedence
{
    private const int Deepest = 8;

    /// <param name="names">The signals of the aircraft.</param>
    /// <param name="gates">What its signals rest on.</param>
    public static IReadOnlyList<Precedes> Of(ProcedureInForce procedure, IVocabulary names, IReadOnlyList<Gate> gates)
    {
        ArgumentNullException.ThrowIfNull(procedure);
        ArgumentNullException.ThrowIfNull(names);
        ArgumentNullException.ThrowIfNull(gates);
        var written = procedure.Steps.SelectMany(s => s.After, (s, d) => new Precedes(d.Step, s.Id)).ToList();
        var by = gates.Where(g => g.Kind is not (GateKind.Ends or GateKind.Springs)).GroupBy(g => g.Signal).ToDictionary(g => g.Key, g => g.First());
        // What a step brings about: the control it moves, and the flag that it ends by. What is done only where it is needed is no condition.
        var makers = new Dictionary<string, StepInForce>(StringComparer.Ordinal);
        foreach (var step in procedure.Steps.Where(s => !s.Definition.Optional))
        {
            makers.TryAdd(step.Definition.Done, step);
            if (step.Definition.Act is { Target: { } control, To: { } to })
            {
                makers.TryAdd($"{control} is {to}", step);
            }
        }

        var places = procedure.Steps.Select((s, i) => (s.Id, i)).ToDictionary(p => p.Id, p => p.i);
        var found = new Dictionary<(string, string), string>();
        foreach (var step in procedure.Steps)
        {
            foreach (var (maker, signal) in Needed(ConditionParser.Parse(step.Definition.Needs, names), names, by, makers, [], Deepest))
            {
                // What comes later in the list brings it about anew; it cannot be meant.
                if (places[maker.Id] < places[step.Id])
                {
                    found.TryAdd((maker.Id, step.Id), signal);
                }
            }
        }

        var known = written.Select(w => (w.Before, w.After)).ToHashSet();
        return [.. written, .. found.Where(f => !known.Contains(f.Key)).Select(f => new Precedes(f.Key.Item1, f.Key.Item2, f.Value))];
    }

    // The steps that a condition cannot do without: what one of several ways would bring is not needed.
    private static IEnumerable<(StepInForce Maker, string Signal)> Needed(Condition condition, IVocabulary names, Dictionary<string, Gate> by,
        Dictionary<string, StepInForce> makers, HashSet<string> path, int deepest)
    {
        switch (condition)
        {
            case JoinNode { All: true } all:
                return all.Parts.SelectMany(p => Needed(p, names, by, makers, path, deepest));
            case Atom atom when makers.TryGetValue(atom.Text, out var maker):
                return [(maker, atom.SignalName)];
            case Atom atom when deepest > 0 && by.TryGetValue(atom.SignalName, out var gate) && gate.Text.Length > 0 && path.Add(atom.SignalName):
                var found = Needed(ConditionParser.Parse(gate.Text, names), names, by, makers, path, deepest - 1).Select(n => (n.Maker, atom.SignalName)).ToList();
                path.Remove(atom.SignalName);
                return found;
            default:
                return [];
        }
    }
}
