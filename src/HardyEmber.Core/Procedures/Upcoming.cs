namespace HardyEmber.Core.Procedures;

/// <summary>A step that comes soon.</summary>
/// <param name="Open">It can be done now; otherwise when what stands before it is done.</param>
public readonly record struct UpcomingStep(TrackedStep Step, bool Open);

/// <summary>What comes after the cue: the next steps, as many as a tall column holds, in their order, that nothing but the cue and each other stands before.</summary>
public static class Upcoming
{
    private const int Most = 16;

    public static IReadOnlyList<UpcomingStep> After(ProcedureTracker tracker, Cue cue, double[] values)
    {
        ArgumentNullException.ThrowIfNull(tracker);
        ArgumentNullException.ThrowIfNull(cue);
        var found = new List<UpcomingStep>();
        var before = new HashSet<TrackedStep>();
        if (cue.Step is { } now && cue.Kind != CueKind.Wait)
        {
            before.Add(now);
        }

        for (var i = 0; i < tracker.Steps.Count && found.Count < Most; i++)
        {
            var step = tracker.Steps[i];
            if (step.Done || before.Contains(step) || tracker.Acted(step) || !step.Dependencies.All(d => d.Done || before.Contains(d)))
            {
                continue;
            }

            var open = step.Lacks() is null && step.NeedsProgram.Holds(values);
            if (open || !step.Definition.Optional && step.Dependencies.Any(before.Contains))
            {
                before.Add(step);
                found.Add(new UpcomingStep(step, open));
            }
        }

        return found;
    }
}
