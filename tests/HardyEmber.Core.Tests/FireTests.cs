using CsCheck;
using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>What burns, what tells it, and what puts it out, on every type.</summary>
public sealed class FireTests
{
    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    public static TheoryData<string> WithBottles => [.. Repository.Fleet.Aircraft.Where(a => a.Fire!.Release.Count > 0).Select(a => a.Id)];

    private static RunHeader Burning(string aircraft, double level = 1.2, string code = "bay-fire") =>
        Situations.AllRun(aircraft) with { Faults = [new RunFault(code, code == "bay-fire" ? Side(aircraft) : null, Level: level)] };

    private static string Side(string aircraft) => Repository.Fleet.FindAircraft(aircraft).Engines[0].Id;

    // Juniper's sensing lines are called lines, those of the others loops.
    private static string Broken(string aircraft, string how) => aircraft == "juniper" ? $"inner-line-{how}" : $"loop-a-{how}";

    private static Bench Told(RunHeader header, string zone)
    {
        var bench = new Bench(header);
        bench.Until($"fire.{zone}.sure", 30);
        return bench;
    }

    // The control that a zone's condition names, set to what it asks.
    private static Bench Shut(Bench bench, string zone)
    {
        var words = bench.Machine.Aircraft.Fire!.Zones.First(z => z.Id == zone).Shut.Split(' ');
        return bench.Set(words[0], words[2]);
    }

    private static Bench CutOff(Bench bench, string zone)
    {
        var side = bench.Machine.Aircraft.Engines.First(e => e.Id == zone);
        return bench.Set(side.Throttle, side.CutOff);
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Fed_it_burns_through_and_takes_its_engine(string aircraft)
    {
        var zone = Side(aircraft);
        var bench = Told(Burning(aircraft), zone);
        Assert.InRange(bench.Machine.Time, 4, 15);
        bench.Until($"fire.{zone}.burnt", 160);
        Assert.InRange(bench.Machine.Time, 80, 150);
        bench.Run(20);
        Assert.Equal(0, bench[$"{zone}.lit"]);
        Assert.True(bench["smoke.behind"] > 50);
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void Shut_off_it_goes_out_and_stays_out(string aircraft)
    {
        var zone = Side(aircraft);
        var bench = Told(Burning(aircraft, 1), zone);
        Shut(CutOff(bench.Run(2), zone).Run(1.5), zone).Run(60);
        Assert.Equal((0, 0, 1), (bench[$"fire.{zone}.alarm"], bench[$"fire.{zone}.burns"], bench["fire.out"]));
        Assert.True(bench[$"fire.{zone}.damage"] < 40, $"{bench[$"fire.{zone}.damage"]:0} %");
        bench.Run(120);
        Assert.Equal(0, bench[$"fire.{zone}.burns"]);
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void The_throttle_alone_does_not_put_it_out(string aircraft)
    {
        var zone = Side(aircraft);
        var bench = CutOff(Told(Burning(aircraft), zone).Run(2), zone).Run(60);
        Assert.Equal((1, 0), (bench[$"fire.{zone}.burns"], bench[$"{zone}.lit"]));
    }

    [Theory]
    [MemberData(nameof(WithBottles))]
    public void Agent_ends_it_at_once_where_it_is_led_and_nowhere_else(string aircraft)
    {
        var zone = Side(aircraft);
        var bench = Told(Burning(aircraft, 1.5), zone).Run(20);
        bench.Set("fire-agent", "first").Run(4);
        Assert.Equal((1, 1), (bench["fire.agent-wasted"], bench[$"fire.{zone}.burns"]));

        bench = Shut(CutOff(Told(Burning(aircraft, 1.5), zone).Run(20), zone).Run(1), zone).Set("fire-agent", "first").Run(4);
        Assert.Equal((0, 0), (bench["fire.agent-wasted"], bench[$"fire.{zone}.burns"]));
    }

    [Fact]
    public void One_bottle_for_two_zones_is_too_little_for_a_strong_fire_and_the_second_ends_it()
    {
        var bench = Told(Burning("alder", 1.5), "left").Run(35);
        Shut(CutOff(bench, "left"), "left").Set("shut-off-right", "shut").Set("fire-agent", "first").Run(6);
        Assert.Equal(1, bench["fire.left.burns"]);
        bench.Set("shut-off-right", "open").Set("fire-agent", "second").Run(4);
        Assert.Equal((0, 0), (bench["fire.left.burns"], bench["fire.bottles"]));
        bench.Run(120);
        Assert.Equal(0, bench["fire.left.alarm"]);
    }

    [Theory]
    [InlineData("juniper")]
    [InlineData("alder")]
    public void The_auxiliary_bay_burns_while_its_unit_runs_and_stops_with_its_fuel(string aircraft)
    {
        var bench = new Bench(Situations.Calm with { Aircraft = aircraft, Faults = [new RunFault("auxiliary-fire")] });
        bench.Run(30);
        Assert.Equal(0, bench["fire.auxiliary.alarm"]);
        bench.Set("battery", "on");
        foreach (var pump in bench.Machine.Aircraft.Controls.Where(c => c.Id.StartsWith("boost-", StringComparison.Ordinal)))
        {
            bench.Set(pump.Id, "on");
        }

        bench.Set("aux-unit", "on").Until("fire.auxiliary.sure", 60);
        bench.Set("shut-off-auxiliary", "shut").Run(2);
        Assert.Equal(0, bench["aux.running"]);
        bench.Set("fire-agent", "first").Run(30);
        Assert.Equal((0, 1), (bench["fire.auxiliary.alarm"], bench["fire.out"]));
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void A_shorted_loop_is_a_lamp_without_a_second_sign(string aircraft)
    {
        var zone = Side(aircraft);
        var loop = Repository.Fleet.FindAircraft(aircraft).Fire!.Zones.First(z => z.Id == zone).Loop;
        var bench = new Bench(Situations.AllRun(aircraft) with { Faults = [new RunFault(Broken(aircraft, "short"), Level: loop)] }).Run(40);
        Assert.Equal((1, 0, 0), (bench[$"fire.{zone}.alarm"], bench[$"fire.{zone}.sure"], bench["smoke.behind"]));
    }

    /// <summary>A loop that is broken before the zone feels nothing: with one loop only the smoke tells, with two the other does.</summary>
    [Theory]
    [InlineData("juniper", "left", 1)]
    [InlineData("alder", "right", 0)]
    public void A_broken_loop_is_silent_about_what_lies_behind_the_break(string aircraft, string zone, int told)
    {
        var bench = new Bench(Situations.AllRun(aircraft) with { Faults = [new RunFault("bay-fire", zone), new RunFault(Broken(aircraft, "open"), Level: 0.1)] }).Run(30);
        Assert.Equal(told, bench[$"fire.{zone}.alarm"]);
        Assert.True(bench["smoke.behind"] > 30);
    }

    /// <summary>The next zone leaks then; it burns too where something hot is in it.</summary>
    [Theory]
    [InlineData("juniper", "left", 200, 800)]
    [InlineData("alder", "auxiliary", 59, 61)]
    public void Burnt_through_it_reaches_the_next_zone(string aircraft, string next, double leastC, double mostC)
    {
        var bench = Told(Burning(aircraft), Side(aircraft)).Run(160);
        Assert.InRange(bench[$"fire.{next}.heat"], leastC, mostC);
        bench.Run(120);
        Assert.Equal(1, bench["fire.lost"]);
    }

    /// <summary>The guide leads through it on every type; who has another engine is ready to fly home, who has none is not.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void By_the_guide_it_is_answered_and_nothing_is_started_again(string aircraft)
    {
        var flown = new HandFlown(Burning(aircraft));
        var report = flown.GoOn(900);
        Assert.Contains(report.Findings, f => f.Code == "fire-answered" && f.Severity == Severity.Note);
        Assert.DoesNotContain(report.Findings, f => f.Code is "burnt-through" or "opened-again" or "wrong-shut-off" or "agent-wasted");
        var twin = flown.Machine.Aircraft.Engines.Count > 1;
        Assert.Equal(twin ? Verdict.LaunchReady : Verdict.NotReady, report.Verdict);
    }

    [Fact]
    public void To_shut_off_the_sound_engine_is_found()
    {
        var flown = new HandFlown(Burning("juniper")).Until(f => f["fire.right.sure"] > 0.5);
        flown.Set("shut-off-left", "shut").Run(3);
        Assert.Contains(flown.Report.Findings, f => f.Code == "wrong-shut-off" && f.Severity == Severity.Warning);
    }

    [Fact]
    public void To_open_it_again_is_found()
    {
        var flown = new HandFlown(Burning("teasel")).Until(f => f["fire.left.had"] > 0.5);
        flown.Set("fuel-left", "open").Run(3);
        Assert.Contains(flown.Report.Findings, f => f.Code == "opened-again");
    }

    [Fact]
    [Trait("search", "yes")]
    public void Random_hands_keep_a_fire_within_its_bounds() =>
        Property.Holds(Gen.Select(RandomHands.OneOf(RandomHands.Types), Gen.Double[0.4, 1.5], RandomHands.Any.Array[5, 40]), c =>
        {
            var (aircraft, level, acts) = c;
            var machine = Repository.Fleet.Build(Burning(aircraft, level));
            var zones = machine.Aircraft.Fire!.Zones;
            var had = zones.ToDictionary(z => z.Id, _ => 0.0);
            RandomHands.Play(machine, acts, () =>
            {
                Assert.InRange(machine["smoke.behind"], 0, 100);
                Assert.InRange(machine["fire.bottles"], 0, machine.Aircraft.Fire.Release.Count);
                foreach (var zone in zones)
                {
                    Assert.InRange(machine[$"fire.{zone.Id}.heat"], 59, 800);
                    Assert.InRange(machine[$"fire.{zone.Id}.damage"], 0, 100);
                    Assert.True(machine[$"fire.{zone.Id}.had"] >= had[zone.Id], $"{zone.Id} had no fire any more");
                    had[zone.Id] = machine[$"fire.{zone.Id}.had"];
                }
            });
        }, 12);
}
