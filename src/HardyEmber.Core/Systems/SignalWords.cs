using System.Runtime.CompilerServices;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>Signals in the pilot's words: what each is called, where on the chain it is found, how its value reads.</summary>
public sealed class SignalWords
{
    // The same for every machine of an aircraft, so they are looked up once.
    private static readonly ConditionalWeakTable<AircraftDefinition, Dictionary<string, (string Label, string? Link)>> Known = [];
    private readonly Machine _machine;
    private readonly Dictionary<string, (string Label, string? Link)> _known;

    public SignalWords(Machine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        _machine = machine;
        _known = Known.GetValue(machine.Aircraft, a => Of(a, machine.Gates));
    }

    private static Dictionary<string, (string Label, string? Link)> Of(AircraftDefinition a, IReadOnlyList<Gate> gates)
    {
        Dictionary<string, (string Label, string? Link)> known = new(StringComparer.Ordinal);
        foreach (var c in a.Controls)
        {
            known[c.Id] = (c.Label, c.Link);
        }

        foreach (var l in a.Lamps)
        {
            known[$"lamp.{l.Id}"] = ($"Lamp {l.Label}", l.Link);
        }

        foreach (var g in a.Gauges)
        {
            known.TryAdd(g.Signal, (g.Label, g.Link));
        }

        // What no instrument shows has the name of the instrument nearest to it.
        foreach (var (hidden, like, word) in a.Engines.SelectMany(e => new[] { ($"{e.Id}.egt-highest", $"{e.Id}.egt", "highest"),
            ($"{e.Id}.egt-true", $"{e.Id}.egt", "in the core") }))
        {
            known[hidden] = ($"{(known.TryGetValue(like, out var shown) ? shown.Label : Plain(like))}, {word}", shown.Link);
        }

        foreach (var gate in gates.Where(g => g.Kind is not (GateKind.Ends or GateKind.Springs)))
        {
            known[gate.Signal] = (gate.Label, known.TryGetValue(gate.Signal, out var own) ? own.Link : LinkByFamily(a, gate.Signal));
        }

        return known;
    }

    private static string Bare(string signal) =>
        signal.StartsWith(SignalTable.SeenPrefix, StringComparison.Ordinal) ? signal[SignalTable.SeenPrefix.Length..] : signal;

    /// <summary>Its name in the pilot's words.</summary>
    public string LabelOf(string signal)
    {
        ArgumentNullException.ThrowIfNull(signal);
        var bare = Bare(signal);
        var label = _known.TryGetValue(bare, out var known) ? known.Label : Plain(bare);
        return bare == signal ? label : $"Looked at {label}";
    }

    /// <summary>The link of the chain where it is found, or null.</summary>
    public string? LinkOf(string signal)
    {
        ArgumentNullException.ThrowIfNull(signal);
        var bare = Bare(signal);
        return (_known.TryGetValue(bare, out var known) ? known.Link : null) ?? LinkByFamily(_machine.Aircraft, bare);
    }

    /// <summary>The link where the hands or eyes of a step are wanted, or null.</summary>
    public string? LinkOf(ActDefinition act, IReadOnlyList<string> watch)
    {
        ArgumentNullException.ThrowIfNull(act);
        ArgumentNullException.ThrowIfNull(watch);
        return (act.Target ?? (watch.Count > 0 ? watch[0] : null)) is { } name ? LinkOf(name) : null;
    }

    /// <summary>A value as it reads: a position's word, yes or no, or a number with its unit.</summary>
    public string Shown(SignalInfo info)
    {
        ArgumentNullException.ThrowIfNull(info);
        var value = _machine.Signals.Values[info.Index];
        return info.Kind switch
        {
            SignalKind.Positions => info.Positions[(int)value],
            SignalKind.Flag => value > 0.5 ? "yes" : "no",
            _ => FormattableString.Invariant($"{Math.Round(Math.Round(value / info.Quantum) * info.Quantum, 2)} {info.Unit}").TrimEnd(),
        };
    }

    /// <summary>What another reading is held against: a number of the card by its value, anything else by its name.</summary>
    public string Against(SignalInfo other)
    {
        ArgumentNullException.ThrowIfNull(other);
        return other.Name.StartsWith("numbers.", StringComparison.Ordinal) ? Shown(other) : LabelOf(other.Name);
    }

    // A signal without a place of its own stands where its family's gauges, states or controls do.
    private static string? LinkByFamily(AircraftDefinition a, string signal)
    {
        var family = signal.Split('.')[0];
        bool Same(string name) => name.Split('.')[0] == family;
        return a.Families.GetValueOrDefault(family) ?? a.Gauges.FirstOrDefault(g => Same(g.Signal))?.Link ?? a.Chain.FirstOrDefault(c => Same(c.Number))?.Id;
    }

    private static string Plain(string signal)
    {
        var words = signal.Replace('.', ' ').Replace('-', ' ');
        return char.ToUpperInvariant(words[0]) + words[1..];
    }
}
