using HardyEmber.Core.Aircraft;
using HardyEmber.Core.Conditions;
using HardyEmber.Core.Runs;

namespace HardyEmber.Core.Simulation;

/// <summary>A condition a system obeys, with its cached truth. Refreshed by the machine, read in the step.</summary>
public sealed class Switch(string? text, string where)
{
    public string? Text { get; } = text;

    /// <summary>Where in the data file it stands, for errors.</summary>
    public string Where { get; } = where;
    public bool On { get; internal set; } = string.IsNullOrWhiteSpace(text);
    internal Condition Condition { get; private set; } = Condition.Always;
    private ConditionProgram _program = ConditionProgram.Compile(Condition.Always);

    internal void Compile(Condition condition) => (Condition, _program) = (condition, ConditionProgram.Compile(condition));

    internal void Refresh(double[] values) => On = _program.Holds(values);
}

/// <summary>A consumer of electricity: its demand and whether it is fed.</summary>
public sealed class Load(string id, string bus, double watts, Switch wanted)
{
    public string Id { get; } = id;
    public string Bus { get; } = bus;
    public double Watts { get; set; } = watts;
    public Switch Wanted { get; } = wanted;
    public bool Powered { get; internal set; }
}

/// <summary>Handed to every system while the machine is built: where to register signals, conditions, loads and faults.</summary>
public sealed class MachineContext(AircraftDefinition aircraft, PlaceDefinition place, RunHeader header)
{
    private readonly List<Switch> _switches = [];
    private readonly List<Load> _loads = [];

    public AircraftDefinition Aircraft { get; } = aircraft;
    public PlaceDefinition Place { get; } = place;
    public RunHeader Header { get; } = header;
    public SignalTable Signals { get; } = new();
    public FaultInputs Faults { get; } = new();
    public IReadOnlyList<Switch> Switches => _switches;
    public IReadOnlyList<Load> Loads => _loads;

    /// <summary>A random stream of its own for a component.</summary>
    public RandomStream Random(string component) => new(Header.Seed, component);

    /// <summary>Registers a condition to be compiled once all signals are known.</summary>
    public Switch Switch(string? text, string where)
    {
        var made = new Switch(text, where);
        _switches.Add(made);
        return made;
    }

    public Load AddLoad(string id, string bus, double watts, Switch wanted)
    {
        if (Aircraft.Electrics.Buses.All(b => b.Id != bus))
        {
            throw new FormatException($"{wanted.Where}: there is no bus \"{bus}\"");
        }

        var load = new Load(id, bus, watts, wanted);
        _loads.Add(load);
        return load;
    }
}

/// <summary>
/// A part of the machine. <see cref="Logic"/> decides (valves, contactors, latches) after every command and five times a
/// second; <see cref="Slow"/> integrates slow states five times a second.
/// </summary>
public abstract class MachineSystem
{
    /// <summary>Called once, when every signal is registered and the value array is final.</summary>
    public virtual void Bind(MachineContext context) { }

    public virtual void Logic() { }

    /// <param name="dt">Seconds since the last call.</param>
    public virtual void Slow(double dt) { }
}
