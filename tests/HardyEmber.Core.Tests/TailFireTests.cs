using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>A fire in the tail pipe after a hot shutdown: seen by its gauge alone, blown out by motoring, and by nothing else.</summary>
public sealed class TailFireTests
{
    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    // Running, with a fuel valve that will not quite shut; then cut off.
    private static (HandFlown Flown, string Engine) Shut(string type)
    {
        var flown = new HandFlown(Situations.Taught(type));
        var engine = flown.Rehearsal.Machine.Header.School.GetValueOrDefault("firstEngine") ?? flown.Machine.Aircraft.Engines[0].Id;
        var with = new HandFlown(Situations.Taught(type) with { Faults = [new RunFault("tail-drip", engine)] });
        var side = with.Machine.Aircraft.Engines.First(e => e.Id == engine);
        with.Until(f => f[$"{engine}.lit"] > 0.5 && f[$"{engine}.n2"] > with.Machine.Aircraft.EngineOf(engine).IdleN2Pct - 2);
        with.Run(90).Set(side.Throttle, side.CutOff);
        return (with, engine);
    }

    private static void Until(HandFlown flown, Func<bool> there, double withinS)
    {
        for (var end = flown.Machine.Time + withinS; !there() && flown.Machine.Time < end;)
        {
            flown.Rehearsal.Step();
        }
    }

    [Theory, MemberData(nameof(Types))]
    public void It_lights_as_the_core_comes_to_rest_and_climbs_with_the_fuel_off(string type)
    {
        var (flown, engine) = Shut(type);
        Until(flown, () => flown[$"{engine}.tail-fire"] > 0.5, 180);
        Assert.True(flown[$"{engine}.tail-fire"] > 0.5 && flown[$"{engine}.fuel-valve"] < 0.5 && flown[$"{engine}.n2"] < 12,
            $"{flown[$"{engine}.n2"]} % {flown[$"{engine}.egt"]} °C puddle {flown[$"{engine}.puddle"]}");
        var before = flown[$"{engine}.egt"];
        flown.Run(20);
        Assert.True(flown[$"{engine}.egt"] > before + 100, $"{before} to {flown[$"{engine}.egt"]}");
        flown.Run(80);
        Assert.Contains(flown.Report.Findings, f => f.Code == "fault-damage" || f.Code == "tail-fire" && f.Severity == Severity.Warning);
        Assert.Equal(Verdict.AircraftDamaged, flown.Report.Verdict);
    }

    /// <summary>A sound valve leaves nothing to burn.</summary>
    [Theory, MemberData(nameof(Types))]
    public void A_sound_engine_shut_down_hot_does_not_burn(string type)
    {
        var flown = new HandFlown(Situations.Taught(type));
        var side = flown.Machine.Aircraft.Engines[0];
        flown.Until(f => f[$"{side.Id}.lit"] > 0.5 && f[$"{side.Id}.n2"] > flown.Machine.Aircraft.EngineOf(side).IdleN2Pct - 2);
        flown.Run(90).Set(side.Throttle, side.CutOff);
        Until(flown, () => flown[$"{side.Id}.tail-fire"] > 0.5, 240);
        Assert.Equal(0, flown[$"{side.Id}.tail-fire"]);
    }

    /// <summary>Bramble has one bottle to turn its core with, and Burdock's button only starts: there the crew is called.</summary>
    [Theory]
    [InlineData("juniper")]
    [InlineData("alder")]
    [InlineData("tansy")]
    [InlineData("teasel")]
    public void Motored_it_is_blown_out(string type)
    {
        var (flown, engine) = Shut(type);
        Until(flown, () => flown[$"{engine}.tail-fire"] > 0.5, 180);
        flown.Run(3);
        var at = flown.Machine.Time;
        flown.Until(f => f[$"{engine}.starter-valve"] > 0.5);
        Assert.InRange(flown.Machine.Time - at, 0, 30);
        flown.Until(f => f[$"{engine}.tail-fire"] < 0.5);
        Assert.InRange(flown.Machine.Time - at, 3, 70);
        Assert.Contains(flown.Report.Findings, f => f.Code == "tail-fire" && f.Severity == Severity.Note);
    }
}
