using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>How warm the jet is when its pilot comes: soaked in the cold, out of a hangar, or just flown.</summary>
public sealed class SoakTests
{
    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    private static RunHeader At(string aircraft, string? soak, double oatC = -30) =>
        Situations.Calm with
        {
            Aircraft = aircraft,
            Conditions = new RunConditions(oatC, 0, 0, PressureAltitudeFt: 0),
            Parked = soak is null ? null : new ParkedHeader(Soak: soak)
        };

    private static Bench Lit(RunHeader header)
    {
        var bench = new Bench(header).Set("battery", "on").Set("radio", "on");
        return (bench.Machine.Aircraft.Controls.Any(c => c.Id == "electrical-master") ? bench.Set("electrical-master", "battery") : bench).Run(2);
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void A_hangared_jet_has_warm_oil_fluid_battery_and_boxes(string aircraft)
    {
        var (soaked, hangared) = (Lit(At(aircraft, Soak.Soaked)), Lit(At(aircraft, Soak.Hangared)));
        var engine = soaked.Machine.Aircraft.Engines[0].Id;
        foreach (var signal in (string[])[$"{engine}.oil-temperature", "fluid.temperature", "cabin.temperature"])
        {
            Assert.InRange(soaked[signal], -31, -29);
            Assert.InRange(hangared[signal], 9, 13);
        }

        Assert.True(hangared["battery.left"] > 1.5 * soaked["battery.left"], $"{hangared["battery.left"]:0} s against {soaked["battery.left"]:0}");
        Assert.Equal((1, 0), (soaked["fluid.cold"], hangared["fluid.cold"]));
    }

    [Fact]
    public void Nothing_said_is_soaked()
    {
        var (nothing, soaked) = (new Bench(At("juniper", null)).Set("battery", "on").Run(20), new Bench(At("juniper", Soak.Soaked)).Set("battery", "on").Run(20));
        Assert.Equal(nothing.Machine.Signals.Values.ToArray(), soaked.Machine.Signals.Values.ToArray());
    }

    [Fact]
    public void A_hangar_is_no_oven_in_the_heat()
    {
        var (hot, hangared) = (new Bench(At("bramble", null, 44)).Run(1), new Bench(At("bramble", Soak.Hangared, 44)).Run(1));
        Assert.True(hangared["cabin.temperature"] < hot["cabin.temperature"] - 10);
    }

    [Fact]
    public void A_jet_that_has_just_flown_has_a_warm_core_and_hot_oil()
    {
        var bench = new Bench(At("juniper", Soak.Flown)).Set("battery", "on").Run(2);
        Assert.InRange(bench["right.egt"], 10, 60);
        Assert.True(bench["right.oil-temperature"] > 55);
        Assert.True(bench["right.egt-true"] > -30 + 20);
    }

    /// <summary>By the guide, in the deep cold: launch-ready, sooner and with less of the starter than one that has soaked.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void A_warm_jet_comes_to_life_sooner(string aircraft)
    {
        static (Verdict Verdict, double StarterS) Fly(RunHeader header)
        {
            var rehearsal = new Rehearsal(Repository.Fleet, header);
            _ = new ScriptedPilot(rehearsal).Fly();
            return (rehearsal.Judge.Conclude().Verdict, rehearsal.Starts.Cards.Sum(c => c.StarterS));
        }

        var soaked = Fly(At(aircraft, null));
        foreach (var soak in (string[])[Soak.Hangared, Soak.Flown])
        {
            var warm = Fly(At(aircraft, soak));
            Assert.Equal(Verdict.LaunchReady, warm.Verdict);
            Assert.True(warm.StarterS < 0.95 * soaked.StarterS, $"{soak}: {warm.StarterS:0.0} s of starter against {soaked.StarterS:0.0}");
        }
    }

    [Fact]
    public void An_unknown_word_is_refused_by_its_field()
    {
        var e = Assert.Throws<FormatException>(() => Repository.Fleet.Build(At("juniper", "lukewarm")));
        Assert.StartsWith("parked.soak:", e.Message, StringComparison.Ordinal);
    }
}
