using System.Runtime.CompilerServices;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;

namespace HardyEmber.Core.Simulation;

/// <summary>A consumer of electricity: its demand and whether it is fed.</summary>
public sealed class Load(string id, string label, string bus, double watts, Switch wanted, int signal)
{
    public string Id { get; } = id;
    public string Label { get; } = label;
    public string Bus { get; } = bus;
    public double Watts { get; set; } = watts;
    public Switch Wanted { get; } = wanted;

    /// <summary>Its flag <c>load.ID</c> in the signal table.</summary>
    public int Signal { get; } = signal;

    /// <summary>Seconds without power that it survives.</summary>
    public double HoldUpS { get; init; }

    /// <summary>
    /// Of a starter the voltage at which it takes its watts, else 0: it takes by the square of the voltage. Of generators it
    /// gets what they have to spare, of a battery on the same bus the rest.
    /// </summary>
    public double StarterV { get; init; }

    /// <summary>Volts below which it leaves.</summary>
    public double MinV { get; init; }
    public bool Powered { get; internal set; }

    /// <summary>Its bus was too low for it; it comes back a little above the level at which it left.</summary>
    internal bool Starved { get; set; }

    /// <summary>Taken off, because the generators could not carry it.</summary>
    internal bool Shed { get; set; }
}

/// <summary>Handed to every system while the machine is built: where to register signals, conditions, gates, loads and faults.</summary>
public sealed class MachineContext : INameKeeper
{
    private readonly Blueprint _blueprint;
    private readonly Blueprint.Finished? _example;
    private readonly DataProblems? _problems;
    private readonly Dictionary<Type, object> _alike = [];
    private readonly List<Load> _loads = [];
    private readonly List<Generator> _generators = [];
    private readonly List<Gate> _gates = [];
    private readonly HashSet<Switch> _explained = [];
    private readonly List<(int Until, int System)> _writers = [];
    private readonly HashSet<(int Reader, int Writer, Phase Phase)> _reads = [];
    private int _system = -1;

    /// <param name="problems">Takes what is wrong with the data, and building goes on; where there is none, the first is thrown.</param>
    public MachineContext(AircraftDefinition aircraft, PlaceDefinition place, RunHeader header, DataProblems? problems = null)
    {
        _problems = problems;
        (Aircraft, Place, Header, Station, Soak) = (aircraft, place, header, Station.Of(place, header), Soak.Of(header));
        _blueprint = Blueprint.Of(aircraft);
        _example = _blueprint.Example;
        (Signals, Faults) = (new SignalTable(_example?.Signals), new FaultInputs(_example?.Faults));
        (Gates, Explains) = (_example?.Gates ?? _gates, _example is null);
        Switches = new List<Switch>(_example?.Switches.Length ?? 0);
    }

    public AircraftDefinition Aircraft { get; }
    public PlaceDefinition Place { get; }
    public RunHeader Header { get; }

    /// <summary>The air where the jet stands.</summary>
    public Station Station { get; }

    /// <summary>How warm the jet itself is at the beginning.</summary>
    public Soak Soak { get; }
    public SignalTable Signals { get; }
    public FaultInputs Faults { get; }

    /// <summary>All that its parts obey, in the order in which they were registered.</summary>
    internal List<Switch> Switches { get; }
    public IReadOnlyList<Load> Loads => _loads;
    public IReadOnlyList<Gate> Gates { get; }

    /// <summary>The gates are not written down yet: only the first machine of an aircraft states them.</summary>
    public bool Explains { get; }

    bool INameKeeper.KnowsNames => !Explains;

    /// <summary>Something that others decide by has changed without a condition that says so, in this tick.</summary>
    internal bool Disturbed { get; set; }

    /// <summary>The last decision changed what others have already decided by: everybody decides once more.</summary>
    internal bool Undecided { get; set; }

    /// <summary>A random stream of its own for a component.</summary>
    public RandomStream Random(string component) => new(Header.Seed, component);

    /// <summary>What a part has alike on every machine of the aircraft: made by the first one's, shared by the others. One thing of a kind.</summary>
    internal T Alike<T>(Func<T> make)
        where T : class
    {
        ArgumentNullException.ThrowIfNull(make);
        if (_example is { } example)
        {
            return (T)example.Alike[typeof(T)];
        }

        var made = make();
        _alike.Add(typeof(T), made);
        return made;
    }

    /// <summary>Registers a condition to be compiled once all signals are known.</summary>
    /// <param name="where">Where in the data file it stands.</param>
    public Switch Switch(string? text, string where)
    {
        // What it says has been said by the first machine: they stand in the same order on all of them.
        var made = new Switch(_example is { } example ? example.Switches[Switches.Count] : new SwitchWords(text ?? "", where));
        Switches.Add(made);
        return made;
    }

    /// <inheritdoc cref="Switch(string?,string)"/>
    public Switch Switch(string? text, [InterpolatedStringHandlerArgument("")] ref NewName where) => Switch(text, where.Take() ?? "");

    /// <summary>Says what a signal rests on. To be called where <see cref="Explains"/>.</summary>
    public void Gate(string signal, GateKind kind, string where, string label, Term condition, string? remedy = null, string? position = null, bool aside = false)
    {
        ArgumentNullException.ThrowIfNull(condition);
        _explained.UnionWith(condition.Switches);
        _gates.Add(new Gate(signal, kind, condition.Text, where, label, remedy, position, aside));
    }

    /// <summary>Another way to a signal whose gate is stated already. To be called where <see cref="Explains"/>.</summary>
    internal void OtherWay(string signal, GateKind kind, Term condition)
    {
        _explained.UnionWith(condition.Switches);
        var at = _gates.FindIndex(g => g.Signal == signal && g.Kind == kind);
        if (at >= 0)
        {
            _gates[at] = _gates[at] with { Text = $"({_gates[at].Text}) or ({condition.Text})" };
        }
    }

    /// <summary>What has been stated holds these too, in other words.</summary>
    internal void Explained(IEnumerable<Switch> switches) => _explained.UnionWith(switches);

    /// <summary>Whether it has been said what brings a signal.</summary>
    internal bool HasGate(string signal) => _gates.Exists(g => g.Signal == signal && g.Kind != GateKind.Ends);

    /// <summary>Whether it has been said what ends a signal.</summary>
    internal bool HasEnd(string signal) => _gates.Exists(g => g.Signal == signal && g.Kind == GateKind.Ends);

    /// <summary>A condition that chooses a word on the screen; nothing of the aircraft obeys it, so it needs no gate.</summary>
    /// <inheritdoc cref="Switch(string?,string)"/>
    public Switch Word(string? text, string where)
    {
        var made = Switch(text, where);
        if (Explains)
        {
            _ = _explained.Add(made);
        }

        return made;
    }

    public Load AddLoad(string id, string label, string bus, double watts, Switch wanted, double holdUpS = 0, double minV = 0, double starterV = 0)
    {
        if (Aircraft.Electrics.Buses.All(b => b.Id != bus))
        {
            Wrong(wanted.Where, $"there is no bus \"{bus}\"{Nearest.Hint(bus, Aircraft.Electrics.Buses.Select(b => b.Id))}");
            bus = Aircraft.Electrics.Buses[0].Id;
        }

        var load = new Load(id, label, bus, watts, wanted, Signals.AddFlag($"load.{id}")) { HoldUpS = holdUpS, MinV = minV, StarterV = starterV };
        _loads.Add(load);
        if (Explains)
        {
            var stays = Aircraft.Electrics.Shed?.Order.Contains(id) == true ? Term.Fact($"not load.{id}.shed") : null;
            Gate($"load.{id}", GateKind.Is, wanted.Where, $"{label}: power", Term.All(wanted, Term.Fact($"bus.{bus}.live"), stays));
        }

        return load;
    }

    /// <summary>What turns it decides in its own logic when it delivers, see <see cref="Generator.Decide"/>.</summary>
    public Generator AddGenerator(Generator made)
    {
        _generators.Add(made);
        return made;
    }

    public Generator GeneratorOf(string id) => _generators.First(g => g.Id == id);

    /// <summary>Something in the data is wrong. Returns only where faults are gathered; go on with whatever does no harm.</summary>
    /// <exception cref="FormatException">Where they are not.</exception>
    public void Wrong(string where, string problem)
    {
        if (_problems is null)
        {
            throw new FormatException($"{where}: {problem}");
        }

        _problems.Add(where, problem);
    }

    /// <summary>The place of a signal that the data name; the first one where there is none, see <see cref="Wrong"/>.</summary>
    public int IndexOf(string signal, string where, string kind)
    {
        if (Signals.Find(signal) is { } info)
        {
            return info.Index;
        }

        Wrong(where, $"there is no {kind} \"{signal}\"{Nearest.Hint(signal, ((IVocabulary)Signals).Names)}");
        return 0;
    }

    /// <summary>The place of a signal that a part reads. To be called in <see cref="MachineSystem.Bind"/>: the order of the step follows from it.</summary>
    /// <param name="phase">When it is read.</param>
    /// <exception cref="InvalidOperationException">There is no such signal: data that name one are checked before, see <see cref="IndexOf"/>.</exception>
    public int Reads(string signal, Phase phase)
    {
        var info = Signals.Find(signal) ?? throw new InvalidOperationException($"nobody writes the signal \"{signal}\"");
        Reads(info.Index, phase);
        return info.Index;
    }

    /// <inheritdoc cref="Reads(string,Phase)"/>
    public void Reads(int signal, Phase phase)
    {
        var range = _writers.FindIndex(w => signal < w.Until);
        if (range >= 0 && _writers[range].System >= 0 && phase != Phase.Before)
        {
            _reads.Add((_system, _writers[range].System, phase));
        }
    }

    /// <summary>What is registered from here on belongs to nobody (−1), or to a part.</summary>
    internal void Registering(int system)
    {
        if (Explains)
        {
            _writers.Add((Signals.Count, _system));
        }

        _system = system;
    }

    /// <summary>What is read from here on is read by a part.</summary>
    internal void Binding(int system) => _system = system;

    /// <summary>All parts are bound: the order of the step. Leaves what was written down to the next machine of this aircraft.</summary>
    internal StepOrder Finish(IReadOnlyList<MachineSystem> systems)
    {
        if (_example is { } example)
        {
            return example.Order;
        }

        var order = StepOrder.Of([.. systems.Select(s => s.Name)], _reads);
        _blueprint.Finish(new Blueprint.Finished(Signals, Faults, Gates, order, [.. Switches.Select(s => s.Words)], _alike));
        return order;
    }

    /// <summary>Everything is registered: closes the tables.</summary>
    internal void Close()
    {
        Signals.Close();
        if (Explains && Switches.Find(s => s.Text.Length > 0 && !_explained.Contains(s)) is { } silent)
        {
            Wrong(silent.Where, $"\"{silent.Text}\" is obeyed and explained by no gate");
        }
    }

    /// <summary>Watches every registered condition; to be called when all signals are known.</summary>
    /// <exception cref="FormatException">A condition is malformed; the message begins with its place.</exception>
    internal ConditionWatch Watch() => new(_blueprint.Watch(() => new ConditionWatch.Plan([.. Switches.Select(s => Compile(s.Text, s.Where).Program)],
        i => Signals.All[i].ByHand)));

    /// <summary>Compiles a condition, once for all machines of this aircraft.</summary>
    /// <exception cref="FormatException">The text is malformed or names what does not exist; <paramref name="where"/> comes first.</exception>
    public (Condition Condition, ConditionProgram Program) Compile(string? text, string where)
    {
        try
        {
            return _blueprint.Compile(text ?? "", Signals);
        }
        catch (FormatException e)
        {
            Wrong(where, e.Message);
            return _blueprint.Compile("", Signals);
        }
    }
}
