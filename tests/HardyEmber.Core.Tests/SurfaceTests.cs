using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Procedures;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>What moves outside, on every type: by stick and pedals, by levers, by pressure; cold fluid, outside checks, self-tests that fail.</summary>
public sealed class SurfaceTests
{
    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    public static TheoryData<string> SelfTested => ["bramble", "juniper"];

    private static RunHeader On(string type, double oatC, params RunFault[] faults) =>
        Situations.Calm with { Aircraft = type, Conditions = Situations.Calm.Conditions with { OatC = oatC }, Faults = faults };

    private static SurfacesDefinition Of(string type) => Repository.Fleet.FindAircraft(type).Surfaces!;

    private static Dictionary<string, (double Least, double Most)> Swept(HandFlown c, double seconds)
    {
        var seen = Of(c.Machine.Aircraft.Id).Items.ToDictionary(i => i.Id, i => (Least: c[$"surface.{i.Id}"], Most: c[$"surface.{i.Id}"]));
        c.Hold("control-sweep", "sweeping");
        for (var t = 0.0; t < seconds; t += 0.2)
        {
            c.Run(0.2);
            foreach (var id in seen.Keys.ToList())
            {
                var at = c[$"surface.{id}"];
                seen[id] = (Math.Min(seen[id].Least, at), Math.Max(seen[id].Most, at));
            }
        }

        c.Release("control-sweep");
        return seen;
    }

    /// <summary>Led round their corners, all that swings goes to both ends; ailerons go against each other, tailplanes together; let go, all stand in the middle.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void A_sweep_moves_all_that_swings_and_nothing_else(string type)
    {
        var c = new HandFlown(On(type, 15)).Due("control-sweep").Run(8); // the flaps are on their way
        var seen = Swept(c, 9);
        foreach (var i in Of(type).Items)
        {
            if (i.Axis is not null)
            {
                Assert.True(seen[i.Id].Least < -60 && seen[i.Id].Most > 60, $"{i.Id}: {seen[i.Id]}");
            }
            else
            {
                Assert.Equal(seen[i.Id].Least, seen[i.Id].Most);
            }
        }

        c.Run(6);
        Assert.All(Of(type).Items.Where(i => i.Axis is not null), i => Assert.Equal(0, c[$"surface.{i.Id}"], 1.0));
        Assert.Equal(0, c["surface.still"]);
        c.Hold("control-sweep", "sweeping");
        for (var t = 0; t < 30; t++)
        {
            c.Run(0.2);
            Assert.Equal(0, c["surface.aileron-left"] + c["surface.aileron-right"], 0.01);
            Assert.Equal(c["surface.tail-left"], c["surface.tail-right"], 0.01);
        }
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Without_pressure_nothing_moves(string type)
    {
        var c = new HandFlown(On(type, 15)).Run(1).Hold("control-sweep", "sweeping").Set("flaps", "full").Run(10);
        Assert.All(Of(type).Items.Where(i => i.Id != "trim"), i => Assert.Equal(0, c[$"surface.{i.Id}"]));
        Assert.Equal((0, 0), (c["task.control-sweep"], c["surface.still"]));
        Assert.Contains(new WillNotTake(c.Machine).For("task.control-sweep").Effects.SelectMany(e => e.Chain), u => u.Signal.EndsWith("hydraulics", StringComparison.Ordinal));
    }

    /// <summary>Flaps need their time, and more of it with stiff fluid.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void Flaps_take_their_time_and_longer_in_the_cold(string type)
    {
        double Takes(double oatC)
        {
            var c = new HandFlown(On(type, oatC)).Due("control-sweep").Set("flaps", "up").Run(30).Set("flaps", "full");
            var from = c.Machine.Time;
            while (c["surface.flap-left"] < 100)
            {
                Assert.True(c.Machine.Time < from + 60);
                c.Run(0.2);
            }

            return c.Machine.Time - from;
        }

        var (warm, cold) = (Takes(25), Takes(-31));
        Assert.Equal(Of(type).Items.First(i => i.Id == "flap-left").Seconds, warm, 0.5);
        Assert.InRange(cold, 1.2 * warm, 3.1 * warm);
    }

    /// <summary>A surface that stays where it was is seen in the sweep, on every one of every type, and to report it is right.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void A_surface_that_does_not_follow_is_seen_in_the_sweep(string type)
    {
        foreach (var i in Of(type).Items.Where(i => i.Axis is not null))
        {
            var c = new HandFlown(On(type, 15, new RunFault("surface-still", Item: i.Id))).Due("control-sweep");
            Assert.Equal(0, c["surface.still"]);
            var seen = Swept(c, 8);
            Assert.Equal(0, seen[i.Id].Most - seen[i.Id].Least);
            Assert.Equal(1, c["surface.still"]);
            c.ReportFault("surface-still");
            Assert.DoesNotContain(c.Report.Findings, f => f.Code == "fault-missed");
        }
    }

    /// <summary>By the book in deep cold too: the sweep is held until the fluid is warm, and the self-test passes.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void The_guide_sweeps_until_the_fluid_is_warm(string type)
    {
        var c = new HandFlown(On(type, -31)).Due("control-sweep");
        Assert.Equal(1, c["fluid.cold"]);
        Assert.Equal(Verdict.LaunchReady, c.GoOn().Verdict);
        Assert.Equal(0, c["fluid.cold"]);
    }

    [Theory]
    [MemberData(nameof(SelfTested))]
    public void Cold_fluid_fails_the_self_test_and_a_sweep_cures_it(string type)
    {
        var c = new HandFlown(On(type, -25)).Due("control-sweep");
        c.Hold("control-sweep", "sweeping", 5.4).Set("flaps", "half").Run(20);
        _ = type == "juniper" ? c.Hold("control-reset", "pressed", 2) : c;
        Assert.Equal((1, 1), (c["fluid.cold"], c["task.control-sweep"]));
        c.Hold(c.Step("control-test"), 14);
        Assert.Equal((0, 1), (c["task.control-test"], c["controls.failed-cold"]));
        c.Hold("control-sweep", "sweeping", 20).Run(5).Hold(c.Step("control-test"), 14);
        Assert.Equal((1, 0), (c["task.control-test"], c["controls.failed-cold"]));
    }

    /// <summary>What fails for nothing passes the second time; a sick channel fails each time, and is reported.</summary>
    [Theory]
    [MemberData(nameof(SelfTested))]
    public void A_repeat_clears_what_fails_for_nothing_and_nothing_else(string type)
    {
        var c = new HandFlown(On(type, 15, new RunFault("nuisance-test"))).Due("control-test");
        c.Hold(c.Step("control-test"), 14);
        Assert.Equal((0, 1), (c["task.control-test"], c["controls.failed-nuisance"]));
        c.Run(2).Hold(c.Step("control-test"), 14);
        Assert.Equal((1, 0), (c["task.control-test"], c["controls.failed-nuisance"]));
        Assert.Contains(c.Report.Findings, f => f.Code == "fault-answered");

        c = new HandFlown(On(type, 15, new RunFault("channel-sick"))).Due("control-test");
        c.Hold(c.Step("control-test"), 14);
        c.Run(2).Hold(c.Step("control-test"), 14);
        Assert.Equal((0, 1), (c["task.control-test"], c["controls.failed-channel"]));
        c.ReportFault("channel-sick");
        Assert.DoesNotContain(c.Report.Findings, f => f.Code == "fault-missed");
    }

    [Fact]
    public void A_trim_that_runs_away_is_stopped_by_its_cut_out()
    {
        var c = new HandFlown(On("alder", 15, new RunFault("trim-runaway", At: 200))).Until(x => x["surface.trim"] > 20);
        c.Set("trim-power", "cut").Run(1);
        var at = c["surface.trim"];
        Assert.InRange(at, 20, 60);
        Assert.Equal(at, c.Run(20)["surface.trim"]);
        Assert.Contains(c.Report.Findings, f => f.Code == "fault-answered");

        var late = new HandFlown(On("alder", 15, new RunFault("trim-runaway", At: 200))).Until(x => x["surface.trim"] > 20).Run(20);
        Assert.Equal(100, late["surface.trim"]);
    }

    /// <summary>Out, seen by the crew, in: half of it is no check.</summary>
    [Theory]
    [InlineData("speed-brake", "out", "in")]
    [InlineData("probe", "out", "in")]
    [InlineData("hook", "down", "up")]
    [InlineData("launch-bar", "down", "up")]
    public void What_goes_out_is_seen_out_and_seen_in(string part, string away, string back)
    {
        var c = new HandFlown(On("juniper", 15)).Due("control-sweep");
        c.Set(part, away).Run(0.6).Set(part, back).Run(8);
        Assert.Equal((0, 0), (c[$"task.{part}-seen"], c[$"task.{part}"]));
        c.Set(part, away).Run(9);
        Assert.Equal((1, 0), (c[$"task.{part}-seen"], c[$"task.{part}"]));
        c.Set(part, back).Run(9);
        Assert.Equal((1, 0.0), (c[$"task.{part}"], c[$"surface.{part}"]));
    }

    [Theory]
    [InlineData("juniper", "hook", "down")]
    [InlineData("juniper", "probe", "out")]
    [InlineData("sedge", "speed-brake", "out")]
    public void A_part_that_does_not_come_is_told_by_the_crew(string type, string part, string away)
    {
        var c = new HandFlown(On(type, 15, new RunFault("part-stuck", Item: part))).Due("control-sweep").Set(part, away).Run(3);
        Assert.Equal(0, c["part.still"]);
        c.Run(20);
        Assert.Equal((1, 0.0), (c["part.still"], c[$"surface.{part}"]));
        c.ReportFault("part-stuck");
        Assert.DoesNotContain(c.Report.Findings, f => f.Code == "fault-missed");
    }

    /// <summary>Folded wings: the ailerons stand still in the sweep, which is right; pedals that steer move no rudder.</summary>
    [Fact]
    public void With_folded_wings_the_ailerons_stand_still_and_that_is_right()
    {
        var c = new HandFlown(On("juniper", 15)).Due("control-sweep").Set("wing-fold", "folded").Set("steering", "on").Run(12);
        Assert.Equal(100, c["surface.wing-left"]);
        var seen = Swept(c, 8);
        Assert.Equal((0, 0), (seen["aileron-left"].Most, seen["rudder-right"].Most));
        Assert.True(seen["tail-left"].Most > 60);
        Assert.Equal(0, c["surface.still"]);
        Assert.Contains("the wings are folded", c.Report.Missing);
        seen = Swept(c.Set("wing-fold", "spread").Set("steering", "off").Run(12), 9);
        Assert.True(seen["aileron-left"].Most > 60 && seen["rudder-right"].Most > 60);
    }

    /// <summary>Much that moves at once draws the pressure down: more on one pump than on two.</summary>
    [Fact]
    public void Pressure_dips_while_much_moves_and_more_on_one_pump()
    {
        double Dip(string running)
        {
            var jet = new HandFlown(Situations.Calm).Until(c => running.Split(' ').All(e => c[$"{e}.n2"] > 64.5)).Run(20);
            var still = jet["right.hydraulics"];
            Assert.InRange(still, 3800, 4200);
            var lowest = still;
            _ = jet.Set("flaps", "half").Hold("control-sweep", "sweeping");
            for (var i = 0; i < 60; i++)
            {
                lowest = Math.Min(lowest, jet.Run(0.2)["right.hydraulics"]);
            }

            Assert.InRange(jet.Release("control-sweep").Run(15)["right.hydraulics"], still - 30, still + 30);
            return still - lowest;
        }

        var (one, two) = (Dip("right"), Dip("right left"));
        Assert.InRange(one, 200, 900);
        Assert.True(two < 0.8 * one, $"{two:0} against {one:0} psi");
    }
}
