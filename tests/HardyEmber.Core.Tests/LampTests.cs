using HardyEmber.Core.Definitions;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Lamps, their test and dead bulbs; the master caution and its stack; latches and inhibits.</summary>
public sealed class LampTests
{
    private static RunHeader At(string aircraft, params RunFault[] faults) => Situations.Calm with { Aircraft = aircraft, Faults = faults };

    private static Bench Sedge(params RunFault[] faults)
    {
        var bench = new Bench(At("sedge", faults)).Set("battery", "on").Set("ground-power", "on").Set("ask-cart", "asking");
        bench.Until("bus.main.live", 60);
        return bench.Run(1);
    }

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    [Theory]
    [MemberData(nameof(Types))]
    public void The_lamp_test_lights_every_fed_lamp_but_spares(string aircraft)
    {
        var bench = new Bench(At(aircraft)).Set("battery", "on");
        if (bench.Machine.Aircraft.Controls.Any(c => c.Id == "ground-power"))
        {
            bench.Set("ground-power", "on").Set("ask-cart", "asking");
            bench.Until("source.cart.good", 60);
        }

        bench.Run(1).Hold("lamp-test", "pressed").Run(0.5);
        foreach (var lamp in bench.Machine.Aircraft.Lamps)
        {
            var expected = !lamp.Spare && bench[$"bus.{lamp.Bus}.live"] > 0.5;
            Assert.True(expected == bench[$"lamp.{lamp.Id}"] > 0.5, $"{aircraft} {lamp.Id}");
        }

        Assert.Contains(bench.Machine.Aircraft.Lamps, l => l.Spare);
    }

    [Fact]
    public void A_dead_bulb_stays_dark_in_the_test_and_hides_its_caution()
    {
        var bench = Sedge(new RunFault("dead-bulb", Item: "oil"));
        Assert.Equal(0, bench["lamp.oil"]);
        Assert.True(bench["stack.oil"] > 0.5); // the system knows; the eye does not
        bench.Hold("lamp-test", "pressed").Run(1);
        Assert.Equal(0, bench["lamp.oil"]);
        Assert.Equal(1, bench["lamp.fire"]);
    }

    [Fact]
    public void Acknowledging_arms_the_master_again_for_the_next()
    {
        var bench = Sedge();
        Assert.Equal(1, bench["caution.master"]);
        Press(bench);
        Assert.Equal(0, bench["caution.master"]);
        var calls = bench["caution.calls"];
        bench.Set("inverter-instrument", "on").Run(1).Set("inverter-instrument", "off").Run(1);
        Assert.Equal(1, bench["caution.master"]);
        Assert.Equal(calls + 1, bench["caution.calls"]);
        Assert.Equal("gauges-blind", bench.Machine.Aircraft.Lamps[(int)bench["caution.caller"] - 1].Id);
        Assert.True(bench["caution.unacknowledged"] > 0.5);
    }

    private static void Press(Bench bench) => bench.Hold("acknowledge", "pressed").Run(0.3).Release("acknowledge").Run(0.3);

    [Fact]
    public void A_caution_that_goes_leaves_its_gap_until_the_stack_is_restacked()
    {
        var bench = Sedge();
        Press(bench);
        var order = Order(bench);
        Assert.True(order.Count >= 4);
        bench.Set("inverter-instrument", "on").Run(1);
        Assert.Equal(order, Order(bench)); // the gap stays
        Press(bench);
        Assert.Equal(order.Where(l => l != "gauges-blind"), Order(bench));
        Assert.Equal(Enumerable.Range(1, order.Count - 1).Select(i => (double)i), Order(bench).Select(l => bench[$"stack.{l}"]));
    }

    private static List<string> Order(Bench bench) =>
        [.. bench.Machine.Aircraft.Lamps.Where(l => l.Class is "caution" or "warning" && bench[$"stack.{l.Id}"] > 0.5).OrderBy(l => bench[$"stack.{l.Id}"]).Select(l => l.Id)];

    [Fact]
    public void An_inhibited_lamp_lights_and_calls_nobody()
    {
        var bench = Sedge();
        Press(bench);
        var calls = bench["caution.calls"];
        bench.Hold("fire-test", "pressed").Run(0.8);
        Assert.Equal(1, bench["lamp.fire"]);
        Assert.Equal(calls, bench["caution.calls"]);
    }

    [Fact]
    public void A_latched_lamp_stays_until_it_is_reset()
    {
        var latched = Repository.Fleet.FindAircraft("sedge").Lamps.First(l => l.LatchedUntil is not null);
        Assert.Equal("warning-latch", latched.Id);
        var bench = Sedge(new RunFault("loop-a-short", Level: 1));
        Assert.Equal(1, bench["lamp.warning-latch"]);
        Press(bench);
        Assert.Equal(1, bench["lamp.warning-latch"]); // its cause still stands
    }

    [Fact]
    public void A_warning_calls_by_its_own_name()
    {
        var bench = new Bench(At("juniper", new RunFault("inner-line-short", Level: 2, At: 4))).Set("battery", "on").Run(3);
        Press(bench);
        bench.UntilAtLeast("caution.calls", bench["caution.calls"] + 1, 5);
        Assert.Equal(1, bench["caution.master"]);
        Assert.Equal("fire-right-core", bench.Machine.Aircraft.Lamps[(int)bench["caution.caller"] - 1].Id);
    }
}
