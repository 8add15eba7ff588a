using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Energy has an end on every type: battery, attempts, generators and starters, each against what it foretells.</summary>
public sealed class EnergyTests
{
    private static RunHeader At(string aircraft, double oatC = 15) =>
        Situations.Calm with { Aircraft = aircraft, Conditions = new RunConditions(oatC, 0, 0, PressureAltitudeFt: 0) };

    /// <summary>The table of docs/models/electrics.md.</summary>
    [Theory]
    [InlineData("juniper", 14, 2)]
    [InlineData("bramble", 9, 2)]
    [InlineData("alder", 11, 4)]
    [InlineData("tansy", 10, 3)]
    [InlineData("teasel", 16, 3)]
    [InlineData("burdock", 15, 4)]
    public void A_full_battery_lasts_so_many_minutes_with_what_the_procedure_has_on(string aircraft, double minutes, int attempts)
    {
        var warm = EnergyOf.ToTheFirstStart(aircraft, 15);
        Assert.InRange(warm.LastsS / 60, 0.9 * minutes, 1.1 * minutes);
        Assert.Equal(attempts, warm.Attempts);
        Assert.InRange(warm.FullLastsS(-30) / warm.LastsS, 0.45, 0.55);
    }

    [Fact]
    public void Sedges_carries_its_radio_for_forty_minutes_and_all_that_hangs_beside_it_for_six()
    {
        var bench = new Bench(At("sedge")).Set("battery", "on").Set("radio", "on").Run(60);
        Assert.InRange(bench["battery.left"] / 60, 30, 44); // a parked jet's battery is not quite full
        bench.Set("fuel-cock", "open").Set("boost-pump", "on").Set("outside-lights", "on").Set("anti-collision", "on").Run(2);
        Assert.InRange(bench["battery.left"] / 60, 4.4, 6.6);
    }

    [Fact]
    public void The_cold_takes_attempts()
    {
        Assert.Equal(2, EnergyOf.ToTheFirstStart("alder", -30).Attempts);
        // Teasel's one attempt is not spent without a cart: as far as the crew's word.
        var rehearsal = new Rehearsal(Repository.Fleet, At("teasel", -30));
        var m = rehearsal.Machine;
        _ = new ScriptedPilot(rehearsal, new PilotTraits(Forgets: ["ask-cart", "cart-on"])).FlyUntil(() => m.Time > 200 || m["crew.start-left"] + m["crew.start-right"] > 0.5);
        Assert.Equal(1, m["start.attempts"]);
    }

    /// <summary>Left alone with what is on before the first start: the forecast is when it falls out.</summary>
    [Theory]
    [InlineData("juniper", 15)]
    [InlineData("bramble", 15)]
    [InlineData("alder", -30)]
    [InlineData("tansy", 15)]
    [InlineData("teasel", 15)]
    [InlineData("burdock", 15)]
    public void The_seconds_left_come_true(string aircraft, double oatC)
    {
        var m = EnergyOf.ShortOfTheFirstStart(aircraft, oatC);
        var (forecast, from) = (m["battery.left"], m.Time);
        Assert.InRange(forecast, 60, 1200);
        while (m["battery.holds"] > 0.5 && m.Time < 3000)
        {
            m.Step();
        }

        Assert.InRange(m.Time - from, 0.95 * forecast, 1.05 * forecast);
    }

    [Theory]
    [InlineData("juniper")]
    [InlineData("bramble")]
    [InlineData("alder")]
    [InlineData("tansy")]
    [InlineData("teasel")]
    [InlineData("sedge")]
    [InlineData("burdock")]
    public void One_generator_carries_a_start_and_not_everything(string aircraft)
    {
        var flown = EnergyOf.Fly(aircraft, 15);
        Assert.InRange(flown.MostAlone, 0.7, 0.92);
        Assert.InRange(flown.EverythingOn, 1.1, 1.31);
        Assert.True(flown.MostShared < flown.MostAlone);
        Assert.Equal(0, flown.Machine.Signals.Find("electrics.shed") is { } shed ? flown.Machine.Signals.Values[shed.Index] : 0);
    }

    // By the guide until the first generator has worked for a while, then with all switches on that a load hangs on.
    private static HandFlown AllOnOneGenerator(string aircraft, params (string Control, string To)[] on)
    {
        var first = Repository.Fleet.FindAircraft(aircraft).Engines[0].Id;
        var flown = new HandFlown(At(aircraft)).Until(c => c[$"{first}.generator"] > 0.5).Run(10);
        foreach (var (control, to) in on)
        {
            _ = flown.Set(control, to);
        }

        return flown.Run(1);
    }

    private static readonly (string, string)[] Tansys = [("anti-ice", "on"), ("taxi-light", "on"), ("probe-one", "on"), ("probe-two", "on"), ("tip-tanks", "on")];

    [Fact]
    public void An_overloaded_generator_sags_and_trips_and_is_reset_by_its_switch()
    {
        var flown = AllOnOneGenerator("tansy", Tansys);
        var load = flown["main.generator-load"];
        Assert.InRange(load, 104, 135);
        Assert.Equal(28 * (1 - 0.4 * (load / 100 - 1)), flown["bus.main"], 0.2);
        var (foretold, from) = (flown["main.generator-left"], flown.Machine.Time);
        while (flown["main.generator-tripped"] < 0.5 && flown.Machine.Time < from + 300)
        {
            _ = flown.Run(0.2);
        }

        Assert.InRange(flown.Machine.Time - from, 0.85 * foretold, 1.15 * foretold + 1);
        _ = flown.Run(0.4);
        Assert.Equal((0, 1), (flown["main.generator"], flown["bus.main.live"])); // the battery carries it now
        _ = flown.Set("anti-ice", "off").Set("taxi-light", "off").Set("probe-two", "off").Run(1);
        Assert.Equal(0, flown["main.generator"]);
        Assert.Equal((1, 0), (flown.Set("generator", "off").Run(0.4).Set("generator", "on").Run(1)["main.generator"], flown["main.generator-tripped"]));
        Assert.Contains(flown.Report.Findings, f => f.Code == "generator-tripped");
        Assert.Contains(flown.Report.Findings, f => f.Code == "generator-overloaded");
    }

    [Fact]
    public void Loads_are_shed_in_the_order_of_the_file_and_come_back_when_there_is_room()
    {
        var flown = AllOnOneGenerator("juniper", ("radar", "on"), ("sensors", "on"), ("jammer", "on"), ("taxi-light", "on"), ("displays", "on"), ("central-display", "on"),
            ("warning-receiver", "on"), ("head-up", "night"), ("dispenser", "standby"), ("oxygen", "on"), ("inertial", "field"), ("helmet-sight", "on"));
        Assert.True(flown["right.generator-over"] > 0.5, $"{flown["right.generator-load"]} %");
        var order = flown.Machine.Aircraft.Electrics.Shed!.Order;
        _ = flown.Run(30);
        var shed = (int)flown["electrics.shed"];
        Assert.InRange(shed, 1, order.Count);
        Assert.All(order.Select((id, i) => (id, i)), x => Assert.Equal(x.i < shed ? 1 : 0, flown[$"load.{x.id}.shed"]));
        Assert.Equal((0, 0), (flown["right.generator-over"], flown["right.generator-tripped"]));
        Assert.Equal(0, flown[$"load.{order[0]}"]);
        _ = flown.Set("radar", "off").Set("sensors", "off").Set("taxi-light", "off").Run(120);
        Assert.Equal((0, 1), (flown["electrics.shed"], flown[$"load.{order[0]}"]));
        Assert.Contains(flown.Report.Findings, f => f.Code == "loads-shed");
    }

    [Theory]
    [InlineData("alder")]
    [InlineData("teasel")]
    [InlineData("burdock")]
    public void Two_generators_on_one_bus_share(string aircraft)
    {
        var flown = new HandFlown(At(aircraft)).Until(c => c["left.generator"] > 0.5 && c["right.generator"] > 0.5).Run(20);
        Assert.InRange(flown["left.generator-load"], 20, 70);
        Assert.Equal(flown["left.generator-load"], flown["right.generator-load"], 1);
    }

    /// <summary>The battery gives what the generator has not to spare for the other starter; without it the generator is overloaded.</summary>
    [Fact]
    public void A_battery_helps_one_generator_to_turn_the_other_engine()
    {
        var helped = new HandFlown(At("teasel")).Until(c => c["right.generator"] + c["left.generator"] > 0.5 && c["right.starter-valve"] + c["left.starter-valve"] > 0.5).Run(2);
        var generator = helped["left.generator"] > 0.5 ? "left" : "right";
        Assert.InRange(helped[$"{generator}.generator-load"], 90, 101);
        Assert.True(helped["battery.amps"] > 20, $"{helped["battery.amps"]} A");
    }

    [Fact]
    public void A_starter_that_is_too_hot_lets_go_and_refuses_until_it_has_rested()
    {
        var duty = Repository.Fleet.FindAircraft("juniper").Engine.Starter.Duty!;
        var bench = new Bench(At("juniper")).Set("battery", "on").Set("aux-unit", "on");
        bench.Until("aux.ready", 60);
        Assert.Equal(3, bench["right.starter-tries"]);
        bench.Set("starter-air", "right").Run(duty.OnS - 1);
        Assert.Equal(1, bench["right.starter-valve"]);
        Assert.Equal(0, bench.Run(2)["right.starter-valve"]);
        Assert.Equal((1, 0), (bench["right.starter-hot"], bench["right.starter-tries"]));
        Assert.Equal(0, bench.Run(2 * duty.CoolS)["right.starter-valve"]); // still asked for: it wants to be asked anew
        Assert.Equal(1, bench.Set("starter-air", "shut").Run(0.4).Set("starter-air", "right").Run(1)["right.starter-valve"]);
    }

    [Fact]
    public void A_starter_says_how_long_it_has_to_rest()
    {
        var duty = Repository.Fleet.FindAircraft("juniper").Engine.Starter.Duty!;
        var bench = new Bench(At("juniper")).Set("battery", "on").Set("aux-unit", "on");
        bench.Until("aux.ready", 60);
        bench.Set("starter-air", "right").Run(duty.OnS + 1).Set("starter-air", "shut").Run(0.4);
        var rest = bench["right.starter-rest"];
        Assert.InRange(rest, 20, duty.CoolS);
        Assert.Equal(0, bench.Set("starter-air", "right").Run(0.4)["right.starter-valve"]);
        bench.Set("starter-air", "shut").Run(rest + 1);
        Assert.Equal(1, bench.Set("starter-air", "right").Run(0.4)["right.starter-valve"]);
    }
}
