using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;
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

    /// <summary>Whatever is held and let go in its last tenth is not done, is not stuck, and is done by the next whole hold: every held step of every type.</summary>
    [Theory]
    [MemberData(nameof(HeldSteps))]
    public void A_hold_let_go_in_its_last_tenth_counts_for_nothing_and_can_be_held_again(string aircraft, string step)
    {
        var jet = new HandFlown(Situations.Taught(aircraft)).Due(step);
        var held = jet.Step(step);
        var holdS = jet.Rehearsal.Tracker.Procedure.Steps.First(s => s.Id == step).HeldS;
        jet.Hold(held);
        jet.Run(Math.Min(0.93 * holdS, holdS - TickS)); // time is told by ticks
        Assert.False(held.Done, $"{aircraft} {step} was done after nine tenths");
        jet.LetGo(held);
        jet.Run(20); // an announcer has rewound by then
        Assert.False(held.Done);
        Assert.True(held.Needs.Holds(jet.Machine.Signals.Values), $"{aircraft} {step} is stuck");
        _ = jet.GoOn();
        Assert.Equal(Verdict.LaunchReady, jet.Report.Verdict);
    }

    /// <summary>Power lost in the middle of a test of Juniper's throws it away, and with power back the guide finds the way out by itself.</summary>
    [Theory]
    [InlineData("control-reset")]
    [InlineData("control-test")]
    [InlineData("data-link")]
    [InlineData("stores-test")]
    [InlineData("take-off-trim")]
    public void Power_lost_in_the_middle_of_a_test_leaves_a_clear_state(string step)
    {
        var jet = new HandFlown(Situations.Calm).Due(step);
        var held = jet.Step(step);
        jet.Hold(held);
        jet.Run(0.5);
        jet.Set("generator-right", "off");
        jet.Set("generator-left", "off");
        jet.Run(8);
        Assert.False(held.Done);
        Assert.NotEmpty(new WillNotTake(jet.Machine).For(held.Definition.Done.Split(' ')[0]).Effects.SelectMany(e => e.Chain));
        jet.LetGo(held);
        jet.Set("generator-right", "on");
        jet.Set("generator-left", "on");
        _ = jet.GoOn();
        Assert.NotEqual(Verdict.NotReady, jet.Report.Verdict);
        Assert.True(held.Done);
    }

    /// <summary>Receiver before dispenser before jammer, oxygen after cabin air, all of it on Juniper: why says which.</summary>
    [Theory]
    [InlineData("jammer", "standby", "box.jammer.ready", "warning-receiver")]
    [InlineData("dispenser", "standby", "box.dispenser.ready", "warning-receiver")]
    [InlineData("oxygen", "on", "box.oxygen.ready", "bleed-right")]
    public void What_a_box_waits_for_is_named(string control, string to, string gives, string cures)
    {
        var bench = Bench.WithRightRunning(Situations.Calm).Set("bleed-right", "shut").Set("displays", "on").Run(40).Set(control, to).Run(90);
        Assert.Equal(0, bench[gives]);
        var why = new WillNotTake(bench.Machine).For(control).Effects.SelectMany(e => e.Chain).ToList();
        Assert.Contains(cures, why.Select(u => u.Cure?.Control).Concat(why.Select(u => u.Signal)));
    }

    /// <summary>Burdock's page of the flight controls comes after the displays' self-test was ended.</summary>
    [Fact]
    public void The_page_of_the_controls_waits_for_the_end_of_the_self_test()
    {
        var jet = new HandFlown(Situations.Calm with { Aircraft = "burdock" }).Due("test-end").Set("display-page", "controls").Run(10);
        Assert.Equal((1, 0), (jet["display-test.runs"], jet["controls-page.shown"]));
        Assert.Contains("test-end", new WillNotTake(jet.Machine).For("display-page").Effects.SelectMany(e => e.Chain).Select(u => u.Cure?.Control));
        jet.Hold("test-end", "pressed", 0.6);
        jet.Run(1);
        Assert.Equal((0, 1), (jet["display-test.runs"], jet["controls-page.shown"]));
    }

    /// <summary>Attitude hold springs back until navigate, source and the self-test are there, and says which is missing.</summary>
    [Fact]
    public void Attitude_hold_refuses_with_its_chain_of_reasons()
    {
        var jet = new HandFlown(Situations.Calm with { Aircraft = "bramble" }).Due("navigate");
        jet.Set("attitude-hold", "on");
        jet.Run(0.5);
        Assert.Equal(0, jet["attitude-hold"]);
        var reasons = new WillNotTake(jet.Machine).For("attitude-hold").Effects.SelectMany(e => e.Chain).Select(u => u.Signal).ToHashSet();
        Assert.Superset(new HashSet<string> { "ins.navigating", "source" }, reasons);
        Assert.DoesNotContain("task.control-test", reasons); // it had been passed by then
        _ = jet.GoOn();
        Assert.Equal(1, jet["attitude-hold"]);
        Assert.Equal(["out-of-order"], jet.Report.Findings.Where(f => f.Severity >= Severity.Caution).Select(f => f.Code).Distinct()); // the early try is told
    }

    /// <summary>The cartridge's load and the fire-control test, each broken off by a power break: nothing is stuck, and the guide asks for them again.</summary>
    [Theory]
    [InlineData("alder", "data-load", "interface", "cartridge.loaded")]
    [InlineData("bramble", "data-load", "stores", "cartridge.loaded")]
    public void A_load_that_loses_its_power_begins_again(string aircraft, string step, string box, string gives)
    {
        var jet = new HandFlown(Situations.Calm with { Aircraft = aircraft }).Due(step);
        var held = jet.Step(step);
        jet.Hold(held.Definition.Act.Hold!, "pressed");
        jet.Run(5);
        jet.Release(held.Definition.Act.Hold!);
        jet.Set(box, "off");
        jet.Run(3);
        jet.Set(box, "on");
        jet.Run(40);
        Assert.Equal(0, jet[gives]);
        _ = jet.GoOn();
        Assert.Equal(1, jet[gives]);
        Assert.NotEqual(Verdict.NotReady, jet.Report.Verdict);
    }

    /// <summary>Which of Juniper's boxes heat the bay, so that all of them on without cooling trip it, and with cooling do not.</summary>
    [Fact]
    public void All_boxes_on_without_cooling_trip_and_with_it_do_not()
    {
        Bench All(string cooling)
        {
            var bench = Bench.WithRightRunning(Situations.Calm);
            bench.Set("bleed-right", "shut").Set("bleed-right", "open").Set("cooling", cooling);
            foreach (var (control, to) in new[] { ("displays", "on"), ("central-display", "on"), ("head-up", "day"), ("radar", "standby"), ("sensors", "standby"),
                ("warning-receiver", "on"), ("dispenser", "standby"), ("jammer", "standby") })
            {
                bench.Set(control, to);
            }

            return bench.Run(420);
        }

        Assert.Equal((1, 0), (All("off")["cabinet.tripped"], All("on")["cabinet.tripped"]));
    }
}
