using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Procedures;

/// <summary>
/// What an act is as a command: one mapping for the page's Space bar, the scripted pilot and the hands of the tests.
/// </summary>
public static class ActCommand
{
    /// <summary>The commands that do an act as the machine stands now, in their order: two where both hands hold, none where there is nothing for them.</summary>
    public static IReadOnlyList<RunCommand> Of(ActDefinition act, Machine machine)
    {
        ArgumentNullException.ThrowIfNull(act);
        ArgumentNullException.ThrowIfNull(machine);
        var step = machine.StepIndex;
        return act switch
        {
            { Look: { } look } => [new RunCommand(step, CommandKind.Look, look)],
            { Hold: { } hold, With: { } with } => [new RunCommand(step, CommandKind.Hold, with, HeldAt(machine, with)), new RunCommand(step, CommandKind.Hold, hold, act.To)],
            { Hold: { } hold } => [new RunCommand(step, CommandKind.Hold, hold, act.To)],
            { Set: { } dial, Signal: { } number } => [new RunCommand(step, CommandKind.Set, dial, null, machine[number])],
            { Set: { } control } => [new RunCommand(step, CommandKind.Set, control, act.To)],
            _ => [],
        };
    }

    /// <summary>Where the other hand holds a control: the first position that its spring takes it back from; null where there is no such control.</summary>
    internal static string? HeldAt(Machine machine, string control) => machine.Aircraft.Controls.FirstOrDefault(c => c.Id == control) is { Sprung: [var held, ..] } ? held : null;
}
