using HardyEmber.Core.Definitions;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Cores above idle on all types: full power, acceleration, lever slammed, what bleed costs, when a flame goes out.</summary>
public sealed class PowerTests
{
    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    private static EngineDefinition Of(string aircraft) => Repository.Fleet.FindAircraft(aircraft).Engine;

    private static Engine Idling(EngineDefinition d, double airC = 15, double altitudeFt = 0)
    {
        var engine = new Engine(d, airC, new RandomStream(1, "rig"))
        {
            In = new EngineInputs { FuelOn = true, AirC = airC, DensityRatio = Atmosphere.DensityRatio(Atmosphere.PressureRatio(altitudeFt), airC + Atmosphere.ZeroCelsiusK) },
        };
        engine.StartAt(d.IdleN2Pct, lit: true);
        EngineRig.Follow(engine, d.IdleN2Pct, 300); // oil warm
        return engine;
    }

    private static double SecondsTo(Engine engine, double targetPct, double n2Pct)
    {
        for (var s = 0.0; s < 120; s += 0.1)
        {
            if (engine.N2Pct >= n2Pct)
            {
                return s;
            }

            EngineRig.Follow(engine, targetPct, 0.1);
        }

        return double.PositiveInfinity;
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Full_power_stands_under_the_settled_limit_and_burns_eight_to_ten_idle_flows(string aircraft)
    {
        var d = Of(aircraft);
        var engine = Idling(d);
        var idle = engine.Fuel;
        EngineRig.Follow(engine, 98, 120);
        Assert.InRange(engine.N2Pct, 96.5, 99);
        Assert.InRange(d.SettledLimitC - engine.GasC, 40, 90);
        Assert.InRange(engine.Fuel / idle, 8, 10);
        Assert.True(engine.Lit);
        Assert.Equal(d.Nozzle.Fixed, Math.Abs(engine.NozzlePct - d.Nozzle.IdleOpenPct) < 1);
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void It_accelerates_within_seconds_below_the_start_limit_hot_and_high_too(string aircraft)
    {
        var d = Of(aircraft);
        foreach (var (airC, altitudeFt, withinS) in ((double, double, double)[])[(15, 0, 18), (45, 6000, 45), (-35, 0, 18)])
        {
            var engine = Idling(d, airC, altitudeFt);
            var s = SecondsTo(engine, 98, 95);
            Assert.True(s < withinS, $"{aircraft} at {airC} °C, {altitudeFt} ft: {s:0.0} s to 95 %");
            Assert.True(engine.PeakC < d.StartLimitC, $"{engine.PeakC:0} °C");
        }
    }

    /// <summary>Slammed to and fro, a lever neither puts the flame out nor drives the gas over the start limit.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void A_slammed_lever_keeps_the_flame(string aircraft)
    {
        var d = Of(aircraft);
        var engine = Idling(d);
        for (var i = 0; i < 20; i++)
        {
            EngineRig.Follow(engine, i % 2 == 0 ? 98 : d.IdleN2Pct, 0.5 + 0.7 * (i % 5));
            Assert.True(engine.Lit, $"out at slam {i}");
        }

        EngineRig.Follow(engine, d.IdleN2Pct, 40);
        Assert.InRange(engine.N2Pct, d.IdleN2Pct - 1, d.IdleN2Pct + 1);
        Assert.True(engine.PeakC < d.StartLimitC, $"{engine.PeakC:0} °C");
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Bleed_costs_a_core_at_idle_a_little_speed_and_some_heat(string aircraft)
    {
        var engine = Idling(Of(aircraft));
        var (n2, gas) = (engine.N2Pct, engine.GasC);
        engine.In.Bleed = 1;
        EngineRig.Follow(engine, engine.In.TargetN2Pct, 120);
        Assert.InRange(n2 - engine.N2Pct, 0.9, 2.1);
        Assert.InRange(engine.GasC - gas, 9, 21);
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void A_core_that_dies_away_does_not_burn_down_to_a_standstill(string aircraft)
    {
        var d = Of(aircraft);
        var engine = Idling(d);
        engine.Faults.FuelTrim = 0.3; // starved, it loses its speed
        var slowest = engine.N2Pct;
        for (var i = 0; i < 3000 && engine.Lit; i++)
        {
            slowest = engine.N2Pct;
            EngineRig.Follow(engine, d.IdleN2Pct, 0.1);
        }

        Assert.False(engine.Lit && engine.N2Pct < 0.6 * d.Gas.LightOffMinN2Pct);
        Assert.True(slowest > 0.5 * d.Gas.LightOffMinN2Pct, $"burnt down to {slowest:0.0} %");
    }
}
