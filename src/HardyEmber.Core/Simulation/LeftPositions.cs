using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Simulation;

/// <summary>Where the last pilot left the controls, drawn from the run's seed: each control by a stream of its own.</summary>
public static class LeftPositions
{
    /// <summary>Position of a control at the beginning of a run: its default, or what the last pilot left.</summary>
    /// <returns>The position's name, or the number of a dial.</returns>
    public static (string? Position, double Number) Of(ControlDefinition control, RunHeader header)
    {
        ArgumentNullException.ThrowIfNull(control);
        ArgumentNullException.ThrowIfNull(header);
        if (header.Beginning != "turnaround")
        {
            return (control.Default, control.DefaultNumber);
        }

        var random = new RandomStream(header.Seed, $"left-{control.Id}");
        if (control.LeftBetween is [var low, var high])
        {
            return (control.Default, Math.Round(random.Between(low, high) / control.Step) * control.Step);
        }

        var at = random.Next();
        foreach (var (position, odds) in control.LeftAt.OrderBy(p => p.Key, StringComparer.Ordinal))
        {
            at -= odds;
            if (at < 0)
            {
                return (position, control.DefaultNumber);
            }
        }

        return (control.Default, control.DefaultNumber);
    }

    /// <summary>It stands elsewhere than on a cold jet.</summary>
    public static bool IsWrong(ControlDefinition control, RunHeader header)
    {
        var (position, _) = Of(control, header);
        return control.Kind != ControlKind.Dial && position != control.Default;
    }
}
