using HardyEmber.Core.Numbers;
using HardyEmber.Core.Procedures;
using HardyEmber.Core.Runs;
using HardyEmber.Core.Simulation;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>What Tansy, Sedge and Burdock have that the others have not.</summary>
public sealed class LesserTypesTests
{
    private static (Rehearsal Rehearsal, Machine Machine) Until(string type, Func<Machine, bool> there, string place = "skerrow-main", string? spot = null)
    {
        var header = Situations.Calm with { Aircraft = type, Place = place, Spot = spot ?? Situations.Calm.Spot };
        var rehearsal = new Rehearsal(Repository.Fleet, header);
        Assert.False(new ScriptedPilot(rehearsal).FlyUntil(() => there(rehearsal.Machine)), "the place in the start did not come");
        return (rehearsal, rehearsal.Machine);
    }

    private static void Run(Rehearsal rehearsal, double seconds)
    {
        for (var end = rehearsal.Machine.Time + seconds; rehearsal.Machine.Time < end - 1e-9;)
        {
            rehearsal.Step();
        }
    }

    private static void Set(Rehearsal r, string control, string to) => r.Apply(new RunCommand(r.Machine.StepIndex, CommandKind.Set, control, to));

    private static void Dial(Rehearsal r, string control, double to) => r.Apply(new RunCommand(r.Machine.StepIndex, CommandKind.Set, control, null, to));

    private static void Hold(Rehearsal r, string control, string at, double seconds)
    {
        r.Apply(new RunCommand(r.Machine.StepIndex, CommandKind.Hold, control, at));
        Run(r, seconds);
        r.Apply(new RunCommand(r.Machine.StepIndex, CommandKind.Release, control));
    }

    /// <summary>A gyro that is turned for another latitude goes round by the difference of the earth's turns there and here, and the judge says so.</summary>
    [Theory]
    [InlineData("skerrow-main", "A1")]
    [InlineData("tarn-hollow", "H1")]
    [InlineData("dry-lantern", "L1")]
    public void A_platform_set_for_another_field_walks_off_by_the_earth(string place, string spot)
    {
        double WalkedDeg(double off, out bool found)
        {
            var (r, m) = Until("tansy", x => x["ins.navigating"] > 0, place, spot);
            Dial(r, "gyro-latitude", m["numbers.latitude"] - off);
            var before = m["ins.state-6"];
            Run(r, 600);
            found = r.Judge.Conclude().Findings.Any(f => f.Code == "gyro-latitude");
            return (m["ins.state-6"] - before) * 180 / Math.PI;
        }

        var latitude = Repository.Fleet.FindPlace(place).Spots[0].LatitudeDeg;
        var set = WalkedDeg(0, out var none);
        var wrong = WalkedDeg(20, out var said);
        Assert.Equal((false, true), (none, said));
        var expected = InertialErrors.EarthRate * 600 * (Math.Sin(Math.Round(latitude) * Math.PI / 180) - Math.Sin((Math.Round(latitude) - 20) * Math.PI / 180)) * 180 / Math.PI;
        Assert.InRange(Math.Abs(wrong - set), 0.97 * expected, 1.03 * expected);
        Assert.InRange(expected, 0.4, 0.9);
    }

    [Theory]
    [InlineData("outer")]
    [InlineData("inner")]
    public void A_beacon_is_heard_on_its_frequency_alone(string beacon)
    {
        var (r, m) = Until("tansy", x => x["box.beacon-receiver.ready"] > 0 && x["main.n2"] > 50);
        var khz = m[$"numbers.beacon-{beacon}"];
        foreach (var wrong in new[] { khz + 1, khz - 10, khz + 100 })
        {
            Dial(r, $"beacon-{beacon}", wrong);
            Hold(r, "beacon-listen", beacon, 6);
            Assert.Equal(0, m[$"task.beacon-{beacon}"]);
        }

        Dial(r, $"beacon-{beacon}", khz);
        Hold(r, "beacon-listen", beacon == "outer" ? "inner" : "outer", 6); // the other one's ear
        Assert.Equal(0, m[$"task.beacon-{beacon}"]);
        Hold(r, "beacon-listen", beacon, 3.6);
        Assert.Equal(0, m[$"task.beacon-{beacon}"]);
        Hold(r, "beacon-listen", beacon, 4.6);
        Assert.Equal(1, m[$"task.beacon-{beacon}"]);
    }

    [Fact]
    public void The_tone_goes_on_until_it_is_cancelled_and_a_power_break_forgets_the_proof()
    {
        var (r, m) = Until("tansy", x => x["main.n2"] > 50 && x["bus.services.live"] > 0);
        Hold(r, "height-cancel", "pressed", 0.6);
        Assert.Equal(0, m["height-warner.proved"]);
        Hold(r, "height-test", "pressed", 0.6);
        Run(r, 30);
        Assert.Equal((1, 0), (m["height-warner.sounds"], m["height-warner.proved"]));
        Hold(r, "height-cancel", "pressed", 0.6);
        Assert.Equal((0, 1), (m["height-warner.sounds"], m["height-warner.proved"]));
        Set(r, "inverter-one", "off"); // each carries the other's bus
        Set(r, "inverter-two", "off");
        Run(r, 2);
        Set(r, "inverter-two", "on");
        Run(r, 2);
        Assert.Equal(0, m["height-warner.proved"]);
    }

    [Fact]
    public void A_horizon_uncaged_too_early_topples_and_why_tells_the_way_out()
    {
        var (r, m) = Until("burdock", x => x["battery"] > 0);
        Run(r, 5);
        Set(r, "standby-horizon", "free");
        Run(r, 1);
        Assert.Equal(1, m["horizon.toppled"]);
        Run(r, 90);
        Assert.Equal(1, m["horizon.toppled"]); // run up, it lies as it fell
        Set(r, "standby-horizon", "caged");
        Run(r, 1);
        Set(r, "standby-horizon", "free");
        Run(r, 1);
        Assert.Equal(0, m["horizon.toppled"]);
    }

    [Fact]
    public void The_loading_is_changed_only_parked_with_engines_stopped_and_the_canopy_open()
    {
        var (r, m) = Until("burdock", x => x["battery"] > 0);
        Set(r, "canopy", "closed");
        Set(r, "ask-loading", "asking");
        Run(r, 90);
        Assert.Equal(0, m["crew.loading"]);
        Set(r, "canopy", "open");
        Set(r, "ask-loading", "asking");
        Run(r, 90);
        Assert.Equal(1, m["crew.loading"]);

        (r, m) = Until("burdock", x => x["right.n2"] > 20 || x["left.n2"] > 20);
        Set(r, "ask-loading", "asking");
        Run(r, 60);
        Assert.Equal(0, m["crew.loading"]);
    }

    [Fact]
    public void A_loud_receiver_drowns_the_tower()
    {
        var (r, m) = Until("burdock", x => x["crew.chocks"] > 0);
        Set(r, "receiver-volume", "loud");
        Set(r, "ask-taxi", "asking");
        Run(r, 20);
        Assert.Equal(0, m["crew.taxi"]);
        Assert.Contains(new WillNotTake(m).For("crew.taxi").Effects.SelectMany(e => e.Chain), u => u.Cure?.Control == "receiver-volume");
        Set(r, "receiver-volume", "low");
        Set(r, "ask-taxi", "asking");
        Run(r, 20);
        Assert.Equal(1, m["crew.taxi"]);
    }

    /// <summary>Course by the number of the runway with the wind ahead.</summary>
    [Theory]
    [InlineData("skerrow-main", "A1", 40, 50)]
    [InlineData("skerrow-main", "A1", 290, 230)]
    [InlineData("tarn-hollow", "H1", 310, 330)]
    [InlineData("dry-lantern", "L1", 80, 100)]
    public void The_runway_is_the_one_with_the_wind_ahead(string place, string spot, double windFrom, double course)
    {
        var header = Situations.Calm with { Aircraft = "burdock", Place = place, Spot = spot };
        var m = Repository.Fleet.Build(header with { Conditions = header.Conditions with { WindFromDeg = windFrom, WindKt = 10 } });
        Assert.Equal(course, m["numbers.runway"]);
    }

    [Fact]
    public void Warnings_are_reset_on_the_jets_own_power_and_steering_needs_pressure()
    {
        var (r, m) = Until("sedge", x => x["main.n2"] > 20);
        Hold(r, "warning-reset", "pressed", 2);
        Hold(r, "steering", "held", 3);
        Assert.Equal((0, 0), (m["task.warning-reset"], m["task.steering"]));
        (r, m) = Until("sedge", x => x["crew.chocks"] > 0);
        Hold(r, "warning-reset", "pressed", 2);
        Hold(r, "steering", "held", 3);
        Assert.Equal((1, 1), (m["task.warning-reset"], m["task.steering"]));
    }
}
