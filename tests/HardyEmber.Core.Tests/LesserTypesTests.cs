using HardyEmber.Core.Numbers;
using HardyEmber.Core.Procedures;
using HardyEmber.Testing;

namespace HardyEmber.Core.Tests;

/// <summary>What Tansy, Sedge and Burdock have that the others have not.</summary>
public sealed class LesserTypesTests
{
    private static HandFlown Until(string type, Func<HandFlown, bool> there, string place = "skerrow-main", string? spot = null) =>
        new HandFlown(Situations.Calm with { Aircraft = type, Place = place, Spot = spot ?? Situations.Calm.Spot }).Until(there);

    /// <summary>A gyro that is turned for another latitude goes round by the difference of the earth's turns there and here, and the judge says so.</summary>
    [Theory]
    [InlineData("skerrow-main", "A1")]
    [InlineData("tarn-hollow", "H1")]
    [InlineData("dry-lantern", "L1")]
    public void A_platform_set_for_another_field_walks_off_by_the_earth(string place, string spot)
    {
        double WalkedDeg(double off, out bool found)
        {
            var m = Until("sedge", x => x["ins.navigating"] > 0, place, spot);
            m.Dial("compass-latitude", m["numbers.latitude"] - off);
            var before = m["ins.state-6"];
            m.Run(600);
            found = m.Report.Findings.Any(f => f.Code == "gyro-latitude");
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
        var m = Until("tansy", x => x["box.beacon-receiver.ready"] > 0 && x["main.n2"] > 50);
        var khz = m[$"numbers.beacon-{beacon}"];
        foreach (var wrong in new[] { khz + 1, khz - 10, khz + 100 })
        {
            m.Dial($"beacon-{beacon}", wrong);
            m.Hold("beacon-listen", beacon, 6);
            Assert.Equal(0, m[$"task.beacon-{beacon}"]);
        }

        m.Dial($"beacon-{beacon}", khz);
        m.Hold("beacon-listen", beacon == "outer" ? "inner" : "outer", 6); // the other one's ear
        Assert.Equal(0, m[$"task.beacon-{beacon}"]);
        m.Hold("beacon-listen", beacon, 3.6);
        Assert.Equal(0, m[$"task.beacon-{beacon}"]);
        m.Hold("beacon-listen", beacon, 4.6);
        Assert.Equal(1, m[$"task.beacon-{beacon}"]);
    }

    [Fact]
    public void The_tone_goes_on_until_it_is_cancelled_and_a_power_break_forgets_the_proof()
    {
        var m = new HandFlown(Situations.Calm with { Aircraft = "tansy" }).Due("height-test");
        m.Hold("height-cancel", "pressed", 0.6);
        Assert.Equal(0, m["height-warner.proved"]);
        m.Hold("height-test", "pressed", 0.6);
        m.Run(30);
        Assert.Equal((1, 0), (m["height-warner.sounds"], m["height-warner.proved"]));
        m.Hold("height-cancel", "pressed", 0.6);
        Assert.Equal((0, 1), (m["height-warner.sounds"], m["height-warner.proved"]));
        m.Set("inverter-one", "off"); // each carries the other's bus
        m.Set("inverter-two", "off");
        m.Run(2);
        m.Set("inverter-two", "on");
        m.Run(2);
        Assert.Equal(0, m["height-warner.proved"]);
    }

    [Fact]
    public void A_horizon_uncaged_too_early_topples_and_why_tells_the_way_out()
    {
        var m = Until("burdock", x => x["battery"] > 0);
        m.Run(5);
        m.Set("standby-horizon", "free");
        m.Run(1);
        Assert.Equal(1, m["horizon.toppled"]);
        m.Run(90);
        Assert.Equal(1, m["horizon.toppled"]); // run up, it lies as it fell
        m.Set("standby-horizon", "caged");
        m.Run(1);
        m.Set("standby-horizon", "free");
        m.Run(1);
        Assert.Equal(0, m["horizon.toppled"]);
    }

    [Fact]
    public void The_loading_is_changed_only_parked_with_engines_stopped_and_the_canopy_open()
    {
        var m = Until("burdock", x => x["battery"] > 0);
        m.Set("canopy", "closed");
        m.Set("ask-loading", "asking");
        m.Run(90);
        Assert.Equal(0, m["crew.loading"]);
        m.Set("canopy", "open");
        m.Set("ask-loading", "asking");
        m.Run(90);
        Assert.Equal(1, m["crew.loading"]);

        m = Until("burdock", x => x["right.n2"] > 20 || x["left.n2"] > 20);
        m.Set("ask-loading", "asking");
        m.Run(60);
        Assert.Equal(0, m["crew.loading"]);
    }

    [Fact]
    public void A_loud_receiver_drowns_the_tower()
    {
        var m = Until("burdock", x => x["crew.chocks"] > 0);
        m.Set("receiver-volume", "loud");
        m.Set("ask-taxi", "asking");
        m.Run(20);
        Assert.Equal(0, m["crew.taxi"]);
        Assert.Contains(new WillNotTake(m.Machine).For("crew.taxi").Effects.SelectMany(e => e.Chain), u => u.Cure?.Control == "receiver-volume");
        m.Set("receiver-volume", "low");
        m.Set("ask-taxi", "asking");
        m.Run(20);
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
        var m = Until("sedge", x => x["main.n2"] > 20);
        m.Hold("warning-reset", "pressed", 2);
        m.Hold("steering", "held", 3);
        Assert.Equal((0, 0), (m["task.warning-reset"], m["task.steering"]));
        m = Until("sedge", x => x["crew.chocks"] > 0);
        m.Hold("warning-reset", "pressed", 2);
        m.Hold("steering", "held", 3);
        Assert.Equal((1, 1), (m["task.warning-reset"], m["task.steering"]));
    }
}
