using System.Runtime.CompilerServices;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;

namespace HardyEmber.Core.Procedures;

/// <summary>A few words about a control, a reading or a lamp.</summary>
/// <param name="What">What it is.</param>
/// <param name="RestsOn">What it rests on, or for a control what it works on; null where there is nothing to say.</param>
public sealed record Hint(string What, string? RestsOn);

/// <summary>What each control, reading and lamp of an aircraft is and rests on, read off its data and off the gates that its machine obeys.</summary>
public static class Hints
{
    private static readonly ConditionalWeakTable<AircraftDefinition, IReadOnlyDictionary<string, Hint>> Known = [];

    /// <summary>More than these nobody reads in passing.</summary>
    private const int Most = 5;

    /// <summary>By the name of a control, the signal of a gauge, or <c>lamp.ID</c>.</summary>
    public static IReadOnlyDictionary<string, Hint> Of(Machine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        return Known.GetValue(machine.Aircraft, _ => Make(machine));
    }

    private static Dictionary<string, Hint> Make(Machine machine)
    {
        var (a, words) = (machine.Aircraft, new SignalWords(machine));
        var gates = machine.Gates.Where(g => g.Kind is not (GateKind.Ends or GateKind.Springs)).ToList();
        var reads = gates.Select(g => (Gate: g, Names: Names(machine, g.Text, g.Where))).ToList();
        var hints = new Dictionary<string, Hint>(StringComparer.Ordinal);
        foreach (var c in a.Controls)
        {
            var works = reads.Where(r => r.Names.Contains(c.Id) && !r.Gate.Signal.StartsWith("lamp.", StringComparison.Ordinal) && !r.Gate.Aside).Select(r => r.Gate.Label);
            hints[c.Id] = new Hint(WhatOf(c), List("Works on", works));
        }

        foreach (var g in a.Gauges)
        {
            var bus = a.Electrics.Buses.FirstOrDefault(b => b.Id == g.Bus)?.Label;
            var on = reads.Where(r => r.Gate.Signal == g.Signal).SelectMany(r => r.Names).Select(words.LabelOf).Concat(bus is null ? [] : [$"{bus} bus"]);
            hints.TryAdd(g.Signal, new Hint(WhatOf(g, machine.Signals.Find(g.Signal)!.Unit), List("Rests on", on)));
        }

        foreach (var l in a.Lamps)
        {
            hints[$"lamp.{l.Id}"] = new Hint(l.Meaning, List("Rests on", Names(machine, l.Lit ?? "", $"lamps.{l.Id}").Select(words.LabelOf)));
        }

        return hints;
    }

    private static List<string> Names(Machine machine, string condition, string where) =>
        condition.Length == 0 ? [] : [.. machine.Compile(condition, where).Condition.Inputs.Distinct().Select(i => machine.Signals.All[i].Name)];

    private static string WhatOf(ControlDefinition c) => c.Kind switch
    {
        ControlKind.Dial => FormattableString.Invariant($"{c.Label}: turned from {c.Min} to {c.Max} {c.Unit}").TrimEnd(),
        ControlKind.Call => $"{c.Label}: asked by a press, answered in its time",
        ControlKind.Position => $"{c.Label}: typed, or the ramp spot's",
        ControlKind.Sprung => $"{c.Label}: held at {string.Join(" or ", c.Sprung)}, springs back",
        ControlKind.Guarded => $"{c.Label}: under a guard, {string.Join(", ", c.Positions)}",
        _ => $"{c.Label}: {string.Join(", ", c.Positions)}",
    } + ".";

    private static string WhatOf(GaugeDefinition g, string unit)
    {
        var normal = g.Normal is [var low, var high] ? FormattableString.Invariant($", normally {low} to {high}") : "";
        var limits = string.Concat(g.Limits.Select(l => FormattableString.Invariant($", {l.Label} {l.At}")));
        var range = FormattableString.Invariant($"{g.Min} to {g.Max} {unit}").TrimEnd();
        return $"{g.Label}, {range}{normal}{limits}.";
    }

    private static string? List(string word, IEnumerable<string> labels)
    {
        var all = labels.Distinct().ToList();
        return all.Count == 0 ? null : $"{word}: {string.Join("; ", all.Take(Most))}{(all.Count > Most ? $" and {all.Count - Most} more" : "")}.";
    }
}
