using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Core.Judging;

/// <summary>Steps with a time in which they are to be done once they can be (<see cref="Definitions.StepDefinition.WithinS"/>), and which came later.</summary>
internal sealed class LateSteps
{
    private readonly double[] _v;
    private readonly (TrackedStep Step, double WithinS)[] _timed;
    private readonly double[] _openSince;
    private readonly List<Finding> _found = [];

    public LateSteps(Machine machine, ProcedureTracker tracker)
    {
        _v = machine.Signals.Values;
        _timed = [.. tracker.Steps.Where(s => s.Definition.WithinS is not null).Select(s => (s, s.Definition.WithinS!.Value))];
        _openSince = [.. _timed.Select(_ => -1.0)];
    }

    public void Look(double t)
    {
        for (var i = 0; i < _timed.Length; i++)
        {
            var (step, within) = _timed[i];
            var since = _openSince[i];
            var acted = step.Done || step.ActedOn(_v);
            if (since >= 0 && acted && t - since > within)
            {
                _found.Add(Of(step, since, t, within));
            }

            // A step that cannot be done is not late; once done it was.
            _openSince[i] = acted ? -1 : !step.NeedsProgram.Holds(_v) ? -1 : since < 0 ? t : since;
        }
    }

    private static Finding Of(TrackedStep step, double since, double t, double within) => new("late", Severity.Note, since, t,
        $"“{step.Definition.Cue}” came {t - since:0} s after it could be done.", step.Definition.IfLate ?? step.Definition.Why, $"Do it within {within:0} s.",
        new Evidence(step.Id, Math.Round(t - since), within, "s"), step.Id);

    public IEnumerable<Finding> Conclude() => _found;
}
