using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>
/// What each link of the chain is handed by those before it: watts, pressure, torque, as its data say (<see cref="LinkDefinition.Takes"/>). Read off the
/// machine when somebody looks; the machine itself knows nothing of it.
/// </summary>
public sealed class ChainHanded
{
    private readonly Machine _machine;
    private readonly (int Signal, Load[] Loads, ConditionProgram? When)[][] _links;

    /// <exception cref="FormatException">A part names something that does not exist.</exception>
    public ChainHanded(Machine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        _machine = machine;
        Links = [.. machine.Aircraft.Chain.Where(l => l.Takes is not null)];
        _links = [.. Links.Select(l => l.Takes!.Of.Select((part, i) => Part(part, $"chain.{l.Id}.takes.of[{i}]")).ToArray())];
    }

    /// <summary>The links that something is handed to, in the order of the chain.</summary>
    public IReadOnlyList<LinkDefinition> Links { get; }

    /// <summary>What the link at <paramref name="index"/> of <see cref="Links"/> is handed now, in the unit of its data; 0 where the chain is cut.</summary>
    public double this[int index]
    {
        get
        {
            var sum = 0.0;
            foreach (var (signal, loads, when) in _links[index])
            {
                if (when is null || when.Holds(_machine.Signals.Values))
                {
                    sum += signal >= 0 ? Math.Max(0, _machine.Signals.Values[signal]) : Drawn(loads);
                }
            }

            return sum;
        }
    }

    private static double Drawn(Load[] loads)
    {
        var watts = 0.0;
        foreach (var load in loads)
        {
            watts += load.Powered ? load.Watts : 0;
        }

        return watts;
    }

    private (int Signal, Load[] Loads, ConditionProgram? When) Part(HandedPart part, string where)
    {
        var when = part.When is { } text ? _machine.Compile(text, $"{where}.when").Program : null;
        if (part.Signal is { } name)
        {
            return _machine.Signals.Find(name) is { Kind: SignalKind.Number } signal ? (signal.Index, [], when)
                : throw new FormatException($"{where}.signal: there is no reading \"{name}\"{Numbers.Nearest.Hint(name, _machine.Signals.All.Select(i => i.Name))}");
        }

        var buses = _machine.Aircraft.Electrics.Buses;
        return part.Watts is not null && part.Watts.All(w => buses.Any(b => b.Id == w))
            ? (-1, [.. _machine.Loads.Where(l => part.Watts.Count == 0 || part.Watts.Contains(l.Bus))], when)
            : throw new FormatException($"{where}: a signal or buses of this aircraft are needed: {string.Join(", ", buses.Select(b => b.Id))}");
    }
}
