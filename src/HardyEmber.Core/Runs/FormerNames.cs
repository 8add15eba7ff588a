using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Runs;

/// <summary>
/// Commands of old runs in today's names (<see cref="AircraftDefinition.Formerly"/>). The stored log stays as it was flown; only the machine hears
/// the names it knows.
/// </summary>
internal static class FormerNames
{
    public static IReadOnlyList<RunCommand> Today(AircraftDefinition aircraft, RunCommand command) => command.Kind switch
    {
        CommandKind.Set or CommandKind.Hold when aircraft.Formerly.FirstOrDefault(f => f.Control == command.Target && f.To == command.Position) is { } former =>
            [.. former.Now.Select(now => At(aircraft, command, now.Key, now.Value))],
        CommandKind.Look or CommandKind.Release when aircraft.Controls.All(c => c.Id != command.Target)
            && aircraft.Formerly.FirstOrDefault(f => f.Control == command.Target) is { } former =>
            [.. former.Now.Keys.Select(name => command with { Target = name })],
        _ => [command],
    };

    // What was a switch may spring back today: it is held, and let go where it was set back.
    private static RunCommand At(AircraftDefinition aircraft, RunCommand command, string control, string position)
    {
        var today = aircraft.Controls.First(c => c.Id == control);
        return today.Sprung.Contains(position) ? command with { Kind = CommandKind.Hold, Target = control, Position = position }
            : today.Kind == ControlKind.Sprung ? command with { Kind = CommandKind.Release, Target = control, Position = null }
            : command with { Target = control, Position = position };
    }
}
