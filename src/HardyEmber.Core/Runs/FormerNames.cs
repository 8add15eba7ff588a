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
            [.. former.Now.Select(now => command with { Target = now.Key, Position = now.Value })],
        CommandKind.Look or CommandKind.Release when aircraft.Controls.All(c => c.Id != command.Target)
            && aircraft.Formerly.FirstOrDefault(f => f.Control == command.Target) is { } former =>
            [.. former.Now.Keys.Select(name => command with { Target = name })],
        _ => [command],
    };
}
