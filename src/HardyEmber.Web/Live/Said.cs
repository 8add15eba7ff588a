using HardyEmber.Core.Conditions;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Simulation;

namespace HardyEmber.Web.Live;

/// <summary>
/// What the guide said last. The words are made when they are sent, and go with the frame; what stays with the run is kept in the same
/// lists from cue to cue. A view that is kept until the next cue lives just long enough to be taken for old: such dead ones, and the holes
/// they left, were a quarter of the heap at 300 runs.
/// </summary>
internal sealed class Said
{
    private readonly List<Atom> _waiting = [];
    private readonly List<TrackedStep> _running = [];
    private readonly List<UpcomingStep> _next = [];

    public CueKind Kind { get; private set; }
    public TrackedStep? Step { get; private set; }
    public TrackedDrill? Drill { get; private set; }

    /// <summary>What hands or eyes are to do; null where there is nothing.</summary>
    public ActView? Act { get; private set; }

    /// <summary>A fault that has shown and was not reported.</summary>
    public FaultDefinition? Unsaid { get; private set; }

    public IReadOnlyList<Atom> Waiting => _waiting;
    public IReadOnlyList<TrackedStep> Running => _running;

    /// <summary>What comes after it.</summary>
    public IReadOnlyList<UpcomingStep> Next => _next;

    /// <summary>Takes what is to be said now; true if it is not what was said last.</summary>
    /// <param name="next">What comes after it; null where that is as it was.</param>
    public bool Take(Cue cue, FaultDefinition? unsaid, IReadOnlyList<UpcomingStep>? next, Machine machine)
    {
        // The next turn of a knob is another act than the one before, though the cue is the same.
        var act = (cue.Drill?.Definition.Act ?? (cue.Kind == CueKind.Wait ? null : cue.Step?.Definition.Act)) is { } due ? Views.Of(due, machine) : null;
        var other = (Kind, Step, Drill, Unsaid) != (cue.Kind, cue.Step, cue.Drill, unsaid);
        (Kind, Step, Drill, Unsaid) = (cue.Kind, cue.Step, cue.Drill, unsaid);
        if (Act != act)
        {
            (Act, other) = (act, true);
        }

        other |= Keep(cue.Waiting, _waiting);
        other |= Keep(cue.Running, _running);
        return other | (next is not null && Keep(next, _next));
    }

    private static bool Keep<T>(IReadOnlyList<T> now, List<T> kept)
    {
        if (kept.SequenceEqual(now))
        {
            return false;
        }

        kept.Clear();
        kept.AddRange(now);
        return true;
    }
}
