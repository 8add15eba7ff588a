using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>A whole run: flown by the guide as far as a test wants it, then by the test's own hands. A machine without a procedure is a <see cref="Bench"/>.</summary>
internal sealed class HandFlown
{
    public HandFlown(RunHeader header)
    {
        Rehearsal = new Rehearsal(Repository.Fleet, header);
        Pilot = new ScriptedPilot(Rehearsal);
    }

    public Rehearsal Rehearsal { get; }

    public ScriptedPilot Pilot { get; }

    public Machine Machine => Rehearsal.Machine;

    public double this[string signal] => Machine[signal];

    /// <summary>The guide flies until it is so.</summary>
    public HandFlown Until(Func<HandFlown, bool> there)
    {
        Assert.False(Pilot.FlyUntil(() => there(this)), "the place in the start did not come");
        return this;
    }

    /// <summary>The guide flies until this step is the one to do.</summary>
    public HandFlown Due(string step) => Until(c => c.Rehearsal.Tracker.Next() is { Kind: CueKind.Act, Step: { } now } && now.Id == step);

    /// <summary>The guide flies to the end of the procedure.</summary>
    public Judgement GoOn(double withinS = 1800)
    {
        Assert.True(Pilot.FlyUntil(() => Machine.Time > withinS), $"not ended after {withinS} s");
        return Report;
    }

    public Judgement Report => Rehearsal.Conclude();

    public TrackedStep Step(string id) => Rehearsal.Tracker.Find(id)!;

    public HandFlown Run(double seconds)
    {
        for (var end = Machine.Time + seconds; Machine.Time < end - 1e-9;)
        {
            Rehearsal.Step();
        }

        return this;
    }

    public HandFlown Set(string control, string to) => Give(CommandKind.Set, control, to);

    public HandFlown Dial(string control, double to) => Give(CommandKind.Set, control, null, to);

    public HandFlown Hold(string control, string at) => Give(CommandKind.Hold, control, at);

    public HandFlown Hold(string control, string at, double seconds) => Hold(control, at).Run(seconds).Release(control);

    /// <summary>Does the act of a step for so long, with both hands where it takes them.</summary>
    public HandFlown Hold(TrackedStep step, double seconds) => Hold(step).Run(seconds).LetGo(step);

    public HandFlown Hold(TrackedStep step)
    {
        ActCommand.Of(step.Definition.Act, Machine).ToList().ForEach(Rehearsal.Apply);
        return this;
    }

    public HandFlown LetGo(TrackedStep step)
    {
        ActCommand.Of(step.Definition.Act, Machine).ToList().ForEach(c => Release(c.Target));
        return this;
    }

    public HandFlown Release(string control) => Give(CommandKind.Release, control);

    public HandFlown Look(string at) => Give(CommandKind.Look, at);

    public HandFlown ReportFault(string code) => Give(CommandKind.Report, code);

    private HandFlown Give(CommandKind kind, string control, string? to = null, double? number = null)
    {
        Rehearsal.Apply(new RunCommand(Machine.StepIndex, kind, control, to, number));
        return this;
    }
}
