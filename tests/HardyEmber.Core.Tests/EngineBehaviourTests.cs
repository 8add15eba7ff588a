using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The behaviour table of the engine model, ± 15 %.</summary>
public sealed class EngineBehaviourTests
{
    private const double Tolerance = 0.15;
    private const double StartLimitC = 785;

    public static TheoryData<string, double, double, double, double, double, double, double, double> Starts => new()
    {
        // case, fuel at N2, duct, air °C, altitude ft, tailwind kt; fuel after crank s, peak °C, crank to idle s
        { "standard", 20, 1, 15, 0, 0, 9, 670, 43 },
        { "fuel at 12 %", 12, 1, 15, 0, 0, 5, 830, 41 },
        { "fuel at 10 %", 10, 1, 15, 0, 0, 4, 905, 41 },
        { "fuel at 25 %", 25, 1, 15, 0, 0, 14, 630, 45 },
        { "air supply 75 %", 20, 0.75, 15, 0, 0, 14, 695, 51 },
        { "air supply 60 %", 20, 0.60, 15, 0, 0, 22, 710, 60 },
        { "-35 °C", 20, 1, -35, 0, 0, 13, 575, 80 },
        { "+45 °C at 6 000 ft", 20, 1, 45, 6000, 0, 9, 845, 44 },
        { "tailwind 25 kt", 20, 1, 15, 0, 25, 9, 955, 43 },
    };

    [Theory]
    [MemberData(nameof(Starts))]
    public void A_start_behaves_as_the_table_says(string name, double fuelAt, double duct, double airC, double altitudeFt, double tailwindKt,
        double fuelOnS, double peakC, double idleS)
    {
        var outcome = new EngineRig(fuelAt, duct, airC, altitudeFt, tailwindKt).Run();
        Near(fuelOnS, outcome.FuelOnS, $"{name}: fuel on");
        Near(peakC, outcome.PeakC, $"{name}: peak");
        Near(idleS, outcome.IdleS, $"{name}: idle");
        Assert.Equal(peakC > StartLimitC, outcome.PeakC > StartLimitC);
    }

    [Fact]
    public void The_standard_peak_comes_within_five_seconds_of_light_off_and_settles()
    {
        var outcome = new EngineRig(20).Run();
        Assert.InRange(outcome.PeakS - outcome.LitS, 0.5, 5 * (1 + Tolerance));
        Near(465, outcome.EndGasC, "settled temperature");
        Assert.InRange(outcome.EndN2Pct, 70.5, 71.5);
    }

    [Fact]
    public void A_standard_start_raises_no_false_alarm_two_seconds_ahead() =>
        Assert.True(new EngineRig(20).Run().ForetoldC < StartLimitC);

    [Fact]
    public void With_a_third_of_the_air_the_core_hangs_and_the_temperature_creeps()
    {
        var outcome = new EngineRig(20, Duct: 0.38).Run();
        Assert.Equal(-1, outcome.IdleS);
        Assert.True(outcome.EndN2Pct < 40, $"hung at {outcome.EndN2Pct}");
        Assert.True(outcome.GasC[110] > outcome.GasC[70] + 20, "creeping");
    }

    [Fact]
    public void Cold_oil_pushes_the_pressure_up() =>
        Assert.True(new EngineRig(20, AirC: -35).Run().OilPsi > new EngineRig(20).Run().OilPsi * 1.1);

    [Fact]
    public void Relight_on_unburnt_fuel_torches_over_the_limit_and_is_shorter()
    {
        var standard = new EngineRig(20).Run();
        var wet = new EngineRig(20, IgniterAfterFuelS: 12).Run();
        Assert.True(wet.PeakC > 1000, $"peak {wet.PeakC}");
        Assert.True(wet.IdleS - wet.LitS < standard.IdleS - standard.LitS, "shorter from light-off to idle");
    }

    [Theory]
    [InlineData(12)]
    [InlineData(10)]
    public void Fuel_cut_two_seconds_after_the_projection_stays_below_the_limit_plus_thirty(double fuelAt)
    {
        var outcome = new EngineRig(fuelAt, CutsWhenForetold: true).Run();
        Assert.True(outcome.ForetoldC > StartLimitC, "the projection did show it");
        Assert.True(outcome.PeakC < StartLimitC + 30, $"peak {outcome.PeakC}");
    }

    [Fact]
    public void A_dead_igniter_never_lights_and_gathers_fuel()
    {
        var outcome = new EngineRig(20, IgniterDead: true).Run();
        Assert.Equal(-1, outcome.LitS);
        Assert.True(outcome.PeakC < 16);
        Assert.True(outcome.Puddle > 1);
    }

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    /// <summary>Above idle every core follows its lever: more speed, more fuel, no cooler, and back again.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void A_running_core_follows_its_lever_to_full_power_and_back(string type)
    {
        var d = Repository.Fleet.FindAircraft(type).Engine;
        var engine = EngineRig.Idling(d);
        var (gas, fuel) = (engine.GasC, engine.Fuel);
        foreach (var asked in d.ThrottleN2Pct.Values.Where(n2 => n2 > d.IdleN2Pct).Order())
        {
            EngineRig.Follow(engine, asked, 25);
            Assert.InRange(engine.N2Pct, asked * 0.92, asked + 1);
            Assert.True(engine.Fuel > fuel && engine.GasC > gas - 20, $"{asked} %: {engine.GasC:0} °C, {engine.Fuel:0.00} idle flows");
            (gas, fuel) = (engine.GasC, engine.Fuel);
        }

        Assert.True(engine.PeakC < d.StartLimitC, $"{engine.PeakC:0} °C");
        EngineRig.Follow(engine, d.IdleN2Pct, 25);
        Assert.Equal(d.IdleN2Pct, engine.N2Pct, 1.0);
        Assert.Equal(d.IdleGasC, engine.GasC, 30.0);
    }

    private static void Near(double expected, double actual, string what) =>
        Assert.True(Math.Abs(actual / expected - 1) <= Tolerance, $"{what}: {actual:0.0}, the table says {expected}");
}
