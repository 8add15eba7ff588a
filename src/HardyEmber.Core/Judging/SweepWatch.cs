using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Judging;

/// <summary>The sweep of a turnaround start: which controls stood wrong, and were never looked at.</summary>
internal static class SweepWatch
{
    public static IEnumerable<Finding> Conclude(Machine machine, ProcedureTracker tracker)
    {
        var v = machine.Signals.Values;
        foreach (var control in machine.Aircraft.Controls)
        {
            if (!LeftPositions.IsWrong(control, machine.Aircraft, machine.Place, machine.Header) || v[machine.Signals.Find(SignalTable.SeenPrefix + control.Id)!.Index] > 0.5)
            {
                continue;
            }

            var left = LeftPositions.Of(control, machine.Aircraft, machine.Place, machine.Header).Position;
            var now = control.Positions[(int)v[machine.Signals.Find(control.Id)!.Index]];
            var still = now == left;
            // What a later step moves anyway would have been put right without a look; the rest hangs on the sweep alone.
            var matters = control.Sweep is { Always: true } || tracker.Steps.All(s => s.Definition.Act.Set != control.Id || s.Id == $"right-{control.Id}");
            yield return new Finding("swept-past", still && matters ? Severity.Caution : Severity.Note, 0, machine.Time,
                $"{control.Label} stood at {left} from the last flight and was never looked at.",
                !still ? "It was moved later, by luck and not by the sweep." : matters ? "It still stands there." : "The procedure wants it there; nobody knew that it was.",
                $"Sweep before power: look at every control and put it where a cold jet has it ({LeftPositions.RestOf(control, machine.Place)}).",
                    new Evidence(control.Id, 0, null, ""), control.Id);
        }
    }
}
