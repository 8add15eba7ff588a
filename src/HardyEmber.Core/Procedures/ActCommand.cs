using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Procedures;

/// <summary>
/// What an act is as a command: one mapping for the page's Space bar, the scripted pilot and the hands of the tests.
/// </summary>
public static class ActCommand
{
    /// <summary>The command that does an act as the machine stands now, or null where there is nothing for the hands.</summary>
    public static RunCommand? Of(ActDefinition act, Machine machine)
    {
        ArgumentNullException.ThrowIfNull(act);
        ArgumentNullException.ThrowIfNull(machine);
        var step = machine.StepIndex;
        return act switch
        {
            { Look: { } look } => new RunCommand(step, CommandKind.Look, look),
            { Hold: { } hold } => new RunCommand(step, CommandKind.Hold, hold, act.To),
            { Set: { } dial, Signal: { } number } => new RunCommand(step, CommandKind.Set, dial, null, machine[number]),
            { Set: { } control } => new RunCommand(step, CommandKind.Set, control, act.To),
            _ => null,
        };
    }
}
