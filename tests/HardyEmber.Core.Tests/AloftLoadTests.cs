using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>What is on in the air when an engine is lost: what one generator, or a battery alone, can carry, and what the guide does about it.</summary>
public sealed class AloftLoadTests
{
    private static RunHeader OtherIdles(RunHeader header) => header with { Flight = header.Flight! with { Other = RunFlight.IdleOther } };

    [Theory]
    [InlineData("juniper", "right", "left", "box-jammer")]
    [InlineData("alder", "left", "right", "pod-cooler")]
    [InlineData("burdock", "left", "right")]
    [InlineData("teasel", "left", "right")]
    public void What_one_generator_cannot_carry_is_taken_off(string type, string dead, string lives, params string[] shed)
    {
        var flown = new HandFlown(OtherIdles(Situations.Aloft(type)));
        Assert.Equal(dead, flown.Machine.Header.Flight!.Dead);
        flown.Run(2);
        Assert.Equal(shed.Length > 0, flown[$"{lives}.generator-load"] > 100);
        flown.Run(20);
        Assert.Equal(shed.Length, flown["electrics.shed"]);
        Assert.All(shed, load => Assert.Equal(1, flown[$"load.{load}.shed"]));
        Assert.InRange(flown[$"{lives}.generator-load"], 60, 100);
        Assert.Equal(0, flown[$"{lives}.generator-tripped"]);
        Assert.DoesNotContain(flown.Report.Findings, f => f.Code is "loads-shed" or "generator-overloaded");
    }

    [Theory]
    [InlineData("juniper", "jammer", "off")]
    [InlineData("alder", "pod", "standby")]
    public void On_the_way_home_on_one_what_was_shed_stays_off(string type, params string[] off)
    {
        var header = OtherIdles(Situations.Aloft(type, 14_000, ("method", "windmill")));
        var flown = new HandFlown(header with { Faults = [new RunFault("igniter-dead", header.Flight!.Dead)] });
        flown.Until(f => f["flight.holds"] > 0.5 && Enumerable.Range(0, off.Length / 2).All(i => At(f, off[2 * i]) == off[2 * i + 1]));
        Assert.Equal(1, flown["flight.airborne"]);
    }

    [Fact]
    public void A_battery_that_is_not_spared_does_not_turn_the_starter()
    {
        var header = Situations.Aloft("tansy", 25_000, ("method", "starter"));
        Assert.Equal(Verdict.LaunchReady, Flown(header).Verdict);
        var spent = Flown(header, "probe-one-spared", "probe-two-spared", "outside-lights-spared");
        Assert.Equal(Verdict.NotReady, spent.Verdict);
        Assert.Contains(spent.Findings, f => f.Code == "battery-flat");
    }

    [Fact]
    public void A_pod_left_on_without_bleed_air_cooks_its_bay()
    {
        var header = OtherIdles(Situations.Aloft("alder", 25_000, ("method", "starter")));
        Assert.DoesNotContain(Flown(header).Findings, f => f.Code == "bay-tripped");
        Assert.Contains(Flown(header, "pod-spared").Findings, f => f.Code == "bay-tripped");
    }

    private static RunHeader AtNight(string type) => Situations.Aloft(type) is var h ? h with { Conditions = h.Conditions with { Night = true } } : h;

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    [Theory, MemberData(nameof(Types))]
    public void At_night_nothing_is_read_without_a_light_of_its_own(string type)
    {
        var night = new HandFlown(AtNight(type)).Run(2);
        Assert.Equal(1, night["cockpit.lit"]);
        Assert.Contains(night.Machine.Gates, g => g.Signal == "cockpit.lit");
        night.Set("battery", "off").Run(6);
        Assert.Equal(0, night["cockpit.lit"]);
        Assert.Contains(night.Report.Findings, f => f.Code == "flown-dark" && f.What.StartsWith("For ", StringComparison.Ordinal));

        var day = new HandFlown(Situations.Aloft(type)).Run(2).Set("battery", "off").Run(6);
        Assert.Equal(1, day["cockpit.lit"]);
        Assert.DoesNotContain(day.Report.Findings, f => f.Code == "flown-dark");
    }

    [Fact]
    public void A_flood_light_is_there_when_the_lights_of_the_gauges_are_not()
    {
        var dark = new HandFlown(AtNight("alder")).Set("inverter", "off").Run(3);
        Assert.Equal(0, dark["cockpit.lit"]);
        Assert.Equal(1, dark.Set("flood-light", "on").Run(1)["cockpit.lit"]);
    }

    private static string At(HandFlown flown, string control) => flown.Machine.Aircraft.Controls.First(c => c.Id == control).Positions[(int)flown[control]];

    private static Judgement Flown(RunHeader header, params string[] forgets)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        _ = new ScriptedPilot(rehearsal, new PilotTraits(Forgets: [.. forgets])).Fly();
        return rehearsal.Conclude();
    }
}
