using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>What makes an engine flame out in flight, and how such a flight ends: lit again, home on the other one, left, landed.</summary>
public sealed class FlameOutTests
{
    private const double OutAtS = 12;

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    public static TheoryData<string> Twins => [.. Repository.Fleet.Aircraft.Where(a => a.Engines.Count > 1).Select(a => a.Id)];

    private static string First(string type) => Repository.Fleet.FindAircraft(type).Engines[0].Id;

    private static RunHeader Failing(string type, string code, double heightFt = 15_000, double oatC = 15) =>
        Situations.AllRun(type, heightFt) with { Faults = [new RunFault(code, First(type), OutAtS)], Conditions = new RunConditions(oatC, 0, 0, PressureAltitudeFt: 0) };

    [Theory, MemberData(nameof(Types))]
    public void Without_fuel_it_goes_out_and_the_first_throttle_touched_is_the_right_one(string type)
    {
        var flown = new HandFlown(Failing(type, "flame-out-fuel"));
        var engine = First(type);
        flown.Until(f => f[$"{engine}.flamed-out"] > 0.5);
        Assert.InRange(flown.Machine.Time, OutAtS, OutAtS + 1);
        Assert.True(flown[$"{engine}.fuel-valve"] > 0.5 && flown[$"{engine}.flame-outs"] == 1);
        _ = flown.Pilot.FlyUntil(() => flown.Machine.Time > OutAtS + 40);
        var others = flown.Machine.Aircraft.Engines.Where(e => e.Id != engine).Select(e => e.Throttle).ToList();
        Assert.DoesNotContain(flown.Pilot.Log, c => others.Contains(c.Target) && c.Position == "cut-off");
        Assert.DoesNotContain(flown.Report.Findings, f => f.Code == "sound-one-cut");
    }

    /// <summary>Only two types have a cross-feed: there the flame comes back within seconds and at hardly any height.</summary>
    [Theory]
    [InlineData("juniper")]
    [InlineData("alder")]
    public void The_cross_feed_opened_at_once_brings_it_back_while_it_turns_fast(string type)
    {
        var flown = new HandFlown(Failing(type, "flame-out-fuel"));
        var engine = First(type);
        flown.Until(f => f[$"{engine}.flamed-out"] > 0.5);
        var (from, at) = (flown["flight.height"], flown.Machine.Time);
        flown.Until(f => f[$"{engine}.lit"] > 0.5);
        Assert.InRange(flown.Machine.Time - at, 2, 8);
        Assert.True(from - flown["flight.height"] < 400 && flown[$"{engine}.n2"] > 40);
        var report = flown.GoOn();
        Assert.Equal(Verdict.LaunchReady, report.Verdict);
        Assert.StartsWith("Restarted", report.Sentence, StringComparison.Ordinal);
    }

    /// <summary>It holds in frost, and is gone where the air is warm; meanwhile nothing lights, or lights hot.</summary>
    [Theory]
    [InlineData("tansy", 25)]
    [InlineData("teasel", 25)]
    [InlineData("alder", 28)]
    public void Ice_melts_in_warmer_air_and_the_guide_waits_for_that(string type, double oatC)
    {
        var flown = new HandFlown(Failing(type, "flame-out-ice", oatC: oatC));
        var engine = First(type);
        flown.Until(f => f[$"{engine}.flamed-out"] > 0.5);
        Assert.True(flown[$"{engine}.iced"] > 0.5);
        flown.Until(f => f[$"{engine}.lit"] > 0.5);
        Assert.True(flown[$"{engine}.iced"] < 0.5);
        Assert.Equal(Verdict.LaunchReady, flown.GoOn().Verdict);
    }

    [Theory, MemberData(nameof(Types))]
    public void In_warm_air_there_is_no_ice(string type)
    {
        var flown = new HandFlown(Failing(type, "flame-out-ice", 8000, 40));
        _ = flown.Pilot.FlyUntil(() => flown.Machine.Time > OutAtS + 10);
        Assert.Equal(0, flown[$"{First(type)}.flame-outs"]);
    }

    /// <summary>High up the combustor has no pressure to lose; its valve shut, the air stays in the core and the flame comes back.</summary>
    [Theory, MemberData(nameof(Types))]
    public void With_its_bleed_duct_torn_it_goes_out_high_up_and_burns_again_once_the_valve_is_shut(string type)
    {
        var flown = new HandFlown(Failing(type, "flame-out-bleed", Math.Max(24_000, Repository.Fleet.FindAircraft(type).Engine.Windmill.MaxAltitudeFt)));
        var engine = First(type);
        flown.Until(f => f[$"{engine}.flamed-out"] > 0.5);
        Assert.True(flown[$"{engine}.robbed"] > 0.5);
        Assert.InRange(flown.Machine.Time, OutAtS, OutAtS + 15);
        var report = flown.GoOn();
        Assert.Equal(Verdict.LaunchReady, report.Verdict);
        Assert.StartsWith("Restarted", report.Sentence, StringComparison.Ordinal);
        Assert.Equal(1, flown[$"{engine}.flame-outs"]); // neither opened again nor put out again
    }

    /// <summary>With the valve left open it goes out again as soon as it turns fast enough to lose its air.</summary>
    [Theory, MemberData(nameof(Types))]
    public void With_the_valve_of_a_torn_duct_left_open_it_goes_out_again(string type)
    {
        var flown = new HandFlown(Failing(type, "flame-out-bleed", 16_000) is var h ? h with { Faults = [h.Faults[0] with { Level = 13 }] } : h);
        var engine = First(type);
        for (var end = OutAtS + 90; flown.Machine.Time < end && flown[$"{engine}.flame-outs"] < 2;)
        {
            flown.Run(1);
        }

        Assert.True(flown[$"{engine}.flame-outs"] >= 2, $"{flown[$"{engine}.n2"]} {flown[$"{engine}.flame-outs"]}");
    }

    /// <summary>Where there is pressure to spare, and where nothing blows out of the duct, it only turns slower and runs hotter.</summary>
    [Theory, MemberData(nameof(Types))]
    public void Low_down_or_with_the_valve_shut_a_torn_bleed_duct_puts_nothing_out(string type)
    {
        var engine = First(type);
        var low = new HandFlown(Failing(type, "flame-out-bleed", 6000));
        low.Run(OutAtS - 1);
        var (n2, egt) = (low[$"{engine}.n2"], low[$"{engine}.egt"]);
        low.Run(12);
        Assert.Equal(0, low[$"{engine}.flame-outs"]);
        Assert.InRange(n2 - low[$"{engine}.n2"], 4, 15);
        Assert.True(low[$"{engine}.egt"] > egt);

        var shut = new HandFlown(Failing(type, "flame-out-bleed", 24_000));
        foreach (var c in shut.Machine.Aircraft.Controls.Where(c => c.Id == "bleed" || c.Id == "cooling-air" || c.Id.StartsWith("bleed-", StringComparison.Ordinal)))
        {
            shut.Set(c.Id, c.Positions.First(p => p is "shut" or "off"));
        }

        Assert.Equal(0, shut.Run(OutAtS + 20)[$"{engine}.flame-outs"]);
    }

    [Theory, MemberData(nameof(Types))]
    public void A_broken_engine_never_lights_and_turns_slowly(string type)
    {
        var flown = new HandFlown(Failing(type, "flame-out-damage", 16_000));
        var engine = First(type);
        var sound = Repository.Fleet.FindAircraft(type).Engine.Windmill.N2PctPerMach;
        var ended = flown.GoOn();
        Assert.True(flown[$"{engine}.lit"] < 0.5 && flown[$"{engine}.n2"] < 0.7 * sound * Math.Max(0.2, flown["flight.mach"]));
        var single = flown.Machine.Aircraft.Engines.Count == 1;
        Assert.Equal(single ? FlightEnd.Left : FlightEnd.HomeOnOne, FlightOutcome.Of(flown.Machine).End);
        Assert.Contains(single ? "Left at" : "Home on one engine", ended.Sentence, StringComparison.Ordinal);
        Assert.DoesNotContain(ended.Findings, f => f.Severity >= Severity.Caution);
        Assert.True(flown["flight.above-decision"] > 0);
    }

    /// <summary>Pulled to the stall the compressor bangs and the flame is gone; eased in time it comes back by itself.</summary>
    [Theory, MemberData(nameof(Types))]
    public void Near_the_stall_it_surges_and_eased_it_lights_again(string type)
    {
        var flown = new HandFlown(Situations.AllRun(type, 12_000));
        var engine = First(type);
        flown.Dial("pitch", 20);
        for (var i = 0; i < 120 / Steps.Seconds && flown[$"{engine}.surge"] < 0.5; i++)
        {
            flown.Rehearsal.Step();
        }

        Assert.True(flown[$"{engine}.flame-outs"] >= 1 || flown[$"{engine}.surge"] > 0.5, "it did not surge");
        Assert.InRange(flown["flight.eas"], 0, flown["numbers.glide-speed"]);
        flown.Dial("airspeed", Math.Round(1.1 * flown["numbers.glide-speed"]));
        flown.Run(40);
        Assert.True(flown[$"{engine}.lit"] > 0.5 && flown[$"{engine}.surge"] < 0.5,
            $"{flown[$"{engine}.n2"]} {flown[$"{engine}.egt"]} {flown["flight.eas"]} {flown[$"{engine}.puddle"]} {flown[$"{engine}.flame-outs"]} {flown["flight.height"]}");
    }

    /// <summary>One engine at full power holds the height that the outlook names: there it neither sinks nor climbs.</summary>
    [Theory, MemberData(nameof(Twins))]
    public void On_one_engine_it_levels_off_where_it_was_told(string type)
    {
        var header = Situations.Aloft(type, 15_000) is var h ? h with { Flight = h.Flight! with { Other = RunFlight.IdleOther } } : h;
        var told = RelightOutlook.For(Repository.Fleet, header, [], 0).Home!.LevelsOffFt!.Value;
        var aircraft = Repository.Fleet.FindAircraft(type);
        var thrust = aircraft.Flight.ThrustRatio(0.94) / 2;
        foreach (var (offset, sinks) in new[] { (-1500.0, false), (1500.0, true) })
        {
            if (told + offset is < 2000 or > PointMass.HighestFt - 500)
            {
                continue;
            }

            var jet = new PointMass(aircraft.Flight, aircraft.Flight.MassLb, 0);
            jet.Begin(told + offset, jet.GlideEasKt);
            var from = jet.HeightFt;
            for (var i = 0; i < 120 / Steps.Seconds; i++)
            {
                jet.Step(Steps.Seconds, jet.PathFor(jet.GlideEasKt, thrust), thrust);
            }

            Assert.Equal(sinks, jet.HeightFt < from);
        }
    }

    /// <summary>What the way home on one engine is said to burn is what it burns on the whole machine, a tenth more or less.</summary>
    [Theory, MemberData(nameof(Twins))]
    public void The_way_home_on_one_engine_burns_what_was_told(string type)
    {
        const double AwayNm = 60;
        var header = Situations.Aloft(type, 9_000) is var h ? h with { Flight = h.Flight! with { Other = RunFlight.IdleOther, FromNm = AwayNm } } : h;
        var told = RelightOutlook.For(Repository.Fleet, header, [], 0).Home!;
        var lives = Repository.Fleet.FindAircraft(type).Engines.First(e => e.Id != header.Flight!.Dead).Id;
        var flown = new HandFlown(header).Set($"throttle-{lives}", "full").Set($"throttle-{header.Flight!.Dead}", "cut-off");
        _ = flown.Dial("airspeed", Math.Round(flown["numbers.glide-speed"]));
        var lb = 0.0;
        while (flown["flight.home"] > 1)
        {
            lb += flown.Run(1)[$"{lives}.fuel-flow"] / 3600;
            Assert.True(flown.Machine.Time < 3600, "it does not get home");
        }

        Assert.Equal(header.Loading?.FuelLb ?? flown.Machine.Aircraft.Numbers.InternalFuelLb, told.AboardLb);
        Assert.InRange(lb, 0.9 * told.FuelLb!.Value, 1.1 * told.FuelLb.Value);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(40)]
    [InlineData(-40)]
    public void The_glide_reaches_as_far_as_it_is_flown_in_that_wind(double headwindKt)
    {
        foreach (var type in Repository.Fleet.Aircraft)
        {
            var jet = new PointMass(type.Flight, type.Flight.MassLb, 10);
            jet.Begin(24_000, jet.GlideEasKt, -4);
            for (var i = 0; i < 60 / Steps.Seconds; i++)
            {
                jet.Step(Steps.Seconds, jet.PathFor(jet.GlideEasKt, 0), 0);
            }

            var told = jet.ReachNm(jet.HeightFt, 5000, headwindKt);
            var nm = 0.0;
            while (jet.HeightFt > 5000)
            {
                jet.Step(Steps.Seconds, jet.PathFor(jet.GlideEasKt, 0), 0);
                nm += Steps.Seconds / 3600 * (jet.TrueKt * Math.Cos(jet.PathDeg * Math.PI / 180) - headwindKt);
            }

            Assert.InRange(told / nm, 0.97, 1.03);
        }
    }

    [Fact]
    public void The_nearest_place_is_home_and_the_wind_on_the_way_is_counted()
    {
        // 60 NM south of the ship, far from its own field, with the wind from the north.
        var field = Repository.Fleet.FindPlace("skerrow-main");
        var ship = Repository.Fleet.FindPlace("wintergreen");
        var between = GreatCircle.DistanceNm(new GeoPosition(field.LatitudeDeg, field.LongitudeDeg), new GeoPosition(ship.LatitudeDeg, ship.LongitudeDeg));
        var course = GreatCircle.CourseDeg(new GeoPosition(field.LatitudeDeg, field.LongitudeDeg), new GeoPosition(ship.LatitudeDeg, ship.LongitudeDeg));
        var header = Situations.Aloft("juniper", 25_000) is var h ? h with
        {
            Flight = h.Flight! with { FromNm = between - 10, BearingDeg = course },
            Conditions = new RunConditions(15, course, 40, PressureAltitudeFt: 0)
        } : h;
        var home = RelightOutlook.For(Repository.Fleet, header, [], 0).Home!;
        Assert.Equal(ship.Name, home.Place);
        Assert.InRange(home.DistanceNm, 9, 11);
        Assert.InRange(home.HeadwindKt, 38, 40);
        var calm = RelightOutlook.For(Repository.Fleet, header with { Conditions = header.Conditions with { WindKt = 0 } }, [], 0).Home!;
        Assert.True(calm.ReachNm > home.ReachNm + 3 && home.ArrivesFt > 0);
        Assert.Null(home.LevelsOffFt);
    }

    [Theory, MemberData(nameof(Types))]
    public void What_is_asked_for_leads_where_the_path_says(string type)
    {
        var header = Situations.Aloft(type, 20_000);
        var from = (long)(2 / Steps.Seconds); // the pumps have come down to what the wind gives them
        var dive = new RunCommand(from, CommandKind.Set, "pitch", Number: -15);
        var path = RelightOutlook.For(Repository.Fleet, header, [dive], from).Path;
        var m = Rehearsal.Replay(Repository.Fleet, new RunLog(header, [dive]), from + (long)(40 / Steps.Seconds)).Machine;
        Assert.InRange(path[20].HeightFt, m["flight.height"] - 60, m["flight.height"] + 60);
        Assert.InRange(path[20].EasKt, m["flight.eas"] - 4, m["flight.eas"] + 4);
    }

    /// <summary>
    /// From 300 ft under a last chance the method fails, from 300 ft over it it succeeds; and at speeds between, as at all heights, but for what lies at the line itself:
    /// `bench relight` asks
    /// more points.
    /// </summary>
    [Theory, MemberData(nameof(Types))]
    public void The_last_chance_is_the_last(string type)
    {
        const double ClearFt = 300;
        var header = Situations.Aloft(type);
        foreach (var chance in LastChance.For(Repository.Fleet, header))
        {
            Assert.True(chance.Points.Count > 3, chance.Id);
            foreach (var p in new[] { chance.Points[1], chance.Points[^2] })
            {
                Assert.True(GuidedRestart.Works(header, chance.Id, p with { HeightFt = p.HeightFt + ClearFt }), $"{chance.Id} over {p}");
                Assert.False(GuidedRestart.Works(header, chance.Id, p with { HeightFt = p.HeightFt - ClearFt }), $"{chance.Id} under {p}");
            }

            const int Points = 12;
            var decision = Repository.Fleet.FindPlace(header.Place).ElevationFt + Repository.Fleet.FindAircraft(type).Flight.DecisionHeightFt;
            var others = Enumerable.Range(0, Points).Select(i => GuidedRestart.Point(chance, Repository.Fleet.FindAircraft(type), decision, i));
            Assert.InRange(others.Count(p => GuidedRestart.Told(chance, p) == GuidedRestart.Works(header, chance.Id, p)), Points - 1, Points);
        }
    }

    [Fact]
    public void Who_leaves_is_told_so_and_late_or_needlessly_is_found()
    {
        var late = new HandFlown(Situations.Aloft("sedge", 6800));
        late.Until(f => f["flight.above-decision"] < 600);
        late.Dial("pitch", -20).Run(20).Set("leave", "leave").Run(1);
        Assert.Equal(FlightEnd.Left, FlightOutcome.Of(late.Machine).End);
        Assert.Contains(late.Report.Findings, f => f.Code == "left-late");
        Assert.Contains("below the decision height", late.Report.Sentence, StringComparison.Ordinal);

        var needless = new HandFlown(Situations.AllRun("alder"));
        needless.Run(2).Set("leave", "leave").Run(1);
        Assert.Contains(needless.Report.Findings, f => f.Code == "left-flying");
        var height = needless["flight.height"];
        Assert.Equal(height, needless.Run(30)["flight.height"]);
    }

    /// <summary>Slow, shallow and over the place it is a landing; steep it is none.</summary>
    [Theory]
    [InlineData(-2, FlightEnd.Landed)]
    [InlineData(-14, FlightEnd.HitGround)]
    public void Coming_down_over_the_place_is_a_landing_if_it_is_gentle(double flareDeg, FlightEnd end)
    {
        var flown = new HandFlown(Situations.AllRun("tansy", 2200));
        flown.Dial("airspeed", 140);
        while (flown["flight.height"] > 420)
        {
            flown.Rehearsal.Step();
        }

        flown.Dial("pitch", flareDeg).Run(60);
        Assert.Equal(end, FlightOutcome.Of(flown.Machine).End);
        Assert.Contains(end == FlightEnd.Landed ? "Landed at Skerrow Main" : "flew into the ground", flown.Report.Sentence, StringComparison.Ordinal);
    }

    [Fact]
    public void To_cut_off_the_engine_that_runs_is_found()
    {
        var flown = new HandFlown(Failing("burdock", "flame-out-damage"));
        flown.Until(f => f["left.flamed-out"] > 0.5);
        flown.Run(2).Set("throttle-right", "cut-off").Run(3);
        var finding = Assert.Single(flown.Report.Findings, f => f.Code == "sound-one-cut");
        Assert.Equal(Severity.Warning, finding.Severity);
        var told = FlownOf(new RunLog(flown.Machine.Header,
            [new RunCommand((long)((OutAtS + 3) / Steps.Seconds), CommandKind.Set, "throttle-right", "cut-off"), new RunCommand((long)(20 / Steps.Seconds), CommandKind.End)]))!;
        Assert.True(told.WrongFirst);
        Assert.Null(told.NamedS);
    }

    private static FlightFlown? FlownOf(RunLog log) => FlightFlown.Of(Repository.Fleet, Rehearsal.Replay(Repository.Fleet, log), log);

    /// <summary>What a flight came to, on every type: the height that was used is the one that the best method needed, or somewhat more.</summary>
    [Theory, MemberData(nameof(Types))]
    public void A_guided_restart_used_hardly_more_height_than_it_needed(string type)
    {
        var header = Situations.Aloft(type, 25_000);
        var log = new ScriptedPilot(new Rehearsal(Repository.Fleet, header)).Fly();
        var flown = FlownOf(log)!;
        Assert.Equal(FlightEnd.Restarted, flown.End);
        Assert.Equal(0, flown.OutS);
        Assert.InRange(flown.NamedS!.Value, 0.5, 15);
        Assert.False(flown.WrongFirst);
        Assert.True(flown.LitFt > flown.IdleFt && flown.AboveFt > 0);
        // The needed one is the cheapest method, the guide flew the taught one.
        Assert.InRange(flown.UsedFt, flown.NeededFt!.Value - 50, 25_000 - flown.IdleFt!.Value + 20);
        Assert.Null(FlownOf(new RunLog(Situations.Calm, [new RunCommand(50, CommandKind.End)])));
        Assert.Null(FlownOf(log with { Commands = [.. log.Commands.SkipLast(1)] }));
    }

    /// <summary>Who waits first has lost that height, and is told so with both figures; who flies it at once, or answers a fault first, is told nothing.</summary>
    [Theory]
    [InlineData("juniper", 30_000)]
    [InlineData("bramble", 30_000)]
    [InlineData("burdock", 30_000)]
    [InlineData("alder", 18_000)]
    [InlineData("tansy", 22_000)]
    [InlineData("teasel", 22_000)]
    [InlineData("sedge", 22_000)]
    public void Height_that_was_waited_away_is_found(string type, double heightFt)
    {
        const double WaitedS = 110;
        var header = Situations.Aloft(type, heightFt);
        var late = new HandFlown(header).Run(WaitedS);
        var finding = Assert.Single(late.GoOn().Findings, f => f.Code == "height-wasted");
        Assert.Equal(Severity.Caution, finding.Severity);
        var flown = FlownOf(new RunLog(header, late.Pilot.Log))!;
        Assert.Equal(flown.UsedFt, finding.Evidence!.Value);
        Assert.InRange(finding.Evidence.Limit!.Value, 0.3 * flown.UsedFt, flown.UsedFt - 1000);
        Assert.Contains($"{flown.UsedFt:#,##0} ft", finding.What, StringComparison.Ordinal);
        Assert.DoesNotContain(new HandFlown(header).GoOn().Findings, f => f.Code == "height-wasted");
        Assert.DoesNotContain(new HandFlown(header with { Faults = [new RunFault("igniter-dead", header.Flight!.Dead)] }).Run(WaitedS).GoOn().Findings,
            f => f.Code == "height-wasted");
    }
}
