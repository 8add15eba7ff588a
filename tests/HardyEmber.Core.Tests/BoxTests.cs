using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Boxes, keys and self-tests: what each needs, and that nothing is stuck when it is broken off.</summary>
public sealed class BoxTests
{
    public static TheoryData<string, string> HeldSteps => [.. Repository.Fleet.Aircraft.SelectMany(a =>
    {
        var header = Situations.Taught(a.Id);
        return ProcedureInForce.Of(Repository.Fleet.ProcedureFor(header), a, Repository.Fleet.FindPlace(header.Place), header).Steps
            .Where(s => s.Definition.Act.Hold is not null && s.HeldS > 1 && !s.Definition.Optional).Select(s => (a.Id, s.Id));
    })];

    private const double TickS = Steps.PerTick * Steps.Seconds;

    /// <summary>Flown by the cues until a step is due.</summary>
    private static (Rehearsal Rehearsal, ScriptedPilot Pilot, TrackedStep Step) Due(RunHeader header, string step)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        var pilot = new ScriptedPilot(rehearsal);
        Assert.False(pilot.FlyUntil(() => rehearsal.Tracker.Next() is { Kind: CueKind.Act, Step: { } now } && now.Id == step), $"{step} never came");
        return (rehearsal, pilot, rehearsal.Tracker.Find(step)!);
    }

    private static void Run(Rehearsal rehearsal, double seconds)
    {
        for (var until = rehearsal.Machine.Time + seconds; rehearsal.Machine.Time < until;)
        {
            rehearsal.Step();
        }
    }

    private static void Give(Rehearsal rehearsal, CommandKind kind, string control, string? to = null) =>
        rehearsal.Apply(new RunCommand(rehearsal.Machine.StepIndex, kind, control, to));

    /// <summary>Whatever is held and let go in its last tenth is not done, is not stuck, and is done by the next whole hold: every held step of every type.</summary>
    [Theory]
    [MemberData(nameof(HeldSteps))]
    public void A_hold_let_go_in_its_last_tenth_counts_for_nothing_and_can_be_held_again(string aircraft, string step)
    {
        var (rehearsal, pilot, held) = Due(Situations.Taught(aircraft), step);
        var holdS = rehearsal.Tracker.Procedure.Steps.First(s => s.Id == step).HeldS;
        var act = held.Definition.Act;
        Give(rehearsal, CommandKind.Hold, act.Hold!, act.To);
        Run(rehearsal, Math.Min(0.93 * holdS, holdS - TickS)); // time is told by ticks
        Assert.False(held.Done, $"{aircraft} {step} was done after nine tenths");
        Give(rehearsal, CommandKind.Release, act.Hold!);
        Run(rehearsal, 20); // an announcer has rewound by then
        Assert.False(held.Done);
        Assert.True(held.Needs.Holds(rehearsal.Machine.Signals.Values), $"{aircraft} {step} is stuck");
        Assert.True(pilot.FlyUntil(() => rehearsal.Machine.Time > 1800));
        Assert.Equal(Verdict.LaunchReady, rehearsal.Judge.Conclude().Verdict);
    }

    /// <summary>Power lost in the middle of a test of Juniper's throws it away, and with power back the guide finds the way out by itself.</summary>
    [Theory]
    [InlineData("control-reset")]
    [InlineData("control-test")]
    [InlineData("data-link")]
    [InlineData("identification-key")]
    [InlineData("take-off-trim")]
    public void Power_lost_in_the_middle_of_a_test_leaves_a_clear_state(string step)
    {
        var (rehearsal, pilot, held) = Due(Situations.Calm, step);
        Give(rehearsal, CommandKind.Hold, held.Definition.Act.Hold!, held.Definition.Act.To);
        Run(rehearsal, 0.5);
        Give(rehearsal, CommandKind.Set, "generator-right", "off");
        Give(rehearsal, CommandKind.Set, "generator-left", "off");
        Run(rehearsal, 8);
        Assert.False(held.Done);
        Assert.NotEmpty(new WillNotTake(rehearsal.Machine).For(held.Definition.Done.Split(' ')[0]).Effects.SelectMany(e => e.Chain));
        Give(rehearsal, CommandKind.Release, held.Definition.Act.Hold!);
        Give(rehearsal, CommandKind.Set, "generator-right", "on");
        Give(rehearsal, CommandKind.Set, "generator-left", "on");
        Assert.True(pilot.FlyUntil(() => rehearsal.Machine.Time > 1800));
        Assert.NotEqual(Verdict.NotReady, rehearsal.Judge.Conclude().Verdict);
        Assert.True(held.Done);
    }

    /// <summary>Receiver before dispenser before jammer, oxygen after cabin air, the page after the self-test has been stopped: why says which.</summary>
    [Theory]
    [InlineData("jammer", "standby", "box.jammer.ready", "warning-receiver")]
    [InlineData("dispenser", "standby", "box.dispenser.ready", "warning-receiver")]
    [InlineData("display-page", "controls", "controls-page.shown", "test-stop")]
    [InlineData("oxygen", "on", "box.oxygen.ready", "bleed-right")]
    public void What_a_box_waits_for_is_named(string control, string to, string gives, string cures)
    {
        var bench = Bench.WithRightRunning(Situations.Calm).Set("bleed-right", "shut").Set("displays", "on").Run(40).Set(control, to).Run(90);
        Assert.Equal(0, bench[gives]);
        var why = new WillNotTake(bench.Machine).For(control).Effects.SelectMany(e => e.Chain).ToList();
        Assert.Contains(cures, why.Select(u => u.Cure?.Control).Concat(why.Select(u => u.Signal)));
    }

    /// <summary>Attitude hold springs back until navigate, source and channels are there, and says which is missing.</summary>
    [Fact]
    public void Attitude_hold_refuses_with_its_chain_of_reasons()
    {
        var (rehearsal, pilot, _) = Due(Situations.Calm with { Aircraft = "alder" }, "navigate");
        Give(rehearsal, CommandKind.Set, "attitude-hold", "on");
        Run(rehearsal, 0.5);
        Assert.Equal(0, rehearsal.Machine["attitude-hold"]);
        var reasons = new WillNotTake(rehearsal.Machine).For("attitude-hold").Effects.SelectMany(e => e.Chain).Select(u => u.Signal).ToHashSet();
        Assert.Superset(new HashSet<string> { "ins.navigating", "source" }, reasons);
        Assert.DoesNotContain("task.channels", reasons); // they had been reset by then
        Assert.True(pilot.FlyUntil(() => rehearsal.Machine.Time > 1800));
        Assert.Equal(1, rehearsal.Machine["attitude-hold"]);
        Assert.Equal(["out-of-order"], rehearsal.Judge.Conclude().Findings.Where(f => f.Severity >= Severity.Caution).Select(f => f.Code).Distinct()); // the early try is told
    }

    /// <summary>The cartridge's load and the fire-control test, each broken off by a power break: nothing is stuck, and the guide asks for them again.</summary>
    [Theory]
    [InlineData("alder", "data-load", "interface", "cartridge.loaded")]
    [InlineData("alder", "fire-control", "interface", "fire-control.passed")]
    [InlineData("bramble", "data-load", "stores", "cartridge.loaded")]
    public void A_load_that_loses_its_power_begins_again(string aircraft, string step, string box, string gives)
    {
        var (rehearsal, pilot, held) = Due(Situations.Calm with { Aircraft = aircraft }, step);
        Give(rehearsal, CommandKind.Hold, held.Definition.Act.Hold!, "pressed");
        Run(rehearsal, 5);
        Give(rehearsal, CommandKind.Release, held.Definition.Act.Hold!);
        Give(rehearsal, CommandKind.Set, box, "off");
        Run(rehearsal, 3);
        Give(rehearsal, CommandKind.Set, box, "on");
        Run(rehearsal, 40);
        Assert.Equal(0, rehearsal.Machine[gives]);
        Assert.True(pilot.FlyUntil(() => rehearsal.Machine.Time > 1800));
        Assert.Equal(1, rehearsal.Machine[gives]);
        Assert.NotEqual(Verdict.NotReady, rehearsal.Judge.Conclude().Verdict);
    }

    /// <summary>Which of Juniper's boxes heat the bay, so that all of them on without cooling trip it, and with cooling do not.</summary>
    [Fact]
    public void All_boxes_on_without_cooling_trip_and_with_it_do_not()
    {
        Bench All(string cooling)
        {
            var bench = Bench.WithRightRunning(Situations.Calm);
            bench.Set("bleed-right", "shut").Set("bleed-right", "open").Set("cooling", cooling);
            foreach (var (control, to) in new[] { ("displays", "on"), ("central-display", "on"), ("head-up", "day"), ("radar", "standby"), ("sensors", "standby"), ("warning-receiver", "on"), ("dispenser", "standby"), ("jammer", "standby") })
            {
                bench.Set(control, to);
            }

            return bench.Run(420);
        }

        Assert.Equal((1, 0), (All("off")["cabinet.tripped"], All("on")["cabinet.tripped"]));
    }
}
