using HardyEmber.Core.Numbers;
using HardyEmber.Core.Procedures;

namespace HardyEmber.Core.Judging;

/// <summary>Steps that are not done when a run ends: left out, undone again, or never reached because the run was broken off.</summary>
internal static class Omissions
{
    /// <summary>Code of the finding about a step that was done and no longer is.</summary>
    public const string Undone = "undone";

    /// <summary>So many steps after the last that was done are no slips: the run was broken off before them.</summary>
    private const int Broken = 8;

    public static IEnumerable<Finding> Conclude(ProcedureTracker tracker, double[] values, double end)
    {
        var steps = tracker.Steps.Where(s => !s.Definition.Optional).ToList();
        var phases = tracker.Definition.Phases.Where(p => steps.Exists(s => s.Phase == p.Id)).ToList();
        var first = phases.FindIndex(p => !WorkedThrough(steps, p.Id));
        var begun = first >= 0 ? steps.FindLastIndex(s => s.Phase == phases[first].Id && ByHand(s)) : -1;
        var reached = begun >= 0 ? begun + 1 : first >= 0 ? steps.FindIndex(s => s.Phase == phases[first].Id) : steps.Count;
        // What could not be done, and what was never begun beyond the break, nobody has left out.
        var beyond = steps.Where((s, i) => !s.Done && !ByHand(s) && (i >= reached || !Possible(s, values))).ToHashSet();
        // Who left out one phase and finished the others has not broken off; single switches of a later one are often done early.
        if (beyond.Count < Broken || phases.Count(p => !WorkedThrough(steps, p.Id)) < 2)
        {
            return steps.Where(s => !s.Done).Select(s => Of(s, end));
        }

        var earliest = Math.Max(0, first - 1);
        var phase = phases.Skip(earliest).First(p => beyond.Any(s => s.Phase == p.Id));
        var stopped = new Finding("stopped", Severity.Caution, end, end, $"The run was broken off in “{phase.Title}”; {beyond.Count} steps were not reached.",
            "What comes after is neither done nor judged.", "Fly it to its end, or fork it from where it stopped.");
        return steps.Where(s => !s.Done && !beyond.Contains(s)).Select(s => Of(s, end)).Prepend(stopped);
    }

    private static bool Possible(TrackedStep step, double[] values) => step.Needs.Holds(values) && step.Lacks() is null;

    private static bool ByHand(TrackedStep step) => step.FirstDone >= 0 && !step.WasSo;

    // Half of what hands could do in it was done at some time.
    private static bool WorkedThrough(List<TrackedStep> steps, string phase)
    {
        var work = steps.Where(s => s.Phase == phase && !s.WasSo).ToList();
        return 2 * work.Count(ByHand) >= work.Count;
    }

    private static Finding Of(TrackedStep step, double end)
    {
        // What held for less than a second, while the machine settled, was never done.
        var undone = step.FirstDone >= 0 && step.LastUndone - step.FirstDone > 1;
        var title = step.Definition.Cue;
        return new Finding(undone ? Undone : "omitted", Severity.Caution, undone ? step.LastUndone : end, end,
            undone ? $"“{title}” was done at {Clock.At(step.FirstDone)} and undone again at {Clock.At(step.LastUndone)}." : $"“{title}” was left out.",
            step.Definition.IfOmitted ?? step.Definition.Why, title + ".", Step: step.Id);
    }
}
