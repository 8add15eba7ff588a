using HardyEmber.Core.Definitions;
using HardyEmber.Core.Runs;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Auxiliary unit and starter unit, accumulators and hand pumps, duty and failures.</summary>
public sealed class AuxiliaryTests
{
    private static RunHeader At(string aircraft, double oatC = 15, double ft = 0, params RunFault[] faults) =>
        Situations.Calm with { Aircraft = aircraft, Conditions = new RunConditions(oatC, 0, 0, PressureAltitudeFt: ft), Faults = faults };

    private static Bench Started(RunHeader header)
    {
        var bench = new Bench(header).Set("battery", "on").Run(1);
        return header.Aircraft == "tansy" ? bench.Set("boost-pump", "on").Run(0.5).Set("aux-unit", "on") : bench.Set("aux-unit", "on");
    }

    [Theory]
    [InlineData("juniper", 17)]
    [InlineData("tansy", 12)]
    public void It_is_ready_when_its_data_say_on_a_warm_day(string aircraft, double seconds)
    {
        var bench = Started(At(aircraft));
        Assert.InRange(bench.Until("aux.ready", 60) - bench.LastCommandS, 0.9 * seconds, 1.15 * seconds);
    }

    [Fact]
    public void An_electric_start_in_the_cold_is_slower_and_pulls_the_battery_down()
    {
        var warm = Started(At("tansy"));
        var cold = Started(At("tansy", -30));
        var volts = cold.Run(1)["battery.volts"];
        Assert.True(volts < warm.Run(1)["battery.volts"] - 1);
        Assert.True(cold.Until("aux.ready", 60) > warm.Until("aux.ready", 60));
    }

    [Fact]
    public void A_hydraulic_start_spends_its_accumulator_and_the_unit_fills_it_again()
    {
        var bench = new Bench(At("juniper")).Set("battery", "on").Run(1);
        var before = bench["aux.accumulator"];
        Assert.Equal(2, bench["aux.accumulator-starts"]);
        bench.Set("aux-unit", "on").Run(0.4);
        Assert.InRange(before - bench["aux.accumulator"], 450, 700);
        Assert.Equal(1, bench["aux.accumulator-starts"]);
        bench.Until("aux.ready", 60);
        bench.Run(60);
        Assert.True(bench["aux.accumulator"] > 2850);
        Assert.Equal(0, bench["lamp.accumulator"]);
    }

    [Fact]
    public void A_filled_accumulator_pays_for_two_starts_and_no_third()
    {
        var bench = Started(At("juniper")).Run(1);
        bench.Set("aux-unit", "off").Run(31).Set("aux-unit", "on").Run(1);
        Assert.Equal(1, bench["aux.running"]);
        Assert.Equal(1, bench["lamp.accumulator"]);
        Assert.Equal(0, bench["aux.accumulator-starts"]);
        bench.Set("aux-unit", "off").Run(31).Set("aux-unit", "on").Run(1);
        Assert.Equal(0, bench["aux.running"]);
    }

    [Fact]
    public void The_hand_pump_takes_its_time_from_the_mark_to_full()
    {
        var juniper = Repository.Fleet.FindAircraft("juniper");
        var store = juniper.AuxiliaryUnit!.Accumulator!;
        var bench = Started(At("juniper")).Run(0.4).Set("aux-unit", "off").Run(31).Set("aux-unit", "on").Run(0.4).Set("aux-unit", "off").Run(1).Hold("hand-pump", "start");
        bench.UntilAtLeast("aux.accumulator", store.MinPsi, 200);
        var from = bench.Machine.Time;
        bench.UntilAtLeast("aux.accumulator", store.FullPsi - 20, 300);
        Assert.InRange(bench.Machine.Time - from, 0.85 * store.PumpS, 1.15 * store.PumpS);
    }

    [Fact]
    public void Brake_strokes_spend_the_brake_accumulator_and_cold_has_less()
    {
        var bench = new Bench(At("juniper")).Run(0.2);
        var full = bench["brake.psi"];
        Assert.True(new Bench(At("juniper", -35))["brake.psi"] < full - 100);
        bench.Set("parking-brake", "off").Set("parking-brake", "set");
        Assert.InRange(full - bench["brake.psi"], 200, 420);
        for (var i = 0; i < 20; i++)
        {
            bench.Set("parking-brake", "off").Set("parking-brake", "set");
        }

        Assert.Equal(1, bench["brake.psi-low"]);
        Assert.Equal(0, bench.Run(0.4)["brake.holding"]);
    }

    [Fact]
    public void Its_duty_allows_so_many_starts_with_a_rest_after_each()
    {
        var duty = Repository.Fleet.FindAircraft("tansy").AuxiliaryUnit!.Duty;
        var bench = Started(At("tansy"));
        for (var i = 1; i <= duty.Starts; i++)
        {
            bench.Run(3);
            Assert.Equal(1, bench["aux.running"]);
            Assert.Equal(duty.Starts - i, bench["aux.tries"]);
            bench.Set("aux-unit", "off").Run(0.4);
            Assert.InRange(bench["aux.cooling"], (i < duty.Starts ? duty.BetweenS : duty.CoolS) - 2, i < duty.Starts ? duty.BetweenS : duty.CoolS);
            bench.Set("aux-unit", "on").Run(1);
            Assert.Equal(0, bench["aux.running"]); // too soon
            bench.Set("aux-unit", "off").Run(bench["aux.cooling"] + 1).Set("aux-unit", "on");
        }

        Assert.Equal(duty.Starts - 1, bench.Run(1)["aux.tries"]); // the long rest gave all back, and one is spent again
    }

    [Theory]
    [InlineData("aux-hot", "aux.hot", 1)]
    [InlineData("aux-no-light", "aux.no-light", 1)]
    [InlineData("aux-shaft", "aux.tripped", 1)]
    [InlineData("aux-door", "aux.no-rotation", 1)]
    [InlineData("aux-slow", "aux.late", 1)]
    public void Each_failure_shows_its_sign(string fault, string sign, double value)
    {
        var bench = Started(At("juniper", 15, 0, new RunFault(fault)));
        bench.UntilAtLeast(sign, value, 60);
        Assert.Equal(0, bench["aux.ready"]);
        Assert.Equal(0, bench["air.duct"], 1);
    }

    [Fact]
    public void A_hot_unit_stops_itself_a_little_later()
    {
        var bench = Started(At("juniper", 15, 0, new RunFault("aux-hot", Level: 1.5)));
        bench.Until("aux.tripped", 60);
        Assert.Equal(0, bench.Run(0.4)["aux.running"]);
        Assert.Equal(1, bench["lamp.aux-fault"]);
    }

    [Theory]
    [InlineData(12000, true)]
    [InlineData(13900, false)]
    public void Above_its_ceiling_it_runs_and_gives_no_air(double ft, bool gives)
    {
        var bench = Started(At("juniper", 0, ft));
        bench.Until("aux.ready", 60);
        Assert.Equal(gives, bench.Run(3)["air.duct"] > 20);
    }

    [Fact]
    public void Taking_its_air_costs_temperature()
    {
        var bench = Started(At("juniper"));
        bench.Until("aux.ready", 60);
        var alone = bench.Run(25)["aux.gas"];
        bench.Set("starter-air", "right").Run(10);
        Assert.InRange(bench["aux.gas"] - alone, 15, 80);
    }

    [Fact]
    public void It_stops_itself_after_both_generators()
    {
        var header = At("juniper");
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        _ = new ScriptedPilot(rehearsal).Fly(1200);
        Assert.Equal(0, rehearsal.Machine["aux.running"]);
        Assert.Equal(2, rehearsal.Machine["right.generator"] + rehearsal.Machine["left.generator"]);
    }
}
