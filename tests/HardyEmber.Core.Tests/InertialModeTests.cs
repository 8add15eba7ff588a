using HardyEmber.Core.Definitions;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>The modes of the inertial set: what begins each, how long it takes, what spoils or pauses it.</summary>
public class InertialModeTests
{
    private static readonly RunHeader Stored = Situations.Calm with { Parked = new ParkedHeader(true) };
    private static readonly RunHeader Afloat = Situations.Calm with { Place = "wintergreen", Spot = "1" };

    private static string Mode(Bench bench) => bench.Machine.Signals.Find("ins.mode")!.Positions[(int)bench["ins.mode"]];

    /// <summary>Seconds from the selector to the mark in each mode, at 45° and 15 °C: what the fleet's table says.</summary>
    [Theory]
    [InlineData("juniper", AlignmentMode.Field, 3.3 * 60)]
    [InlineData("juniper", AlignmentMode.Ship, 5.2 * 60)]
    [InlineData("juniper", AlignmentMode.Stored, 65)]
    [InlineData("bramble", AlignmentMode.Field, 4.7 * 60)]
    [InlineData("bramble", AlignmentMode.Stored, 95)]
    [InlineData("alder", AlignmentMode.Field, 3.6 * 60)]
    [InlineData("alder", AlignmentMode.Stored, 70)]
    [InlineData("tansy", AlignmentMode.Field, 2.6 * 60)]
    [InlineData("sedge", AlignmentMode.Field, 3 * 60)]
    [InlineData("burdock", AlignmentMode.Field, 3 * 60)]
    public void Each_mode_takes_the_fleets_time(string aircraft, AlignmentMode mode, double seconds) =>
        Assert.Equal(seconds, new Alignment(Repository.Fleet.FindAircraft(aircraft).Inertial!, 45, 15, mode).GoodAtS, 0.05 * seconds);

    /// <summary>Floor as in the models' table, time growing with 1/cos of the latitude.</summary>
    [Theory]
    [InlineData(0, 0.038)]
    [InlineData(22, 0.041)]
    [InlineData(45, 0.054)]
    [InlineData(61, 0.079)]
    [InlineData(75, 0.147)]
    public void Floor_and_time_follow_the_latitude(double latitude, double floorDeg)
    {
        var set = Repository.Fleet.FindAircraft("juniper").Inertial!;
        var (here, at45) = (new Alignment(set, latitude, 15), new Alignment(set, 45, 15));
        Assert.Equal(floorDeg, here.FloorDeg, 0.0006);
        Assert.Equal(Math.Cos(Math.PI / 4) / Math.Cos(latitude * Math.PI / 180), here.TauS / at45.TauS, 1e-9);
        Assert.Equal(set.GoodCertaintyPct, here.CertaintyPct(here.GoodAtS), 1e-6);
    }

    [Fact]
    public void Standby_warms_it_up_and_what_was_warm_need_not_warm_again()
    {
        var bench = Bench.WithRightRunning(Situations.Calm).Set("inertial", "standby").Run(60);
        Assert.Equal("standby", Mode(bench));
        Assert.Equal(0, bench["ins.aligning"]);
        bench.Set("inertial", "field");
        var began = bench.LastCommandS;
        var warm = bench.Until("ins.good", 400) - began;
        var cold = Bench.WithRightRunning(Situations.Calm).Set("inertial", "field");
        var all = cold.Until("ins.good", 400) - cold.LastCommandS;
        Assert.Equal(25, all - warm, 0.5);
        bench.Set("inertial", "standby").Run(2);
        Assert.Equal((1, 0), (bench["ins.lost"], bench["ins.good"]));
    }

    [Theory]
    [InlineData("juniper")]
    public void The_stored_heading_is_offered_for_a_moment_after_the_self_test(string aircraft)
    {
        var set = Repository.Fleet.FindAircraft(aircraft).Inertial!;
        var bench = Bench.WithRightRunning(Stored).Set("start-position", "spot").Set("inertial", "field");
        var began = bench.LastCommandS;
        bench.Hold("stored-heading", "taken").Run(1).Release("stored-heading"); // too early: nothing is there to take
        Assert.Equal(set.WarmUpS, bench.Until("ins.stored-offered", 60) - began, 0.5);
        Assert.Equal("field", Mode(bench));
        bench.Hold("stored-heading", "taken").Run(0.5).Release("stored-heading");
        Assert.Equal("stored", Mode(bench));
        Assert.Equal(set.Stored!.Seconds, bench.Until("ins.good", 120) - began, 1);
        bench.Set("inertial", "navigate").Run(1);
        Assert.Equal((1, 0), (bench["ins.navigating"], bench["ins.lost"]));
        Assert.InRange(bench["ins.heading-off"], 0, 0.5);

        var missed = Bench.WithRightRunning(Stored).Set("inertial", "field");
        missed.Until("ins.stored-offered", 60);
        missed.Run(set.Stored.WindowS + 1);
        Assert.Equal(0, missed["ins.stored-offered"]);
        missed.Hold("stored-heading", "taken").Run(1).Release("stored-heading");
        Assert.Equal("field", Mode(missed));

        var none = Bench.WithRightRunning(Situations.Calm).Set("inertial", "field").Run(set.WarmUpS + 5);
        Assert.Equal(0, none["ins.stored-offered"]);
    }

    /// <summary>A tow spoils a stored heading and nothing says so but the check; a full alignment does not care.</summary>
    [Fact]
    public void A_tow_spoils_the_stored_heading_silently()
    {
        var towed = Stored with { Faults = [new RunFault("jet-towed", Level: 30)] };
        var bench = Bench.WithRightRunning(towed).Set("inertial", "field");
        bench.Until("ins.stored-offered", 60);
        bench.Hold("stored-heading", "taken").Run(0.5).Release("stored-heading");
        bench.Until("ins.good", 120);
        Assert.InRange(bench["ins.heading-off"], 29, 31);
        bench.Set("inertial", "navigate").Run(60);
        Assert.Equal((1, 0), (bench["ins.navigating"], bench["ins.lost"]));
        Assert.InRange(bench["ins.heading-off"], 29, 31);

        var full = Bench.WithRightRunning(towed).Set("start-position", "spot").Set("inertial", "field");
        full.Until("ins.good", 400);
        Assert.InRange(full["ins.heading-off"], 0, 0.5);
    }

    [Fact]
    public void A_deck_moves_so_the_set_waits_for_the_ships_feed_and_pauses_when_it_drops()
    {
        var ashore = Bench.WithRightRunning(Afloat).Set("inertial", "field").Run(120);
        Assert.Equal((1, 0), (ashore["ins.paused"], ashore["ins.good"]));

        var bench = Bench.WithRightRunning(Afloat with { Faults = [new RunFault("feed-drop", At: 250)] }).Set("inertial", "ship").Run(60);
        Assert.Equal(1, bench["ins.paused"]);
        Assert.Contains("data cable", string.Join(' ', new WillNotTake(bench.Machine).For("ins.good").Effects[0].Chain.Select(u => $"{u.Label} {u.Cure?.Words}")),
            StringComparison.OrdinalIgnoreCase);
        bench.Set("ask-data-cable", "asking");
        bench.Until("ship.feed", 40);
        bench.Run(1);
        Assert.Equal((0.0, "ship"), (bench["ins.paused"], Mode(bench)));
        Assert.True(bench.Machine.Time < 240);
        bench.Run(251 - bench.Machine.Time);
        var (left, clock) = (bench["ins.left"], bench["ins.aligned"]);
        Assert.Equal(1, bench["ins.paused"]);
        bench.Run(30);
        Assert.Equal((left, clock), (bench["ins.left"], bench["ins.aligned"]));

        // Out and in again: it goes on where it stood.
        bench.Set("ask-data-cable-away", "asking");
        bench.Until("crew.data-cable-away", 30);
        bench.Run(1);
        bench.Set("ask-data-cable", "asking");
        bench.Until("ship.feed", 40);
        var again = bench.Machine.Time;
        Assert.Equal(left, bench.Until("ins.good", 600) - again, 1.0);
        bench.Set("inertial", "navigate").Run(1);
        Assert.Equal(0, bench["ins.lost"]);
        Assert.InRange(bench["ins.position-error"], 0, 0.05);
    }

    [Fact]
    public void Satellites_hold_the_error_while_they_last()
    {
        var header = Situations.Calm with { Faults = [new RunFault("satellites-lost", At: 2400)] };
        var bench = Bench.WithRightRunning(header).Set("start-position", "spot").Set("inertial", "field").Run(90); // navigate at a heading that is far from good
        bench.Set("inertial", "navigate").Set("satellite-aid", "on").Run(15);
        Assert.Equal("navigate", Mode(bench));
        bench.Run(60);
        Assert.Equal("aided", Mode(bench));
        bench.Run(1800);
        Assert.InRange(bench["ins.position-error"], 0, 0.02);
        Assert.StartsWith("Satellites hold it", GoOrWait.For(bench.Machine).Sentence, StringComparison.Ordinal);
        bench.Run(2400 - bench.Machine.Time + 2);
        Assert.Equal("navigate", Mode(bench));
        bench.Run(1800);
        Assert.True(bench["ins.position-error"] > 0.1, $"{bench["ins.position-error"]} NM after half an hour alone");
    }

    [Fact]
    public void In_the_air_it_aligns_by_satellites_or_not_at_all()
    {
        var bench = new Bench(Situations.Air with { Flight = new RunFlight(30000, 350, "right", "idle") });
        bench.Set("inertial", "off").Run(1).Set("inertial", "field").Run(60);
        Assert.Equal((1, 0), (bench["ins.paused"], bench["ins.good"]));
        bench.Set("satellite-aid", "on").Run(5);
        Assert.Equal((0.0, "in-flight"), (bench["ins.paused"], Mode(bench)));
        Assert.True(bench["ins.left"] is > 60 and < 900, $"{bench["ins.left"]} s left");
    }

    /// <summary>A set that drifts never comes to its mark, and its sign is the number that stands still.</summary>
    [Fact]
    public void A_drifting_set_stands_still_below_its_mark()
    {
        var bench = Bench.WithRightRunning(Situations.Calm with { Faults = [new RunFault("inertial-drift")] }).Set("start-position", "spot").Set("inertial", "field").Run(240);
        Assert.Equal(0, bench["ins.stuck"]);
        bench.Run(260);
        Assert.Equal((1, 0), (bench["ins.stuck"], bench["ins.good"]));
        var at = bench["ins.certainty"];
        bench.Run(60);
        Assert.Equal(at, bench["ins.certainty"], 0.2);
    }

    /// <summary>On ship and ashore, by every answer of the school, the guide's cues alone bring the jet to launch-ready.</summary>
    [Theory]
    [InlineData("juniper", "skerrow-main", "A1", "stored", "aided")]
    [InlineData("juniper", "wintergreen", "1", "full", "aided")]
    [InlineData("juniper", "wintergreen", "4", "full", "inertial")]
    [InlineData("alder", "skerrow-main", "A1", "stored", null)]
    [InlineData("bramble", "dry-lantern", "L2", "stored", null)]
    public void By_the_cues_alone_it_comes_to_ready(string aircraft, string place, string spot, string alignment, string? by)
    {
        var school = new Dictionary<string, string> { ["alignment"] = alignment };
        if (by is not null)
        {
            school["navigateBy"] = by;
        }

        var header = Situations.Calm with { Aircraft = aircraft, Place = place, Spot = spot, School = school, Parked = new ParkedHeader(place != "wintergreen") };
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        _ = new ScriptedPilot(rehearsal).Fly();
        var summary = rehearsal.Judge.Conclude();
        Assert.Equal("", string.Join("; ", summary.Findings.Select(f => f.What)));
        Assert.Equal(alignment == "stored" ? AlignmentMode.Stored : place == "wintergreen" ? AlignmentMode.Ship : AlignmentMode.Field,
            (AlignmentMode)(int)rehearsal.Machine[InertialSet.AlignedBy]);
        Assert.Equal(by == "aided" ? 1 : 0, rehearsal.Machine["ins.aided"]);
    }

    [Fact]
    public void What_cannot_be_is_refused_by_its_field()
    {
        var fleet = Repository.Fleet;
        Assert.StartsWith("place: Alder", Assert.Throws<FormatException>(() => fleet.Build(Afloat with { Aircraft = "alder" })).Message, StringComparison.Ordinal);
        Assert.StartsWith("school.alignment: \"stored\" needs parked", Assert.Throws<FormatException>(() =>
            fleet.ProcedureFor(Situations.Calm with { School = new Dictionary<string, string> { ["alignment"] = "stored" } })).Message, StringComparison.Ordinal);
        Assert.StartsWith("parked.headingStored: Sedge", Assert.Throws<FormatException>(() => fleet.Build(Stored with { Aircraft = "sedge" })).Message, StringComparison.Ordinal);
    }
}
