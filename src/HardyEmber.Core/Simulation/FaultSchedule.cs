using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Simulation;

/// <summary>The faults of one run and when each sets in.</summary>
public sealed class FaultSchedule
{
    private readonly List<(long Step, int Input, double Level)> _due = [];
    private readonly double[] _inputs;
    private readonly FaultCatalog _catalog;
    private readonly AircraftDefinition _aircraft;
    private readonly IReadOnlyCollection<string> _names;
    private int _next;

    /// <exception cref="FormatException">A fault does not exist here, or its level is out of bounds.</exception>
    public FaultSchedule(MachineContext context, FaultCatalog catalog)
    {
        ArgumentNullException.ThrowIfNull(context);
        ArgumentNullException.ThrowIfNull(catalog);
        _inputs = context.Faults.Values;
        (_catalog, _aircraft, _names) = (catalog, context.Aircraft, context.Faults.Names);
        Faults = FaultDraw.For(context.Header, catalog, context.Aircraft, _names);
        foreach (var fault in Faults)
        {
            var definition = catalog.Faults.FirstOrDefault(f => f.Code == fault.Code)
                ?? throw new FormatException($"faults: there is no fault \"{fault.Code}\"");
            var index = context.Faults.Find(Named(definition.Input, fault)!);
            if (index < 0)
            {
                var places = FaultDraw.Places(definition, context.Aircraft, _names);
                throw new FormatException(places.Count == 0 ? $"faults: \"{fault.Code}\" does not exist on {context.Aircraft.Name}"
                    : $"faults.{(definition.OfEngine ? "engine" : "item")}: \"{fault.Code}\" needs one of {string.Join(", ", places.Select(p => p.Fault.Engine ?? p.Fault.Item))}");
            }

            var level = fault.Level ?? definition.Level;
            if (!(level >= definition.MinLevel && level <= definition.MaxLevel))
            {
                throw new FormatException(FormattableString.Invariant($"faults.level: \"{fault.Code}\" takes {definition.MinLevel} to {definition.MaxLevel}"));
            }

            _due.Add(((long)Math.Round(fault.At / Steps.Seconds), index, level));
        }

        _due.Sort((a, b) => a.Step.CompareTo(b.Step));
    }

    /// <summary>The faults named in the header, and those drawn.</summary>
    public IReadOnlyList<RunFault> Faults { get; }

    /// <summary>Checks that what is reported could be so on this aircraft.</summary>
    /// <exception cref="CommandException">There is no such fault, or it cannot sit there.</exception>
    public void CheckReport(RunCommand command)
    {
        ArgumentNullException.ThrowIfNull(command);
        var places = _catalog.Faults.FirstOrDefault(f => f.Code == command.Target) is { } definition ? FaultDraw.Places(definition, _aircraft, _names) : [];
        if (places.Count == 0)
        {
            throw new CommandException("report", $"there is no fault \"{command.Target}\" on {_aircraft.Name}");
        }

        if (command.Position is { } place && places.All(p => (p.Fault.Engine ?? p.Fault.Item) != place))
        {
            throw new CommandException("to", $"\"{command.Target}\" sits in one of {string.Join(", ", places.Select(p => p.Fault.Engine ?? p.Fault.Item ?? "the aircraft"))}");
        }
    }

    /// <summary>A text of a fault's definition with the engine or part of this run in it.</summary>
    public static string? Named(string? text, RunFault fault)
    {
        ArgumentNullException.ThrowIfNull(fault);
        return text?.Replace("{engine}", fault.Engine ?? "", StringComparison.Ordinal).Replace("{item}", fault.Item ?? "", StringComparison.Ordinal);
    }

    /// <summary>The step at which the next fault sets in; far off, with room to count on from, where none does.</summary>
    public long NextStep => _next < _due.Count ? _due[_next].Step : long.MaxValue / 2;

    /// <summary>Sets what is due at this step; true if anything was.</summary>
    public bool Apply(long step)
    {
        var any = false;
        while (_next < _due.Count && _due[_next].Step <= step)
        {
            _inputs[_due[_next].Input] = _due[_next].Level;
            _next++;
            any = true;
        }

        return any;
    }
}
