using HardyEmber.Core.Definitions;
using HardyEmber.Core.Judging;
using HardyEmber.Core.Numbers;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Core.Systems;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>Restarts in flight: the jet falls as a jet does, a core lights where it can, and what is foretold is what is flown.</summary>
public sealed class RelightTests
{
    private const double HandbookTolerance = 0.15, FormTolerance = 0.03;

    public static TheoryData<string> Types => [.. Repository.Fleet.Aircraft.Select(a => a.Id)];

    public static TheoryData<string, string> Methods
    {
        get
        {
            var all = new TheoryData<string, string>();
            foreach (var p in Repository.Fleet.Procedures.Where(p => p.Beginnings.Contains("air")))
            {
                foreach (var answer in p.Schools.FirstOrDefault(q => q.Id == "method")?.Answers.Select(a => a.Id) ?? [""])
                {
                    all.Add(p.Aircraft, answer);
                }
            }

            return all;
        }
    }

    private static RunHeader From(string type, double heightFt, string method)
    {
        var header = method.Length > 0 ? Situations.Aloft(type, heightFt, ("method", method)) : Situations.Aloft(type, heightFt);
        return method == "cross-bleed" ? header with { Flight = header.Flight! with { Other = RunFlight.IdleOther } } : header;
    }

    [Fact]
    public void Every_type_can_be_restarted_in_flight_and_five_of_them_by_a_starter()
    {
        Assert.Equal(7, Methods.Select(m => m.Data.Item1).Distinct().Count());
        Assert.Equal(5, Methods.Count(m => m.Data.Item2 == "starter"));
    }

    [Theory, MemberData(nameof(Methods))]
    public void The_guide_brings_a_dead_core_back_above_the_decision_height(string type, string method)
    {
        var rehearsal = new Rehearsal(Repository.Fleet, From(type, 25_000, method));
        _ = new ScriptedPilot(rehearsal).Fly();
        Assert.Equal(Verdict.LaunchReady, rehearsal.Judge.Conclude().Verdict);
        Assert.True(rehearsal.Machine["flight.above-decision"] > 0);
    }

    [Theory, MemberData(nameof(Methods))]
    public void What_the_outlook_foretells_is_what_is_flown(string type, string method)
    {
        var header = From(type, 25_000, method);
        var outlook = RelightOutlook.For(Repository.Fleet, header, [], 0);
        var told = outlook.Methods.First(m => method.Length == 0 || m.Id == method);
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        var m = rehearsal.Machine;
        var (dead, idle) = (header.Flight!.Dead, m.Aircraft.EngineOf(header.Flight.Dead).IdleN2Pct - 2);
        _ = new ScriptedPilot(rehearsal).FlyUntil(() => m[$"{dead}.lit"] > 0.5 && m[$"{dead}.n2"] >= idle);
        Assert.True(told.Works && told.Tries >= 1, outlook.Advice.Text);
        Assert.InRange(told.IdleFt!.Value, m["flight.height"] - 10, m["flight.height"] + 10);
        Assert.InRange(told.Seconds, m.Time - 1, m.Time + 1);
        Assert.Contains("idle at", outlook.Advice.Text, StringComparison.Ordinal);
    }

    /// <summary>Left alone from the light on: what is foretold a second later comes, and nobody is told to cut off what would have kept its limit.</summary>
    [Theory, MemberData(nameof(Methods))]
    public void A_light_in_flight_is_foreseen_as_it_comes(string type, string method)
    {
        var lights = 0;
        foreach (var feet in (double[])[16_000, 19_000, 22_000, 25_000])
        {
            var flown = new HandFlown(From(type, feet, method));
            var (m, dead) = (flown.Machine, flown.Machine.Header.Flight!.Dead);
            var limit = m.Aircraft.EngineOf(dead).StartLimitC;
            if (flown.Pilot.FlyUntil(() => m[$"{dead}.lit"] > 0.5 || m["flight.above-decision"] < 0) || m[$"{dead}.lit"] < 0.5)
            {
                continue;
            }

            lights++;
            var (highest, said) = (0.0, false);
            flown.Run(1.2);
            var foretold = m[$"{dead}.egt-forecast"];
            for (var end = m.Time + 12; m.Time < end; flown.Run(0.2))
            {
                highest = Math.Max(highest, m[$"{dead}.egt-true"]);
                said |= m[$"{dead}.hot-coming"] > 0.5;
            }

            Assert.InRange(foretold, highest - 30, highest + 40);
            Assert.False(said && highest < limit - 30, $"from {feet} ft: told to cut off, and it came to {highest:0} °C of {limit}");
        }

        Assert.True(lights > 1, $"{lights} of four lit");
    }

    /// <summary>Inside it succeeds, outside it fails, on the whole machine: `bench relight` asks more points.</summary>
    [Theory, MemberData(nameof(Types))]
    public void The_envelope_is_where_fuel_brings_it_to_idle(string type)
    {
        const int Points = 60;
        const double EdgeKt = 3, EdgeFt = 150; // so near its edge a point is neither
        var header = Situations.Aloft(type);
        var envelope = RelightEnvelope.For(Repository.Fleet, header);
        var aircraft = Repository.Fleet.FindAircraft(type);
        var said = Enumerable.Range(0, Points).AsParallel().AsOrdered().Select(i =>
        {
            var (height, eas) = FuelNow.Point(aircraft, envelope.DecisionFt, i);
            var inside = envelope.Holds(height, eas);
            var clear = envelope.Holds(height, eas - EdgeKt) == inside && envelope.Holds(height, eas + EdgeKt) == inside && envelope.Holds(height - EdgeFt, eas) == inside
                && envelope.Holds(height + EdgeFt, eas) == inside;
            return (Inside: inside, Clear: clear, Works: FuelNow.Works(header with { Flight = header.Flight! with { HeightFt = height, EasKt = eas } }),
                Text: $"{height} ft {eas} kt");
        }).ToList();
        var wrong = said.Where(s => s.Clear && s.Inside != s.Works).Select(s => $"{s.Text} {(s.Inside ? "inside" : "outside")}").ToList();
        Assert.True(said.Count(s => s.Inside) > Points / 8, "hardly a point lies inside");
        Assert.True(wrong.Count <= 0.03 * Points, string.Join("; ", wrong));
    }

    [Theory, MemberData(nameof(Types))]
    public void Too_slow_it_does_not_start_and_a_dive_is_what_helps(string type)
    {
        var aircraft = Repository.Fleet.FindAircraft(type);
        var header = Situations.Aloft(type, aircraft.Engine.Windmill.MaxAltitudeFt);
        Assert.False(FuelNow.Works(header));
        Assert.NotNull(RelightOutlook.For(Repository.Fleet, header, [], 0).BestKt);
        Assert.False(FuelNow.Works(Situations.Aloft(type, aircraft.Engine.Windmill.MaxAltitudeFt + 3000) is var high
            ? high with { Flight = high.Flight! with { EasKt = aircraft.Engine.Windmill.MinEasKt * 1.1 } } : header));
    }

    /// <summary>A heavy jet glides faster, not shallower.</summary>
    [Theory, MemberData(nameof(Types))]
    public void A_glide_is_as_long_as_its_ratio_says(string type)
    {
        var flight = Repository.Fleet.FindAircraft(type).Flight;
        foreach (var weight in new[] { 0.8, 1, 1.2 })
        {
            var jet = new PointMass(flight, weight * flight.MassLb, 0);
            jet.Begin(20_000, jet.GlideEasKt);
            Fly(jet, () => jet.PathFor(jet.GlideEasKt, 0), 60);
            double metres = 0, due = 0;
            var from = jet.HeightFt;
            Fly(jet, () => jet.PathFor(jet.GlideEasKt, 0), 120, dt =>
            {
                var speed = jet.TrueKt * Atmosphere.MpsPerKnot;
                metres += dt * speed * Math.Cos(jet.PathDeg * Math.PI / 180);
                // At one equivalent speed the true speed falls on the way down, which pays for a part of it: 1 + V²/2g · σ'/σ.
                double Sigma(double ft) => Atmosphere.DensityRatio(Atmosphere.PressureRatio(ft), Atmosphere.StandardTemperatureK(ft));
                var thicker = (Sigma(jet.HeightFt - 100) - Sigma(jet.HeightFt + 100)) / (200 * Atmosphere.MetresPerFoot) / jet.DensityRatio;
                due += dt * flight.GlideRatio * (1 + speed * speed / (2 * 9.80665) * thicker) / 120;
            });
            Assert.InRange(metres / ((from - jet.HeightFt) * Atmosphere.MetresPerFoot) / due, 1 - FormTolerance, 1 + FormTolerance);
        }
    }

    /// <summary>Height for speed in a dive: d(V²)/dh along the path, integrated on its own.</summary>
    [Theory, MemberData(nameof(Types))]
    public void A_dive_trades_height_for_speed_as_energy_says(string type)
    {
        var flight = Repository.Fleet.FindAircraft(type).Flight;
        var jet = new PointMass(flight, flight.MassLb, 0);
        jet.Begin(25_000, flight.GlideEasKt);
        Fly(jet, () => -20, 6);
        var (fromFt, toKt) = (jet.HeightFt, 1.5 * flight.GlideEasKt);
        var speed = jet.TrueKt * Atmosphere.MpsPerKnot;
        var (h, sin, cos) = (fromFt, Math.Sin(20 * Math.PI / 180), Math.Cos(20 * Math.PI / 180));
        while (true)
        {
            var sigma = Atmosphere.DensityRatio(Atmosphere.PressureRatio(h), Atmosphere.StandardTemperatureK(h));
            var x = speed / Atmosphere.MpsPerKnot * Math.Sqrt(sigma) / flight.GlideEasKt;
            if (x * flight.GlideEasKt >= toKt)
            {
                break;
            }

            const double Metre = 0.5;
            var drag = (x * x + cos * cos / (x * x)) / (2 * flight.GlideRatio);
            speed = Math.Sqrt(speed * speed + 2 * 9.80665 * Metre * (1 - drag / sin));
            h -= Metre / Atmosphere.MetresPerFoot;
        }

        while (jet.EasKt < toKt)
        {
            jet.Step(Steps.Seconds, -20, 0);
        }

        Assert.InRange((fromFt - jet.HeightFt) / (fromFt - h), 1 - FormTolerance, 1 + FormTolerance);
    }

    /// <summary>From 25 000 ft and 230 kt at 25° nose down: about 8 000 ft to 380 kt, and 4 500 more until it idles where the dive is kept until it burns.</summary>
    [Fact]
    public void Juniper_spends_the_height_that_is_taught()
    {
        var m = Repository.Fleet.Build(Situations.Aloft("juniper", 25_000) is var h ? h with { Flight = h.Flight! with { EasKt = 230 } } : h);
        void Dial(double path) => m.Apply(new RunCommand(m.StepIndex, CommandKind.Set, "pitch", Number: path));
        void Throttle(string to) => m.Apply(new RunCommand(m.StepIndex, CommandKind.Set, "throttle-right", to));
        void Until(Func<bool> there)
        {
            while (!there() && m.Time < 200)
            {
                m.Step();
            }
        }

        Throttle("cut-off");
        Dial(-25);
        Until(() => m["flight.eas"] >= 380);
        var atSpeed = m["flight.height"];
        Throttle("idle");
        Until(() => m["right.lit"] > 0.5);
        Dial(-5);
        Until(() => m["right.n2"] >= 69);
        Assert.InRange(25_000 - atSpeed, 8000 * (1 - HandbookTolerance), 8000 * (1 + HandbookTolerance));
        Assert.InRange(atSpeed - m["flight.height"], 4500 * (1 - HandbookTolerance), 4500 * (1 + HandbookTolerance));
    }

    [Theory]
    [InlineData("flight.dead", 20_000, 200, "middle")]
    [InlineData("flight.heightFt", 1000, 200, "left")]
    [InlineData("flight.easKt", 20_000, 130, "left", "juniper")]
    [InlineData("flight.easKt", 20_000, 500, "left")]
    public void A_jet_that_cannot_be_there_is_refused_by_its_field(string field, double heightFt, double easKt, string dead, string type = "teasel")
    {
        var header = Situations.Aloft(type) with { Place = "tarn-hollow", Spot = "H1", Flight = new RunFlight(heightFt, easKt, dead) };
        Assert.StartsWith(field, Assert.Throws<FormatException>(() => Repository.Fleet.Build(header)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_run_that_an_earlier_physics_let_pass_still_opens()
    {
        var slow = Situations.Aloft("juniper") is var h ? h with { Flight = h.Flight! with { EasKt = 125 } } : h;
        Assert.Throws<FormatException>(() => Repository.Fleet.Build(slow));
        Assert.True(Repository.Fleet.Build(slow with { Physics = 5 })["flight.eas"] > 120);
    }

    /// <summary>A core that a hidden fault keeps dark is not said to run, and what is foretold from there is a sound one's.</summary>
    [Fact]
    public void The_outlook_sees_that_nothing_lit_but_not_why()
    {
        var header = Situations.Aloft("juniper", 30_000) with { Faults = [new RunFault("igniter-dead", "right")] };
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        var pilot = new ScriptedPilot(rehearsal);
        _ = pilot.FlyUntil(() => rehearsal.Machine["right.fuel-ons"] > 0);
        var until = rehearsal.Machine.Time + 8;
        _ = pilot.FlyUntil(() => rehearsal.Machine.Time >= until);
        var outlook = RelightOutlook.For(Repository.Fleet, header, pilot.Log, rehearsal.Machine.StepIndex);
        Assert.False(outlook.Running);
        Assert.Equal(2, outlook.Methods.Count);
        Assert.Contains(outlook.Methods, m => m.LitFt is not null);
    }

    [Fact]
    public void On_the_ground_there_is_no_envelope()
    {
        Assert.StartsWith("flight", Assert.Throws<FormatException>(() => RelightEnvelope.For(Repository.Fleet, Situations.Calm)).Message, StringComparison.Ordinal);
        Assert.StartsWith("flight", Assert.Throws<FormatException>(() => LastChance.For(Repository.Fleet, Situations.Calm)).Message, StringComparison.Ordinal);
        Assert.StartsWith("flight", Assert.Throws<FormatException>(() => RelightOutlook.For(Repository.Fleet, Situations.Calm, [], 0)).Message, StringComparison.Ordinal);
    }

    private static void Fly(PointMass jet, Func<double> path, double seconds, Action<double>? each = null)
    {
        for (var step = 0; step < seconds / Steps.Seconds; step++)
        {
            jet.Step(Steps.Seconds, path(), 0);
            each?.Invoke(Steps.Seconds);
        }
    }

    /// <summary>A hand in the very first instant counts: the throttle of the dead engine at cut-off is no fuel, however fast it windmills.</summary>
    [Theory, MemberData(nameof(Types))]
    public void The_throttle_cut_off_before_the_first_step_shuts_the_fuel(string type)
    {
        var flown = new HandFlown(Situations.Aloft(type, 28_000));
        var engine = flown.Machine.Aircraft.Engines[0];
        flown.Set(engine.Throttle, engine.CutOff).Run(1);
        Assert.Equal(0, flown[$"{engine.Id}.fuel-valve"]);
        Assert.Equal(0, flown[$"{engine.Id}.fuel-flow"]);
    }
}
