using HardyEmber.Core.Definitions;

namespace HardyEmber.Core.Simulation;

/// <summary>
/// Where the controls stand when a run begins: as on a cold jet, as in flight, or where the last pilot left them, drawn from the
/// run's seed by a stream of each control's own.
/// </summary>
public static class LeftPositions
{
    /// <summary>Where a cold jet has a control at a place; null for a dial.</summary>
    public static string? RestOf(ControlDefinition control, PlaceDefinition place)
    {
        ArgumentNullException.ThrowIfNull(control);
        ArgumentNullException.ThrowIfNull(place);
        return place.Ship is null ? control.Default : control.Aboard ?? control.Default;
    }

    /// <summary>Position of a control at the beginning of a run.</summary>
    /// <returns>The position's name, or the number of a dial.</returns>
    public static (string? Position, double Number) Of(ControlDefinition control, AircraftDefinition aircraft, PlaceDefinition place, RunHeader header)
    {
        ArgumentNullException.ThrowIfNull(aircraft);
        ArgumentNullException.ThrowIfNull(control);
        ArgumentNullException.ThrowIfNull(header);
        if (header.Flight is not null && aircraft.Flight.Positions.TryGetValue(control.Id, out var flown))
        {
            return (flown, control.DefaultNumber);
        }

        var rest = RestOf(control, place);
        if (header.Beginning != "turnaround")
        {
            return (rest, control.DefaultNumber);
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
                return (position == rest ? control.Default : position, control.DefaultNumber);
            }
        }

        return (rest, control.DefaultNumber);
    }

    /// <summary>The last pilot left it elsewhere than it stands on a cold jet. In flight nobody did: it stands where it is flown.</summary>
    public static bool IsWrong(ControlDefinition control, AircraftDefinition aircraft, PlaceDefinition place, RunHeader header)
    {
        var (position, _) = Of(control, aircraft, place, header);
        return header.Flight is null && control.Kind != ControlKind.Dial && position != RestOf(control, place);
    }
}
