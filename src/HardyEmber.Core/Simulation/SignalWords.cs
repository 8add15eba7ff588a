namespace HardyEmber.Core.Simulation;

/// <summary>Signals in the pilot's words: what each is called, where on the chain it is found, how its value reads.</summary>
public sealed class SignalWords
{
    private readonly Machine _machine;
    private readonly Dictionary<string, (string Label, string? Link)> _known = new(StringComparer.Ordinal);

    public SignalWords(Machine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        _machine = machine;
        var a = machine.Aircraft;
        foreach (var c in a.Controls)
        {
            _known[c.Id] = (c.Label, c.Link);
        }

        foreach (var l in a.Lamps)
        {
            _known[$"lamp.{l.Id}"] = ($"Lamp {l.Label}", l.Link);
        }

        foreach (var g in a.Gauges)
        {
            _known.TryAdd(g.Signal, (g.Label, g.Link));
        }

        // What no instrument shows has the name of the instrument nearest to it.
        foreach (var (hidden, like, word) in a.Engines.SelectMany(e => new[] { ($"{e.Id}.egt-highest", $"{e.Id}.egt", "highest"), ($"{e.Id}.egt-true", $"{e.Id}.egt", "in the core") }))
        {
            _known[hidden] = ($"{(_known.TryGetValue(like, out var shown) ? shown.Label : Plain(like))}, {word}", shown.Link);
        }

        foreach (var rule in machine.Rules)
        {
            _known[rule.Signal] = (rule.Label, _known.TryGetValue(rule.Signal, out var known) ? known.Link : LinkByFamily(rule.Signal));
        }
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
        return (_known.TryGetValue(bare, out var known) ? known.Link : null) ?? LinkByFamily(bare);
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

    // A signal without a place of its own stands where its family's gauges, states or controls do.
    private string? LinkByFamily(string signal)
    {
        var a = _machine.Aircraft;
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
