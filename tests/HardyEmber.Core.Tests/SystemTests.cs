using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Hand-computed figures of the smaller systems.</summary>
public sealed class SystemTests
{
    [Theory]
    [InlineData(10_000, 0.6877)]
    [InlineData(20_000, 0.4595)]
    [InlineData(30_000, 0.2970)]
    public void The_atmosphere_matches_the_published_table(double ft, double delta) => Assert.Equal(delta, Atmosphere.PressureRatio(ft), 0.00005);

    [Theory]
    [InlineData(250, 10_000)]
    [InlineData(480, 30_000)]
    [InlineData(120, 0)]
    public void Calibrated_airspeed_and_mach_are_inverse(double knots, double ft)
    {
        var delta = Atmosphere.PressureRatio(ft);
        Assert.Equal(knots, Atmosphere.CalibratedKnots(Atmosphere.MachFromCalibrated(knots, delta), delta), 6);
    }

    [Theory]
    [InlineData(0, 0.038)]
    [InlineData(45, 0.054)]
    [InlineData(61.4, 0.080)]
    [InlineData(75, 0.147)]
    public void Heading_floor_grows_towards_the_pole(double latitude, double floorDeg) =>
        Assert.Equal(floorDeg, new Alignment(Repository.Fleet.FindAircraft("juniper").Inertial!, latitude, 15).FloorDeg, 0.0006);

    [Theory]
    [InlineData(34000, 4.0)]
    [InlineData(38500, 4.6)]
    [InlineData(46000, 6.5)]
    [InlineData(53000, 8.35)]
    [InlineData(60000, 8.9)]
    public void Trim_follows_the_weight_table(double grossLb, double degrees) =>
        Assert.Equal(degrees, CardNumbers.Interpolate(Repository.Fleet.FindAircraft("juniper").Numbers.Trim, grossLb), 9);

    [Fact]
    public void Speeds_scale_with_the_square_root_of_weight()
    {
        var fleet = Repository.Fleet;
        var card = CardNumbers.For(fleet.FindAircraft("juniper"), fleet.FindPlace("skerrow-main"), Situations.Calm with { Loading = new LoadingHeader(11200, 8500) });
        Assert.Equal(45000, card.GrossLb);
        Assert.Equal(Math.Round(136 * Math.Sqrt(45.0 / 38)), card.RotateKt);
        Assert.Equal(Math.Round(158 * Math.Sqrt(45.0 / 38)), card.LiftOffKt);
    }

    [Fact]
    public void Low_pressure_lifts_the_pressure_altitude()
    {
        Assert.Equal(0, Altimetry.PressureAltitudeFt(0, 1013.25), 6);
        Assert.InRange(Altimetry.PressureAltitudeFt(118, 987), 820, 860); // about 27.6 ft for each of 26.25 hPa
        Assert.InRange(Altimetry.QfeHpa(118, 987), 982.5, 983.5);
    }

    [Fact]
    public void The_auxiliary_unit_is_ready_when_its_data_say()
    {
        var bench = new Bench(Situations.Calm).Set("battery", "on").Run(1).Set("aux-unit", "on");
        var ready = bench.Until("aux.ready", 40);
        Assert.InRange(ready - bench.LastCommandS, 16, 18.5);
        bench.Run(20);
        Assert.InRange(bench["aux.gas"], 375, 395);
        Assert.True(bench["aux.accumulator"] > 2300);
    }

    [Fact]
    public void Alignment_takes_the_fleets_time_at_45_degrees_and_longer_near_the_pole()
    {
        var juniper = Repository.Fleet.FindAircraft("juniper").Inertial!;
        Assert.True(new Alignment(juniper, 61.4, 15).TauS > 1.4 * new Alignment(juniper, 45, 15).TauS);
        var hollow = Aligned(Situations.Calm with { Place = "tarn-hollow", Spot = "H1", Conditions = new RunConditions(15, 0, 0) });
        var skerrow = Aligned(Situations.Calm);
        Assert.InRange(hollow, 195, 215); // 47.6° N: a little longer than 3.3 minutes
        Assert.InRange(skerrow, 230, 275);
    }

    private static double Aligned(RunHeader header)
    {
        var bench = Bench.WithRightRunning(header).Set("inertial", "field");
        return bench.Until("ins.good", 400) - bench.LastCommandS;
    }

    [Fact]
    public void One_detent_too_far_throws_the_alignment_away()
    {
        var bench = Bench.WithRightRunning(Situations.Calm).Set("inertial", "field");
        bench.Until("ins.good", 400);
        bench.Set("inertial", "navigate").Run(1);
        Assert.Equal(1, bench["ins.navigating"]);
        bench.Set("inertial", "off").Run(1);
        Assert.Equal(1, bench["ins.lost"]);
        Assert.Equal(0, bench["ins.navigating"]);
    }

    [Fact]
    public void A_short_power_break_is_held_over_and_a_long_one_is_not()
    {
        var bench = Bench.WithRightRunning(Situations.Calm).Set("inertial", "field").Run(100);
        bench.Set("generator-right", "off").Run(1).Set("generator-right", "on").Run(2);
        Assert.Equal(0, bench["ins.lost"]);
        bench.Set("generator-right", "off").Run(3).Set("generator-right", "on").Run(2);
        Assert.Equal(1, bench["ins.lost"]);
    }

    /// <summary>A line is proved when its six places have lit and the gong has sounded; the tester charges between two lines and not by a power break.</summary>
    [Fact]
    public void A_held_fire_line_is_proved_and_its_tester_charges_before_the_next()
    {
        var bench = new Bench(Situations.Calm).Set("battery", "on").Run(1).Hold("fire-test", "inner");
        bench.Until("fire.zone-6", 30);
        Assert.Equal((0, 1), (bench["fire.inner-proved"], bench["fire.valve-shut"]));
        var proved = bench.Until("fire.inner-proved", 5) - bench.LastCommandS;
        Assert.InRange(proved, 9, 11); // six places of 1.5 s and the gong
        bench.Release("fire-test").Run(0.5).Set("battery", "off").Run(1).Set("battery", "on").Run(1).Hold("fire-test", "outer").Run(10);
        Assert.Equal((0, 0), (bench["fire.outer.state"], bench["fire.outer-proved"]));
        var waited = bench.Until("fire.charged", 30) - bench.LastCommandS;
        Assert.InRange(waited, 15, 35);
        bench.Until("fire.outer-proved", 15);
    }

    [Fact]
    public void A_fire_line_let_go_before_the_gong_proves_nothing()
    {
        var bench = new Bench(Situations.Calm).Set("battery", "on").Run(1).Hold("fire-test", "inner");
        bench.Until("fire.zone-6", 30);
        bench.Release("fire-test").Run(30);
        Assert.Equal(0, bench["fire.inner-proved"]);
    }

    [Fact]
    public void On_the_cart_the_fire_tester_charges_at_once()
    {
        var bench = new Bench(Situations.Calm).Set("battery", "on").Set("ground-power", "on").Set("ask-cart", "asking");
        bench.Until("bus.essential.live", 60);
        bench.Until("source.cart.good", 60);
        bench.Run(2).Hold("fire-test", "inner").Until("fire.inner-proved", 15);
        bench.Release("fire-test").Run(1).Hold("fire-test", "outer").Until("fire.outer-proved", 12);
    }

    /// <summary>A fire test shuts the auxiliary unit's fuel valve; only its reset opens it, and not while a line is under test.</summary>
    [Fact]
    public void A_fire_test_keeps_the_auxiliary_unit_without_fuel_until_its_reset()
    {
        var bench = new Bench(Situations.Calm).Set("battery", "on").Run(1).Hold("fire-test", "inner").Run(3).Hold("fuel-valve-reset", "pressed").Run(1);
        Assert.Equal(1, bench["fire.valve-shut"]);
        bench.Release("fuel-valve-reset").Release("fire-test").Run(1).Set("aux-unit", "on").Run(40);
        Assert.Equal(0, bench["aux.ready"]);
        bench.Set("aux-unit", "off").Hold("fuel-valve-reset", "pressed").Run(1).Release("fuel-valve-reset").Run(1);
        Assert.Equal(0, bench["fire.valve-shut"]);
    }

    /// <summary>By its own switch, shut and opened again with an engine running; nothing else frees it.</summary>
    [Fact]
    public void Latched_cabin_air_comes_free_by_its_own_switch_with_an_engine_running()
    {
        var dark = new Bench(Situations.Calm with { Aircraft = "burdock" }).Set("battery", "on").Run(1).Hold("fire-test", "pressed").Run(12).Release("fire-test").Run(1);
        Assert.Equal(1, Work(dark)["air.latched"]);
        var running = new Bench(Situations.AllRun("burdock")).Run(1).Hold("fire-test", "pressed").Run(12).Release("fire-test").Run(5);
        Assert.Equal((1, 0), (running["air.latched"], running["air.cabin"]));
        Assert.Equal((0, 1), (Work(running)["air.latched"], running["air.cabin"]));
    }

    private static Bench Work(Bench bench) => bench.Set("bleed", "shut").Run(1).Set("bleed", "open").Run(1);

    /// <summary>A valve passes the bleed of its own engine: with the right one running, the left one's brings nothing.</summary>
    [Fact]
    public void A_bleed_valve_passes_the_air_of_its_own_engine()
    {
        var bench = Bench.WithRightRunning(Situations.Calm).Run(1);
        Assert.Equal(1, bench["air.cabin"]);
        bench.Set("bleed-left", "shut").Run(1);
        Assert.Equal(1, bench["air.cabin"]);
        bench.Set("bleed-left", "open").Set("bleed-right", "shut").Run(1);
        Assert.Equal(0, bench["air.cabin"]);
    }

    [Fact]
    public void Boxes_cook_without_cooling_and_trip()
    {
        var hot = Situations.Calm with { Place = "dry-lantern", Spot = "L1", Conditions = new RunConditions(42, 0, 0) };
        var bench = Bench.WithRightRunning(hot).Set("displays", "on").Set("radar", "standby").Set("warning-receiver", "on");
        bench.Until("cabinet.tripped", 600);
        bench.Run(0.4);
        Assert.Equal(0, bench["box.displays.powered"]);
        bench.Set("cooling", "on").Run(200);
        Assert.Equal(1, bench["box.displays.ready"]);
    }

    [Fact]
    public void A_cold_weak_battery_sags_until_the_contactor_falls_out()
    {
        var cold = Situations.Calm with { Conditions = new RunConditions(-35, 0, 0), Faults = [new RunFault("weak-battery", Level: 0.1)] };
        var bench = new Bench(cold).Set("battery", "on").Run(2);
        Assert.Equal(0, bench["bus.essential.live"]);
        var sound = new Bench(Situations.Calm with { Conditions = new RunConditions(-35, 0, 0) }).Set("battery", "on").Run(2);
        Assert.Equal(1, sound["bus.essential.live"]);
        Assert.True(sound["battery.volts"] < new Bench(Situations.Calm).Set("battery", "on").Run(2)["battery.volts"]);
    }

    [Fact]
    public void An_auxiliary_generator_is_data_not_code()
    {
        var juniper = Repository.Fleet.FindAircraft("juniper");
        var variant = juniper with
        {
            AuxiliaryUnit = juniper.AuxiliaryUnit! with { GeneratorW = 12000, GeneratorSwitch = "aux-unit is on" },
            Electrics = juniper.Electrics with
            {
                Buses = [.. juniper.Electrics.Buses.Select(b => b.Id == "ac-right" ? b with { Feeds = [.. b.Feeds, new FeedDefinition("gen.aux")] } : b)],
            },
        };
        var bench = new Bench(Situations.Calm, variant).Set("battery", "on").Run(1).Set("aux-unit", "on");
        bench.Until("bus.ac-right.live", 40);
        Assert.Equal(115, bench["bus.ac-right"]);
        bench.Set("aux-unit", "off").Run(5);
        Assert.Equal(0, bench["bus.ac-right"]);
    }

    [Fact]
    public void From_25000_ft_a_windmill_restart_costs_the_height_the_design_says()
    {
        var bench = new Bench(Situations.Air).Set("throttle-right", "cut-off").Set("bleed-right", "shut").Dial("pitch", -25);
        var start = bench["flight.height"];
        bench.UntilAtLeast("flight.eas", 380, 120);
        Assert.InRange(start - bench["flight.height"], 8000 * 0.85, 8000 * 1.15);
        var fast = bench["flight.height"];
        bench.Set("throttle-right", "idle");
        bench.Until("right.lit", 10);
        bench.Run(2).Dial("pitch", -8);
        bench.UntilAtLeast("right.n2", 69, 90);
        Assert.InRange(fast - bench["flight.height"], 2500, 4500 * 1.15);
    }

    [Fact]
    public void Above_the_ceiling_or_too_slow_a_core_does_not_light()
    {
        var high = new Bench(Situations.Air with { Flight = new RunFlight(33000, 330, "right") }).Set("throttle-right", "cut-off").Run(1).Set("throttle-right", "idle").Run(6);
        Assert.Equal(0, high["right.lit"]);
        var slow = new Bench(Situations.Air with { Flight = new RunFlight(20000, 240, "right") }).Set("throttle-right", "cut-off").Run(1).Set("throttle-right", "idle").Run(6);
        Assert.Equal(0, slow["right.lit"]);
        var right = new Bench(Situations.Air with { Flight = new RunFlight(20000, 380, "right") }).Set("throttle-right", "cut-off").Run(1).Set("throttle-right", "idle").Run(6);
        Assert.Equal(1, right["right.lit"]);
    }
}
