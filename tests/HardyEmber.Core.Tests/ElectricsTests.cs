using HardyEmber.Core.Definitions;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Battery against hand-computed cases; who feeds whom, and what falls when a source is lost.</summary>
public sealed class ElectricsTests
{
    private static readonly BatteryDefinition Cell = new(24, 38, 0.02, 30, 18, 900, 20);

    private static RunHeader At(string aircraft, double oatC = 15, params RunFault[] faults) =>
        Situations.Calm with { Aircraft = aircraft, Conditions = new RunConditions(oatC, 0, 0, PressureAltitudeFt: 0), Faults = faults };

    [Theory]
    [InlineData(25, 0.05, 1000, 22.8078)] // V² − 25 V + 50 = 0: (25 + √(625 − 200)) / 2 = (25 + 20.6155) / 2
    [InlineData(24, 0.02, 2000, 22.1980)] // V² − 24 V + 40 = 0: (24 + √(576 − 160)) / 2 = (24 + 20.3961) / 2
    [InlineData(25, 0.05, 0, 25)]
    [InlineData(25, 0.05, 3125, 12.5)] // the most it can give: 25² / (4 · 0.05) = 3 125 W, at half the voltage
    [InlineData(25, 0.05, 4000, 0)] // more than that
    public void Volts_under_a_constant_load_solve_the_quadratic(double ocv, double ohm, double watts, double volts) =>
        Assert.Equal(volts, Battery.VoltageUnderLoad(ocv, ohm, watts), 4);

    [Theory]
    [InlineData(20, 38)] // full
    [InlineData(-30, 22.8)] // 38 · (1 − 0.4 · 50 / 50) = 38 · 0.6
    [InlineData(-5, 30.4)] // 38 · (1 − 0.4 · 25 / 50) = 38 · 0.8
    public void Cold_takes_capacity(double celsius, double ampereHours) => Assert.Equal(ampereHours, Battery.CapacityAh(Cell, celsius), 6);

    /// <summary>Whoever waits for the last attempt must not see it gone late: an estimate passes over waits, but not over this.</summary>
    [Theory]
    [InlineData(15)]
    [InlineData(30)]
    public void An_estimate_sees_an_attempt_lost_when_a_run_does(double celsius)
    {
        var (fine, coarse) = (Losses(celsius, coarse: false), Losses(celsius, coarse: true));
        Assert.NotEmpty(fine);
        Assert.Equal(fine.Count, coarse.Count);
        Assert.All(fine.Zip(coarse), pair => Assert.InRange(pair.Second - pair.First, -2.5, 2.5));
    }

    // When each attempt is lost by a battery that carries what its switches ask for, s.
    private static List<double> Losses(double celsius, bool coarse)
    {
        var m = Repository.Fleet.Build(At("teasel", celsius), coarse);
        foreach (var control in new[] { "battery", "avionics-one", "avionics-two", "radio", "outside-lights", "anti-collision" })
        {
            m.Apply(new RunCommand(0, CommandKind.Set, control, "on"));
        }

        m.Step();
        var (losses, before) = (new List<double>(), m["battery.attempts"]);
        while (m["battery.attempts"] > 0 && m.Time < 20_000)
        {
            m.PassOver(m.StepIndex + 10_000);
            m.Step();
            if (m["battery.attempts"] < before)
            {
                losses.Add(m.Time);
            }

            before = m["battery.attempts"];
        }

        return losses;
    }

    [Fact]
    public void Cold_raises_the_resistance_two_and_a_half_times_at_minus_30()
    {
        Assert.Equal(0.02, Battery.ResistanceOhm(Cell, 20, 1), 6);
        Assert.Equal(0.02 * 2.5, Battery.ResistanceOhm(Cell, -30, 1), 3); // e^(50 / 54.6) = 2.499
        Assert.Equal(0.02 * 1.8, Battery.ResistanceOhm(Cell, 20, 0), 6); // flat: 1 + 0.8
        Assert.Equal(0.04, Battery.ResistanceOhm(Cell, 20, 1, 0.5), 6); // half worn
    }

    [Fact]
    public void Open_circuit_volts_follow_the_charge_and_fall_off_a_cliff()
    {
        Assert.Equal(25.68, Battery.OpenCircuitV(Cell, 1), 6); // 24 · (0.95 + 0.12)
        Assert.Equal(24.24, Battery.OpenCircuitV(Cell, 0.5), 6); // 24 · (0.95 + 0.06)
        Assert.True(Battery.OpenCircuitV(Cell, 0.02) < 0.85 * Battery.OpenCircuitV(Cell, 0.1));
    }

    [Fact]
    public void A_contactor_that_fell_out_closes_only_when_its_switch_is_worked()
    {
        var bench = new Bench(At("juniper", -35, new RunFault("weak-battery", Level: 0.1))).Set("battery", "on").Run(30);
        Assert.Equal(0, bench["battery.holds"]);
        bench.Set("battery", "off").Run(1);
        Assert.Equal(1, bench["battery.holds"]);
        bench.Set("battery", "on").Run(1);
        Assert.Equal(0, bench["battery.holds"]);
    }

    [Fact]
    public void A_generator_goes_before_the_cart_and_the_cart_before_the_battery()
    {
        var bench = new Bench(At("tansy")).Set("battery", "on").Run(1);
        var order = bench.Machine.Aircraft.Electrics.Buses.First(b => b.Id == "main").Feeds.Select(f => f.From).ToList();
        Assert.Equal(["gen.main", "source.cart", "battery"], order);
        Assert.Equal(order.IndexOf("battery") + 1, bench["bus.main.feed"]);
        bench.Set("ground-power", "on").Set("ask-cart", "asking");
        bench.Until("source.cart.good", 60);
        bench.Run(0.4);
        Assert.Equal(order.IndexOf("source.cart") + 1, bench["bus.main.feed"]);
        Assert.True(bench["battery.amps"] < 0.5);
        bench.Set("ask-cart-away", "asking");
        bench.Until("crew.cart-away", 60);
        bench.Run(0.4);
        Assert.Equal(order.IndexOf("battery") + 1, bench["bus.main.feed"]);
    }

    [Theory]
    [InlineData("cart-over-volts", 1.2)]
    [InlineData("cart-under-volts", 0.75)]
    public void The_socket_keeps_a_wrong_voltage_out(string fault, double perUnit)
    {
        var bench = new Bench(At("sedge", 15, new RunFault(fault, Item: "cart"))).Set("battery", "on").Set("ground-power", "on").Set("ask-cart", "asking");
        bench.Until("crew.cart", 60);
        bench.Run(1);
        Assert.Equal(28.5 * perUnit, bench["source.cart"], 0.5);
        Assert.Equal(0, bench["bus.main.live"]);
        Assert.Equal(1, bench["lamp.ground-power-bad"]);
    }

    [Fact]
    public void Gauges_are_blind_without_alternating_current()
    {
        var bench = new Bench(At("tansy")).Set("battery", "on").Run(1);
        Assert.Equal(1, bench["bus.main.live"]);
        Assert.Equal(0, bench["bus.instruments.live"]);
        Assert.Equal("instruments", bench.Machine.Aircraft.Gauges.First(g => g.Signal == "main.egt").Bus);
        bench.Set("inverter-two", "on").Run(1);
        Assert.Equal(1, bench["bus.instruments.live"]);
    }

    [Fact]
    public void One_inverter_takes_over_from_the_other_where_its_switch_is_off()
    {
        var bench = new Bench(At("tansy")).Set("battery", "on").Set("inverter-one", "on").Set("inverter-two", "on").Run(1);
        Assert.Equal(1, bench["bus.services.feed"]);
        bench.Set("inverter-two", "off").Run(1);
        Assert.Equal(2, bench["bus.services.feed"]);
        Assert.Equal(1, bench["bus.services.live"]);
    }

    [Fact]
    public void What_falls_without_a_source_is_what_falls()
    {
        var bench = new Bench(At("tansy")).Set("battery", "on").Set("inverter-one", "on").Set("radio", "on").Set("boost-pump", "on").Run(2);
        var drop = PowerPaths.WithoutSource(bench.Machine, "battery");
        Assert.Equal(["main", "instruments", "services"], drop.Buses);
        var powered = bench.Machine.Loads.Where(l => l.Powered).Select(l => l.Id).ToList();
        Assert.Equal(powered.Order(), drop.Loads.Select(l => l.Id).Order());
        Assert.Equal(drop.Loads.Select(l => l.AfterS).Order(), drop.Loads.Select(l => l.AfterS));
        bench.Set("battery", "off").Run(0.4);
        Assert.All(drop.Loads, l => Assert.Equal(0, bench[$"load.{l.Id}"]));
        Assert.Empty(PowerPaths.WithoutSource(bench.Machine, "source.cart").Buses);
        Assert.Throws<ArgumentException>(() => PowerPaths.WithoutSource(bench.Machine, "windmill"));
    }

    [Fact]
    public void A_starved_load_comes_back_a_little_above_where_it_left()
    {
        var tansy = Repository.Fleet.FindAircraft("tansy");
        var load = tansy.Electrics.Loads.First(l => l.Id == "boost-pump");
        var greedy = tansy with
        {
            Electrics = tansy.Electrics with
            {
                Loads = [.. tansy.Electrics.Loads.Where(l => l.Id != "boost-pump"), load with { MinV = 23 },
            new LoadDefinition("heater", "Heater", "main", 6000, "recorder is on")]
            }
        };
        var bench = new Bench(At("tansy"), greedy).Set("battery", "on").Set("boost-pump", "on").Run(1);
        Assert.Equal(1, bench["load.boost-pump"]);
        bench.Set("recorder", "on").Run(1);
        Assert.Equal(0, bench["load.boost-pump"]);
        bench.Set("recorder", "off").Run(1);
        Assert.True(bench["bus.main"] > 23 + 1.5);
        Assert.Equal(1, bench["load.boost-pump"]);
    }

    [Fact]
    public void A_generator_with_wrong_volts_is_refused()
    {
        var bench = new Bench(At("juniper", 15, new RunFault("generator-over-volts", "right"))).Set("battery", "on").Run(1);
        bench.Set("generator-right", "on").Set("aux-unit", "on");
        bench.Until("aux.ready", 60);
        bench.Set("starter-air", "right");
        bench.UntilAtLeast("right.n2", 21, 60);
        bench.Set("throttle-right", "idle");
        bench.UntilAtLeast("right.n2", 64, 90);
        bench.Run(2);
        Assert.Equal(0, bench["right.generator"]);
        Assert.Equal(1, bench["right.generator-refused"]);
    }

    [Fact]
    public void Nothing_is_lit_for_a_moment_while_contactors_settle()
    {
        // Everything left on, then the battery: the only cautions in the stack are those that burn.
        var bench = new Bench(At("tansy") with { Beginning = "turnaround", Seed = 8 }).Set("inverter-one", "on").Set("inverter-two", "on").Set("boost-pump", "on")
            .Set("battery", "on").Run(1);
        foreach (var lamp in bench.Machine.Aircraft.Lamps.Where(l => l.Class is "caution" or "warning"))
        {
            Assert.True(bench[$"lamp.{lamp.Id}"] > 0.5 == bench[$"stack.{lamp.Id}"] > 0.5, lamp.Id);
        }
    }
}
