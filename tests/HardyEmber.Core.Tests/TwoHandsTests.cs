using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>An act that takes both hands: one holds, the other presses.</summary>
public sealed class TwoHandsTests
{
    // The scripted pilot up to the step, hands still free.
    private static Rehearsal Due(string aircraft)
    {
        var run = new Rehearsal(Repository.Fleet, Situations.Taught(aircraft));
        Assert.False(new ScriptedPilot(run).FlyUntil(() => run.Tracker.Next() is { Kind: CueKind.Act, Step.Id: "channels" or "control-test" }));
        return run;
    }

    private static void Do(Rehearsal run, CommandKind kind, string control, string? position = null)
    {
        run.Apply(new RunCommand(run.Machine.StepIndex, kind, control, position));
        run.AdvanceTo(run.Machine.StepIndex + 50);
    }

    [Fact]
    public void One_hand_alone_does_nothing_and_is_told_what_the_other_is_for()
    {
        var run = Due("alder");
        Do(run, CommandKind.Hold, "control-reset", "pressed");
        Assert.Equal(0, run.Machine["task.channels.progress"]);
        Assert.Equal((CueKind.Act, "channels"), (run.Tracker.Next().Kind, run.Tracker.Next().Step!.Id)); // it is still to be done
        var cure = new WillNotTake(run.Machine).For("task.channels").Effects[0].Chain[0].Cure!;
        Assert.Equal(("hold", "channel-arm", "held"), (cure.Kind, cure.Control, cure.To));
        Do(run, CommandKind.Hold, "channel-arm", "held");
        Assert.True(run.Machine["task.channels.progress"] > 5);
        Assert.Equal(CueKind.Watch, run.Tracker.Next().Kind);
    }

    [Theory]
    [InlineData("channel-arm")]
    [InlineData("control-reset")]
    public void Either_hand_let_go_cuts_it_short(string letGo)
    {
        var run = Due("alder");
        ActCommand.Of(run.Tracker.Next().Step!.Definition.Act, run.Machine).ToList().ForEach(run.Apply);
        run.AdvanceTo(run.Machine.StepIndex + 60);
        Assert.True(run.Machine["task.channels.progress"] > 30);
        Do(run, CommandKind.Release, letGo);
        Assert.Equal(0, run.Machine["task.channels.progress"]);
        run.AdvanceTo(run.Machine.StepIndex + 1000);
        Assert.Equal(0, run.Machine["task.channels"]);
    }

    [Fact]
    public void Both_hands_held_to_the_end_prove_it()
    {
        var run = Due("alder");
        var acts = ActCommand.Of(run.Tracker.Next().Step!.Definition.Act, run.Machine);
        Assert.Equal(["channel-arm", "control-reset"], acts.Select(a => a.Target));
        acts.ToList().ForEach(run.Apply);
        run.AdvanceTo(run.Machine.StepIndex + 500);
        Assert.Equal(1, run.Machine["task.channels"]);
    }

    /// <summary>One hand does where the data ask for no other.</summary>
    [Fact]
    public void Bramble_needs_one_hand() => Assert.Equal(["control-test"],
        ActCommand.Of(Due("bramble").Tracker.Next().Step!.Definition.Act, Due("bramble").Machine).Select(a => a.Target));

    [Theory]
    [InlineData("battery")]
    [InlineData("no-such-control")]
    public void Another_hand_on_what_cannot_be_held_is_told(string with)
    {
        var files = Repository.FleetFiles().Select(f => f with { Text = f.Text.Replace("\"with\": \"channel-arm\"", $"\"with\": \"{with}\"", StringComparison.Ordinal) });
        var error = Assert.Throws<DataFaultException>(() => Fleet.Load(files));
        Assert.Contains($"\"{with}\" is no other control that can be held", error.Message, StringComparison.Ordinal);
    }
}
