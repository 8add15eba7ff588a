using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Systems;

/// <summary>What would go dark.</summary>
/// <param name="Buses">Buses that would be dead, in the order they fall.</param>
/// <param name="Loads">What hangs on them and is fed now, soonest gone first.</param>
public sealed record Drop(string Source, IReadOnlyList<string> Buses, IReadOnlyList<DroppedLoad> Loads);

/// <param name="AfterS">Seconds it survives without power.</param>
public sealed record DroppedLoad(string Id, string Label, string Bus, double AfterS);

/// <summary>Asks the electrical data, with the contactors as they stand, what falls when a source is lost.</summary>
public static class PowerPaths
{
    /// <param name="source">A source as feeds name it: battery, source.ID, inverter.ID, gen.SIDE, or a bus.</param>
    /// <exception cref="ArgumentException">Nothing is fed from a source of that name.</exception>
    public static Drop WithoutSource(Machine machine, string source)
    {
        ArgumentNullException.ThrowIfNull(machine);
        if (machine.Aircraft.Electrics.Buses.All(b => b.Id != source && b.Feeds.All(f => f.From != source)))
        {
            throw new ArgumentException($"nothing is fed from \"{source}\"");
        }

        var v = machine.Signals.Values;
        bool Flag(string name) => machine.Signals.Find(name) is { } s && v[s.Index] > 0.5;
        var live = new HashSet<string>();
        var inverters = machine.Aircraft.Electrics.Inverters;
        foreach (var bus in machine.Aircraft.Electrics.Buses)
        {
            var fed = bus.Id != source && bus.Feeds.Any(f => f.From != source
                && machine.Compile(f.When, "electrics").Condition.Holds(v)
                && (f.From.StartsWith("inverter.", StringComparison.Ordinal) ? Flag(f.From) && live.Contains(inverters.First(i => f.From == $"inverter.{i.Id}").Bus)
                    : f.From.Contains('.', StringComparison.Ordinal) || f.From == "battery" ? Flag(Electrics.FlagOf(f.From)) : live.Contains(f.From)));
            if (fed)
            {
                live.Add(bus.Id);
            }
        }

        var dead = machine.Aircraft.Electrics.Buses.Where(b => Flag($"bus.{b.Id}.live") && !live.Contains(b.Id)).Select(b => b.Id).ToList();
        return new Drop(source, dead, [.. machine.Loads.Where(l => l.Powered && dead.Contains(l.Bus)).OrderBy(l => l.HoldUpS)
            .ThenBy(l => dead.IndexOf(l.Bus)).Select(l => new DroppedLoad(l.Id, l.Label, l.Bus, l.HoldUpS))]);
    }
}
