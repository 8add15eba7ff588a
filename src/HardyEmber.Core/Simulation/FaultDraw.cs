using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Simulation;

/// <summary>Which faults a run carries: those its header names, and those drawn from its seed for a surprise.</summary>
public static class FaultDraw
{
    private const double LatestS = 240;

    /// <param name="inputs">The fault inputs that exist on the machine.</param>
    public static IReadOnlyList<RunFault> For(RunHeader header, FaultCatalog catalog, AircraftDefinition aircraft, IReadOnlyCollection<string> inputs)
    {
        ArgumentNullException.ThrowIfNull(header);
        ArgumentNullException.ThrowIfNull(catalog);
        if (header is { Surprises: > 0, Drawn: { } drawn })
        {
            return [.. header.Faults, .. drawn];
        }

        var random = new RandomStream(header.Seed, "surprises");
        var faults = header.Faults.ToList();
        for (var i = 0; i < header.Surprises; i++)
        {
            var open = catalog.Faults.Where(f => f.Odds > 0 && faults.All(x => x.Code != f.Code)).SelectMany(f => Places(f, aircraft, inputs)).ToList();
            var at = random.Next() * open.Sum(p => p.Odds);
            foreach (var (fault, odds) in open)
            {
                at -= odds;
                if (at <= 0)
                {
                    faults.Add(fault with { At = Math.Round(random.Next() < 0.6 ? 0 : random.Between(5, LatestS), 2) });
                    break;
                }
            }
        }

        return faults;
    }

    /// <summary>Every place on a machine where a fault can sit; the fault's odds are shared among them.</summary>
    public static IReadOnlyList<(RunFault Fault, double Odds)> Places(FaultDefinition definition, AircraftDefinition aircraft, IReadOnlyCollection<string> inputs)
    {
        ArgumentNullException.ThrowIfNull(definition);
        ArgumentNullException.ThrowIfNull(aircraft);
        if (definition.OfEngine)
        {
            var sides = aircraft.Engines.Where(e => inputs.Contains(definition.Input.Replace("{engine}", e.Id, StringComparison.Ordinal))).ToList();
            return [.. sides.Select(e => (new RunFault(definition.Code, e.Id), definition.Odds / sides.Count))];
        }

        var mark = definition.Input.IndexOf('{', StringComparison.Ordinal);
        if (mark < 0)
        {
            return inputs.Contains(definition.Input) ? [(new RunFault(definition.Code), definition.Odds)] : [];
        }

        var (before, after) = (definition.Input[..mark], definition.Input[(definition.Input.IndexOf('}', StringComparison.Ordinal) + 1)..]);
        var names = inputs.Where(n => n.Length > before.Length + after.Length && n.StartsWith(before, StringComparison.Ordinal) && n.EndsWith(after, StringComparison.Ordinal))
            .Select(n => n[before.Length..^after.Length]).Where(n => !n.Contains('.', StringComparison.Ordinal)).ToList();
        return [.. names.Select(n => (new RunFault(definition.Code, Item: n), definition.Odds / names.Count))];
    }
}
